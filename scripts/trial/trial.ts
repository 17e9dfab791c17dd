import type { InstrumentModel, PanelTraits } from '@bichroma/bench'
import type { Aim } from '@bichroma/core/aims'
import { characterize, invertXyz } from '@bichroma/core/characterization'
import type { PatchReading, Triple } from '@bichroma/core/color'
import { makePlan, type RunState, type Sampling } from '@bichroma/core/runs'
import { quantizeSignal } from '@bichroma/core/tables'
import type { ProfilePolicy, RunDetail } from '@bichroma/contract'
import { bestMatrix } from './bestMatrix'
import { OneDisplayStudio, serials } from './oneDisplayStudio'
import { profileError } from './profileError'
import { judgeByTruth, unseenPatches, type TruthResult } from './truthOf'

export interface TrialOptions {
  readonly panel: PanelTraits
  readonly aim: Aim
  readonly instrument: InstrumentModel
  /** Make a correction on this very panel first; else the instrument's own is used. */
  readonly corrected: boolean
  readonly sampling: Sampling
  readonly seed: number
  /** What the profile is to be; the usual unless given. */
  readonly profile?: ProfilePolicy
  /** Readings after which the instrument is knocked aside; hands then seat it anew. */
  readonly knockAfter?: number
  /** Hours of use between the full run and a refresh, which is then what is judged. */
  readonly refreshAfterHours?: number
}

/** What a trial found. */
export interface TrialResult {
  readonly panel: string
  readonly instrument: string
  /** Δu′v′ that the correction made for the trial leaves at white and the primaries; null without one. */
  readonly correctionResidual: number | null
  readonly sampling: Sampling
  readonly seed: number
  readonly state: RunState
  readonly message: string | null
  readonly readings: number
  /** At real pace. */
  readonly minutes: number
  /** By the panel's noise-free truth on 300 patches that the run never saw; null when the run did not reach its end. */
  readonly truth: TruthResult | null
  /** What the best matrix and curves would reach with perfect knowledge of the panel, average ΔE2000; null for other slots. */
  readonly best: number | null
  /** The profile that the run filed, against the truth; null when it filed none. */
  readonly profile: { readonly averageDeltaE: number; readonly worstDeltaE: number } | null
  /** As the run's own Prove saw it, with its instrument. */
  readonly seen: RunDetail['judged']
}

const unseen = 300

/** The panel's reach, from its own noise-free light: how far (ΔE76) a wanted XYZ lies outside of it. */
export async function reachOf(studio: OneDisplayStudio, bits: number) {
  const display = studio.bench.display(serials.display)
  await display.setControls({ pipeline: 'bypass' })
  const plan = makePlan([
    { part: 'grid', count: 9 },
    { part: 'even-greys', count: 33 },
    { part: 'channels', count: 16 },
  ])
  const readings = plan.map(({ name, rgb }): PatchReading => {
    const shown = quantizeSignal(rgb, bits)
    return { name, rgb: shown, xyz: display.truth(shown) }
  })
  await display.setControls({ pipeline: 'slot' })
  const c = characterize(readings)
  return (wanted: Triple) => invertXyz(c, wanted).left
}

/**
 * How a run's slot does by the panel's noise-free truth, on patches that the run never saw; null for one without end.
 * `reaches`: how far outside the panel's reach a colour lies; every patch counts unless given, which is much quicker.
 */
export function truthOfRun(
  studio: OneDisplayStudio,
  panel: PanelTraits,
  run: RunDetail,
  seed: number,
  reaches: (wanted: Triple) => number = () => 0,
): TruthResult | null {
  if (run.state !== 'done' || !run.resolvedAim) return null
  const patches = unseenPatches(unseen, seed + 1000, panel.signal.bits)
  const truth = (signals: readonly Triple[]) => studio.bench.truth(serials.display, signals)
  return judgeByTruth(run.resolvedAim, patches, truth, reaches)
}

/** A whole full run on a panel, in this process, through the run engine and courier messages of the application. */
export async function trial(options: TrialOptions): Promise<TrialResult> {
  const { panel, aim, instrument, corrected, sampling, seed, profile, knockAfter, refreshAfterHours } = options
  const studio = await OneDisplayStudio.open({ panel, aim, instrument, seed })
  try {
    const correctionResidual = corrected ? await studio.makeCorrection() : null
    const first = await studio.start({ sampling, profile })
    if (knockAfter !== undefined) studio.bench.instrument(serials.instrument).knock(knockAfter)
    let run = await studio.finish(first)
    if (refreshAfterHours !== undefined && run.state === 'done') {
      studio.display.age(refreshAfterHours)
      run = await studio.finish(await studio.start({ kind: 'refresh', profile }))
    }
    const { bits } = panel.signal
    const reaches = run.state === 'done' ? await reachOf(studio, bits) : undefined
    return {
      panel: `${panel.maker} ${panel.model}`,
      instrument: `${instrument.maker} ${instrument.model}`,
      correctionResidual,
      sampling,
      seed,
      state: run.state,
      message: run.message,
      readings: run.log.length,
      minutes: run.stages.reduce((sum, s) => sum + s.tookMs, 0) / 60_000,
      truth: truthOfRun(studio, panel, run, seed, reaches),
      best:
        reaches && run.resolvedAim ? await bestMatrix(studio, panel, run.resolvedAim, { seed, bits, reaches }) : null,
      profile: run.state === 'done' && run.profileHash ? await profileError(studio, run.id, seed, bits) : null,
      seen: run.judged,
    }
  } finally {
    await studio.close()
  }
}
