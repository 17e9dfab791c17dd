import { baselinePatches, provePatches, shapeColors, shapeLevels } from './patches'
import type { PipelineShape } from '../tables/pipelineShape'
import { makePlan, type Sampling } from './plan/patchPlan'
import { shapeParts } from './shapeParts'
import { runKinds, type RunKind, type Stage } from './stages'

/** Readings that a stage is expected to take; Shape with three rounds of greys, as most displays need. */
export const expectedReadings: Readonly<Record<Stage, number>> = {
  ready: 0,
  baseline: baselinePatches.length,
  level: 5,
  shape: 5 + shapeLevels.length * 4 + shapeColors.length * 2,
  load: 0,
  prove: provePatches.length,
  file: 0,
}

/** Readings of a slot's Shape: by its kind of contents and, where the panel is characterized as a whole, the sampling. */
export function shapeReadings(holds: PipelineShape['kind'], sampling: Sampling): number {
  if (holds === '1D+3x3') return expectedReadings.shape
  const { raw, rounds } = shapeParts[sampling]
  const patches = 5 + makePlan(raw).length + rounds.reduce((sum, r) => sum + r.greys + r.colors + 1, 0)
  // One look at white for every 25.
  return Math.round(patches * 1.04)
}

/** Seconds that stages take besides their readings, until they have been measured. */
const expectedSeconds: Readonly<Record<Stage, number>> = {
  ready: 6,
  baseline: 0,
  level: 0,
  shape: 2,
  load: 8,
  prove: 1,
  file: 1,
}

/** Seconds of one reading before any was measured. */
const firstGuess = 1.6

export interface Progress {
  /** 0–1 */
  readonly done: number
  /** Seconds at real pace. */
  readonly secondsLeft: number
  /** Readings that the estimate rests on. */
  readonly basis: number
}

/**
 * How far a run is and how long it still takes, from the pace of its own readings.
 * `shaping`: readings that Shape is expected to take. `inStage` readings were taken in the current stage; `tookMs` are the durations of all readings so far, at real pace.
 */
export function runProgress(
  kind: RunKind,
  stage: Stage,
  inStage: number,
  tookMs: readonly number[],
  shaping = expectedReadings.shape,
): Progress {
  const list: readonly Stage[] = runKinds[kind].stages
  // The mean, not the median: dark patches take several times as long and count for what they are.
  const perReading = tookMs.length ? tookMs.reduce((a, b) => a + b, 0) / tookMs.length / 1000 : firstGuess
  const seconds = (s: Stage) => (s === 'shape' ? shaping : expectedReadings[s]) * perReading + expectedSeconds[s]
  const at = list.indexOf(stage)
  const total = list.reduce((sum, s) => sum + seconds(s), 0)
  const before = list.slice(0, at).reduce((sum, s) => sum + seconds(s), 0)
  const inside = Math.min(seconds(stage) * 0.97, inStage * perReading)
  return { done: (before + inside) / total, secondsLeft: Math.max(0, total - before - inside), basis: tookMs.length }
}
