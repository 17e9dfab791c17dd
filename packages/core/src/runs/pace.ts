import type { PipelineShape } from '../tables/pipelineShape'
import { baselinePatchesOf, cornerPatches, provePatchesOf } from './patches'
import type { Sampling } from './plan/patchPlan'
import { effortOf, matrixPartsFor, modelPartsFor, rawPatches, type Effort } from './shapeParts'
import { runKinds, type RunKind, type Stage } from './stages'

/** A look at white for so many readings, at most. */
export const readingsBetweenLooks = 25

/** Readings of Level: two or three tries, and one more where the control does not run straight. */
const levelReadings = 4

const withLooks = (readings: number) => readings + Math.ceil(readings / readingsBetweenLooks)

/** Counts by kind of slot and effort, found once: a plan that fills the space takes its time, and a live run asks with every reading. */
const counted = new Map<string, number>()

/** Readings of Shape by what the slot can hold and how much it takes on, with as many rounds as most displays need. */
export function shapeReadings(holds: PipelineShape['kind'], effort: Effort): number {
  const key = `${holds} ${effort}`
  const known = counted.get(key)
  if (known !== undefined) return known
  const found = countShapeReadings(holds, effort)
  counted.set(key, found)
  return found
}

function countShapeReadings(holds: PipelineShape['kind'], effort: Effort): number {
  if (holds === '1D+3x3') {
    const { levels, greyRounds, colors, colorRounds } = matrixPartsFor(effort)
    const raw = effort === 'refresh' ? 0 : levels.length - 1
    return withLooks(cornerPatches.length + raw + levels.length * greyRounds + colors.length * colorRounds)
  }
  const rounds = modelPartsFor(effort).rounds.reduce((sum, { greys, colors }) => sum + greys + colors + 1, 0)
  return withLooks(cornerPatches.length + rawPatches(effort, 1).length + rounds)
}

/** Readings that each stage of a run is expected to take; `proved` are the patches of Prove, where they were chosen. */
export function plannedReadings(
  kind: RunKind,
  holds: PipelineShape['kind'] = '1D+3D',
  sampling: Sampling = 'usual',
  shape: Effort = effortOf(kind, sampling),
  proved: number = provePatchesOf(kind).length,
): Readonly<Record<Stage, number>> {
  return {
    ready: 0,
    baseline: baselinePatchesOf(kind).length,
    level: levelReadings,
    shape: shapeReadings(holds, shape),
    load: 0,
    prove: withLooks(proved),
    file: 0,
  }
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
 * How far a run is and how long it still takes, from the pace of its own readings. `inStage` readings were taken in the
 * current stage; `tookMs` are the durations of all readings so far, at real pace; `planned` are the readings that each
 * stage is expected to take, `loadSeconds` what the display needs to take its tables; `share` of the current stage is done,
 * where that is told.
 */
export function runProgress(
  kind: RunKind,
  stage: Stage,
  inStage: number,
  tookMs: readonly number[],
  planned: Readonly<Record<Stage, number>> = plannedReadings(kind),
  loadSeconds: number = expectedSeconds.load,
  share?: number,
): Progress {
  const list: readonly Stage[] = runKinds[kind].stages
  // The mean, not the median: dark patches take several times as long and count for what they are.
  const perReading = tookMs.length ? tookMs.reduce((a, b) => a + b, 0) / tookMs.length / 1000 : firstGuess
  const seconds = (s: Stage) => planned[s] * perReading + (s === 'load' ? loadSeconds : expectedSeconds[s])
  const at = list.indexOf(stage)
  const total = list.reduce((sum, s) => sum + seconds(s), 0)
  const before = list.slice(0, at).reduce((sum, s) => sum + seconds(s), 0)
  const inside = share === undefined ? Math.min(seconds(stage) * 0.97, inStage * perReading) : seconds(stage) * share
  return { done: (before + inside) / total, secondsLeft: Math.max(0, total - before - inside), basis: tookMs.length }
}

/** Looks at white between the last table and Prove, and one to spare. */
const looksBetween = 3

/** What a run may take at most: readings in all, or minutes at real pace. */
export type Budget =
  | { readonly kind: 'readings'; readonly most: number }
  | { readonly kind: 'minutes'; readonly most: number }

/**
 * Readings that a budget leaves to Shape, when so many are taken already (their durations at real pace, ms) and Load and
 * Prove are still to come; it may be less than Shape needs.
 */
export function shapeReadingsWithin(
  budget: Budget,
  tookMs: readonly number[],
  { elapsedMs, loadSeconds }: { readonly elapsedMs: number; readonly loadSeconds: number },
): number {
  const prove = withLooks(provePatchesOf('full').length) + looksBetween
  if (budget.kind === 'readings') return Math.floor(budget.most - tookMs.length - prove)
  const perReading = tookMs.length ? tookMs.reduce((a, b) => a + b, 0) / tookMs.length : firstGuess * 1000
  const left = budget.most * 60_000 - elapsedMs - loadSeconds * 1000
  return Math.floor(left / perReading) - prove
}
