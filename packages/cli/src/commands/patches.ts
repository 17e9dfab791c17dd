import { leastCertainColors } from '@bichroma/core/characterization'
import { readReadings, writePatches, type SignalScale } from '@bichroma/core/formats'
import { makePlan, namedBySignal, parsePlan, planCost, type InstrumentTiming, type Patch } from '@bichroma/core/runs'
import { BadInput, fromFile, nameOf, readText, write, type CliIo } from '../io'
import { firstRows, type Answer } from '../output'

export interface PatchesOptions {
  readonly plan?: string
  readonly after?: string
  readonly count: number
  readonly seed: number
  readonly out?: string
  readonly luminance: number
  readonly scale?: SignalScale
  readonly timing: InstrumentTiming
}

function patchesOf({ plan, after, count, seed, scale }: PatchesOptions): Patch[] {
  if ((plan === undefined) === (after === undefined))
    throw new BadInput('Give either --plan, or --after with readings that are to be added to.')
  if (plan !== undefined) return fromFile('--plan', () => makePlan(parsePlan(plan), seed))
  const text = readText(after!)
  return fromFile(after!, () => leastCertainColors(readReadings(text, scale).readings, count, seed).map(namedBySignal))
}

/** A set of patches from a plan, or those that tell most after some readings; how many, and how long they take. */
export function patches(options: PatchesOptions, io: CliIo): Answer {
  const list = patchesOf(options)
  const { plan, after, out, luminance, timing, seed } = options
  const cost = planCost(list, timing, luminance)
  if (out) {
    const description = plan === undefined ? `What to read after ${nameOf(after!)}` : `Plan ${plan}, seed ${seed}`
    write(out, writePatches(list, { description, createdAt: io.now() }))
  }
  const shown = firstRows(
    list.map(({ name, rgb }) => [name, ...rgb.map((v) => (100 * v).toFixed(1))]),
    20,
  )
  return {
    json: { ...cost, out, patches: out ? undefined : list },
    text: [
      ...(out ? [] : [{ head: ['patch', 'red %', 'green %', 'blue %'], rows: shown.rows }, ...shown.more]),
      `${cost.readings} readings, about ${cost.minutes < 10 ? cost.minutes.toFixed(1) : cost.minutes.toFixed(0)} minutes at ${luminance} cd/m² (${timing.settleMs} ms to settle, ${timing.fastestMs}–${timing.slowestMs} ms a reading).`,
      ...(out ? [`Written to ${out}.`] : []),
    ],
  }
}
