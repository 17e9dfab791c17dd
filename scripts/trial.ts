import { parseArgs } from 'node:util'
import { readInstrument, readJson, readPanel, shippedInstrument, shippedPanels } from '@bichroma/bench'
import { samplingNames, type Sampling } from '@bichroma/core/runs'
import { aimSchema, validate } from '@bichroma/contract'
import { doubtSummary, doubtTrials, doubtWords } from './trial/doubtTrials'
import { correctionCases } from './trial/randomInstrument'
import { randomTrials, spread, trialWords } from './trial/randomTrials'
import { trial, type TrialResult } from './trial/trial'

const usage = `Usage: npm run -s trial -- --random N [--from SEED] [--sampling …]
       npm run -s trial -- --doubt N [--from SEED] [--sampling …]
       npm run -s trial -- --panel FILE --aim FILE [--sampling ${samplingNames.join('|')}] [--instrument FILE] [--seed N] [--json]

With --random, full runs on so many panels that nobody chose, over all that the panel schema allows, and how their errors are spread.
With --doubt, each of them read by another instrument, corrected in another way (right, long ago, on another display, by kind of
panel, for another kind, not at all): how often what a run says of its doubt holds the truth.
A whole full run on the panel, judged by its noise-free truth on 300 patches that the run never saw, and as the
instrument saw it. A panel can also be one that ships, by name: ${Object.keys(shippedPanels).join(', ')}.
Without --instrument a colorimeter reads, with a correction made on this very panel against a spectroradiometer.`

async function main() {
  const { values } = parseArgs({
    options: {
      panel: { type: 'string' },
      aim: { type: 'string' },
      sampling: { type: 'string' },
      instrument: { type: 'string' },
      seed: { type: 'string', default: '1' },
      random: { type: 'string' },
      doubt: { type: 'string' },
      from: { type: 'string', default: '1' },
      json: { type: 'boolean', default: false },
      help: { type: 'boolean', short: 'h', default: false },
    },
  })
  if (values.help) return console.log(usage)
  if (values.random !== undefined)
    return ofRandomPanels(Number(values.random), Number(values.from), (values.sampling ?? 'usual') as Sampling)
  if (values.doubt !== undefined)
    return ofDoubt(Number(values.doubt), Number(values.from), (values.sampling ?? 'brief') as Sampling, values.json)
  if (!values.panel || !values.aim) throw new Error(`“--panel” and “--aim” are needed.\n${usage}`)
  const sampling = (values.sampling ?? 'usual') as Sampling
  if (!samplingNames.includes(sampling)) throw new Error(`“--sampling” must be one of: ${samplingNames.join(', ')}.`)
  const seed = Number(values.seed)
  if (!Number.isInteger(seed) || seed < 0) throw new Error('“--seed” must be a whole number from 0.')
  const result = await trial({
    panel: readPanel(Object.hasOwn(shippedPanels, values.panel) ? shippedPanels[values.panel] : readJson(values.panel)),
    aim: validate(aimSchema, readJson(values.aim)),
    instrument: values.instrument ? readInstrument(readJson(values.instrument)) : shippedInstrument('tessel-c3'),
    corrected: !values.instrument,
    sampling,
    seed,
  })
  console.log(values.json ? JSON.stringify(result, null, 2) : inWords(result))
  if (result.state !== 'done') process.exitCode = 1
}

/** Throws Error for what makes no trials. */
function mustBe(option: 'random' | 'doubt', count: number, first: number, sampling: Sampling): void {
  if (!Number.isInteger(count) || count < 1) throw new Error(`“--${option}” must be a whole number from 1.`)
  if (!Number.isInteger(first) || first < 0) throw new Error('“--from” must be a whole number from 0.')
  if (!samplingNames.includes(sampling)) throw new Error(`“--sampling” must be one of: ${samplingNames.join(', ')}.`)
}

/** The same under instruments that nobody chose: whether what runs say of their doubt holds the truth. */
async function ofDoubt(count: number, first: number, sampling: Sampling, json: boolean): Promise<void> {
  mustBe('doubt', count, first, sampling)
  const all = await doubtTrials(count, { first, sampling, tell: (one) => console.error(doubtWords(one)) })
  const summaries = [null, ...correctionCases].map((correction) => ({
    correction: correction ?? 'all',
    ...doubtSummary(all, correction),
  }))
  if (json) return console.log(JSON.stringify(summaries))
  for (const s of summaries)
    if (s.trials)
      console.log(
        `${s.correction}: ${s.trials} ended; ${(100 * s.held).toFixed(1)} % of figures in their interval; ${s.within} within or near, ${s.wronglyWithin} of them wrongly; ${s.untold} cannot be told; ${s.outside} outside, ${s.wronglyOutside} of them wrongly`,
      )
}

/** Runs on panels that nobody chose, each told as it ends, and how they are spread. */
async function ofRandomPanels(count: number, first: number, sampling: Sampling): Promise<void> {
  mustBe('random', count, first, sampling)
  const all = await randomTrials(count, { first, sampling, tell: (one) => console.log(trialWords(one)) })
  for (const s of spread(all))
    console.log(
      `${s.kind}: ${s.ended} of ${s.panels} ended; averages, median ${s.median.toFixed(2)}, 95 % up to ${s.most.toFixed(2)}${s.ofBest === null ? '' : `, ${s.ofBest.toFixed(2)} times what is best`}; worst, median ${s.worstMedian.toFixed(2)}, 95 % up to ${s.worstMost.toFixed(2)} ΔE2000`,
    )
}

function inWords({ truth, seen, profile, ...r }: TrialResult): string {
  const lines = [
    `${r.panel}, ${r.instrument}${r.correctionResidual === null ? '' : ` with a correction made on it (leaves ${r.correctionResidual.toFixed(4)} Δu′v′)`}, ${r.sampling}, seed ${r.seed}`,
    `${r.readings} readings, ${r.minutes.toFixed(1)} min at real pace; ${r.state}${r.message ? `: ${r.message}` : ''}`,
  ]
  if (truth)
    lines.push(
      `By the truth, ${truth.patches} patches: average ${truth.averageDeltaE.toFixed(3)}, 95th percentile ${truth.percentile95DeltaE.toFixed(3)}, worst ${truth.worstDeltaE.toFixed(2)} ΔE2000`,
      `  white ${truth.white.x.toFixed(4)} ${truth.white.y.toFixed(4)}, ${truth.white.deltaUv.toFixed(4)} Δu′v′ off; luminance ${truth.luminance.cdPerM2.toFixed(1)} cd/m², ${truth.luminance.offPercent.toFixed(1)} % off; grey chroma ${truth.greyChroma.average.toFixed(3)} on average, ${truth.greyChroma.worst.toFixed(2)} at worst`,
    )
  if (truth?.outOfReach)
    lines.push(
      `  out of the panel’s reach: ${truth.outOfReach.patches} patches, average ${truth.outOfReach.averageDeltaE.toFixed(2)}, worst ${truth.outOfReach.worstDeltaE.toFixed(2)} ΔE2000`,
    )
  if (r.best !== null) lines.push(`The best matrix and curves: average ${r.best.toFixed(3)}`)
  if (profile)
    lines.push(
      `Its profile against the truth: average ${profile.averageDeltaE.toFixed(3)}, worst ${profile.worstDeltaE.toFixed(2)} ΔE2000`,
    )
  if (seen)
    lines.push(
      `As the instrument saw it: average ${seen.averageDeltaE.toFixed(3)}, worst ${seen.worstDeltaE.toFixed(2)} ΔE2000 (${seen.worstPatch}); ${seen.verdict}`,
    )
  return lines.join('\n')
}

main().catch((error: Error) => {
  console.error(error.message)
  process.exit(2)
})
