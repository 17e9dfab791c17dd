import type { PatchReading, Triple } from '@bichroma/core/color'
import {
  modelPartsFor,
  rawPatches,
  residual,
  whyNoMoreRounds,
  type ModelEvidence,
  type Patch,
  type RoundSeen,
  type WhyNoMore,
} from '@bichroma/core/runs'
import { asArrived, type PipelineShape } from '@bichroma/core/tables'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'
import { mayBeWritten } from './mayBeWritten'
import type { Shaped, ShapeSubject } from './subject'

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
/** Slots that a display can have: display and slot together give a plan its seed, so that each has its own colours. */
const mostSlots = 8
const isGrey = ({ rgb: [r, g, b] }: Patch) => r === g && g === b

/** Why no further round was read, for the run sheet. */
function whyWords(why: WhyNoMore, seen: readonly RoundSeen[]): string {
  const { missed, foretold } = seen[seen.length - 1]
  const left =
    foretold.after === null ? '' : `; colours left out of the fit are foretold within ${foretold.after.toFixed(2)}`
  const came = `the last missed by ${missed.toFixed(2)} ΔE on average${left}`
  switch (why) {
    case 'near enough':
      return `No further round: ${came}, so more would follow the noise`
    case 'no nearer':
      return `No further round: ${came}, no nearer than before it`
    case 'still nearer':
      return `No further round in this sampling: ${came}, nearer than before it, so a deeper one would tell more`
    case 'as planned':
      return `As many rounds as planned: ${came}`
  }
}

/**
 * For a slot with a 3D table, or with a table per channel alone: reads the raw panel all over, characterizes it, then
 * reads what it makes of the aim's greys and of the colours that it knows least, and characterizes it again. A refresh
 * reads only what tells how the panel changed since.
 */
export async function shapeByModel(
  context: RunContext,
  { effort, aim, cornerReadings, signal, watch, before }: ShapeSubject,
  pipeline: PipelineShape,
): Promise<Shaped> {
  if (before && before.kind !== 'model')
    throw new RunFailed('The display holds other tables than when it was last calibrated. Start a full run.')
  const { solver } = context.services
  const { run, display } = context
  const raw = rawPatches(effort, display.id * mostSlots + run.slot)
  const readings: PatchReading[] = [
    ...cornerReadings,
    ...asArrived(await watch.read(raw.map(({ name, rgb }) => ({ name: `Raw ${name}`, rgb }))), signal),
  ]
  const evidence = (): ModelEvidence => ({ aim, readings, signal, ...(before && { before: before.readings }) })
  const found: string[] = [
    `${readings.length} readings of the raw panel${before ? `, and ${before.readings.length} of an earlier run` : ''}`,
  ]
  const rounds: { level: number; deltaE: number }[][] = []
  const { rounds: planned, further = [] } = modelPartsFor(effort)
  const parts = [...planned, ...further]
  const seen: RoundSeen[] = []
  // Where there is nothing to decide, it is not asked for.
  const foretell = async () => (parts.length > 1 ? solver.run('foretellingError', evidence()) : null)
  let foretold = await foretell()
  const limits = () => ({ planned: planned.length, most: parts.length, repeatability: watch.repeatability })
  let why = whyNoMoreRounds(seen, limits())

  while (!why) {
    const round = parts[seen.length]
    // One table per channel does nothing for colours: more of them would tell it nothing.
    const colors = pipeline.kind === '1D' && rounds.length ? 0 : round.colors
    const solved = await solver.run('solveRound', evidence(), round.greys, colors)
    const residuals: { level: number; deltaE: number }[] = []
    rounds.push(residuals)
    const wishes = solved.map(({ patch, drive }) => ({
      name: `${patch.name}, round ${rounds.length}`,
      rgb: drive,
      deltaEOf: (got: Triple) => residual(aim, patch.rgb, got),
    }))
    const all = solved.map(({ patch }) => ({ patch, deltaE: 0 }))
    const read = await watch.read(wishes, ({ xyz }, i) => {
      all[i].deltaE = residual(aim, all[i].patch.rgb, xyz)
    })
    readings.push(...asArrived(read, signal))
    residuals.push(
      ...all.filter(({ patch }) => isGrey(patch)).map(({ patch, deltaE }) => ({ level: patch.rgb[0], deltaE })),
    )
    residuals.sort((a, b) => a.level - b.level)
    const others = all.filter(({ patch }) => !isGrey(patch))
    found.push(
      `Round ${rounds.length}: ${residuals.length} greys at ${mean(residuals.map((r) => r.deltaE)).toFixed(2)} ΔE on average${
        others.length ? `, ${others.length} colours at ${mean(others.map((a) => a.deltaE)).toFixed(2)}` : ''
      }`,
    )
    const after = await foretell()
    seen.push({ missed: mean(all.map((a) => a.deltaE)), foretold: { before: foretold, after } })
    foretold = after
    why = whyNoMoreRounds(seen, limits())
    const last = [found[0], found[found.length - 1]]
    await context.sheet.note({ rounds, evidence: why ? [...last, whyWords(why, seen)] : last })
  }
  mayBeWritten(context, rounds[rounds.length - 1]?.map((r) => r.deltaE) ?? [])
  return {
    tables: await solver.run('solveSlot', evidence(), pipeline),
    // The next refresh starts from the same full run, not from another refresh.
    memory: before ?? { kind: 'model', readings },
  }
}
