import { shippedInstrument } from '@bichroma/bench'
import type { Sampling } from '@bichroma/core/runs'
import { randomCase, type RandomCase } from './randomPanel'
import { trial, type TrialResult } from './trial'

/** What became of a random panel. */
export interface RandomTrial {
  readonly of: RandomCase
  readonly result: TrialResult
  /** What is judged: the slot's error by the truth, or for a display without tables its profile's; null for a run without end. */
  readonly error: { readonly average: number; readonly worst: number } | null
}

/** Runs on so many random panels, one after another, from a seed on; each is told as it ends. */
export async function randomTrials(
  count: number,
  { first = 1, sampling = 'usual', tell }: { first?: number; sampling?: Sampling; tell: (one: RandomTrial) => void },
): Promise<RandomTrial[]> {
  const all: RandomTrial[] = []
  for (let seed = first; seed < first + count; seed++) {
    const of = randomCase(seed)
    const result = await trial({
      panel: of.panel,
      aim: of.aim,
      instrument: shippedInstrument('tessel-c3'),
      corrected: true,
      sampling,
      seed,
    }).catch((error: Error): TrialResult => unable(of, sampling, error))
    const { truth, profile } = result
    const judged = of.panel.tables.in === 'card' ? profile : truth
    const one = { of, result, error: judged && { average: judged.averageDeltaE, worst: judged.worstDeltaE } }
    all.push(one)
    tell(one)
  }
  return all
}

/** A run that was refused before it was begun. */
const unable = ({ panel, seed }: RandomCase, sampling: Sampling, { message }: Error): TrialResult => ({
  ...{ panel: `${panel.maker} ${panel.model}`, instrument: '', correctionResidual: null, sampling, seed },
  ...{ state: 'failed', message, readings: 0, minutes: 0, truth: null, best: null, profile: null, seen: null },
})

const at = (sorted: readonly number[], share: number) =>
  sorted.length ? sorted[Math.min(sorted.length - 1, Math.ceil(share * sorted.length) - 1)] : NaN

/** A panel in a few words. */
const panelWords = ({ seed, panel }: RandomCase): string =>
  [
    `no. ${seed}`,
    panel.light.source,
    panel.tables.pipeline.kind,
    `${panel.signal.bits} bits`,
    ...(panel.light.whiteSubpixel ? [`white subpixel ${panel.light.whiteSubpixel.toFixed(2)}`] : []),
    `exponents ${panel.tone.exponents.map((e) => e!.toFixed(1)).join('/')}`,
    `bows ${panel.tone.bows.map((b) => b!.toFixed(1)).join('/')}`,
    ...(panel.coupling.crosstalk > 0.02 ? [`crosstalk ${(100 * panel.coupling.crosstalk).toFixed(0)} %`] : []),
    ...(panel.coupling.load > 0.05 ? [`sag ${(100 * panel.coupling.load).toFixed(0)} %`] : []),
    ...(panel.time.delayMs > 400 ? [`delay ${panel.time.delayMs.toFixed(0)} ms`] : []),
    ...(panel.brightnessLimit ? [`limits from ${(100 * panel.brightnessLimit.meanLight).toFixed(0)} %`] : []),
  ].join(', ')

/** One trial in one line. */
export function trialWords({ of, result, error }: RandomTrial): string {
  const { seen } = result
  return error
    ? `${panelWords(of)}: average ${error.average.toFixed(3)}, worst ${error.worst.toFixed(2)}${result.best === null ? '' : `, ${result.best.toFixed(3)} at best`}${seen ? `; seen ${seen.averageDeltaE.toFixed(2)}, ${seen.verdict}` : ''}`
    : `${panelWords(of)}: ${result.message}`
}

const groups = ['1D+3D', '3D', '1D+3x3', '1D'] as const

/**
 * How the trials are spread, by what a slot holds: median and 95th percentile of averages, how many times what is best they
 * are (median; null where nobody knows), the worst, and runs without end.
 */
export const spread = (all: readonly RandomTrial[]) =>
  groups.flatMap((kind) => {
    const own = all.filter((t) => t.of.panel.tables.pipeline.kind === kind)
    if (!own.length) return []
    const errors = own.flatMap((t) => (t.error ? [t.error] : []))
    const averages = errors.map((e) => e.average).sort((a, b) => a - b)
    const bests = own
      .flatMap((t) => (t.result.best && t.error ? [t.error.average / t.result.best] : []))
      .sort((a, b) => a - b)
    const worst = errors.map((e) => e.worst).sort((a, b) => a - b)
    return [
      {
        kind,
        panels: own.length,
        ended: errors.length,
        median: at(averages, 0.5),
        most: at(averages, 0.95),
        ofBest: bests.length ? at(bests, 0.5) : null,
        worstMedian: at(worst, 0.5),
        worstMost: at(worst, 0.95),
      },
    ]
  })

/** Trials that said within although the truth was past the hard edge of the average. */
export const wronglyWithin = (all: readonly RandomTrial[], hardEdge: number): RandomTrial[] =>
  all.filter(
    (t) => t.result.seen?.verdict === 'within' && t.result.truth !== null && t.result.truth.averageDeltaE > hardEdge,
  )
