import type { Triple } from '../color/matrix3'
import type { ResolvedAim } from '../aims/aim'
import { judge, type Limits } from '../aims/limits'
import { computeMetrics, type Metrics } from '../aims/metrics'
import type { PatchReading } from '../color/patchReading'
import { figureDoubt } from '../aims/doubt/figureIntervals'
import type { InstrumentFacts, WhiteMove } from '../aims/doubt/instrumentDoubt'
import type { MatrixShape } from '../tables/pipelineShape'
import type { Characterization } from '../characterization/characterization'
import { characterize } from '../characterization/characterize'
import type { SignalCodes } from '../tables/signalCodes'
import { buildSlotTables, type PipelineAim, type SlotTables } from '../tables/slotTables'
import { fitPipeline } from './jointPipeline'
import { readingsOfMemory } from './shapeMemory'
import type { RawCorners } from './level'
import { foretellingError, solveRound, solveSlot } from './modelSolver'
import { matrixReach } from './matrixReach'
import type { Patch } from './patches'
import {
  mixingMatrix,
  modelFromGreys,
  pipelineFor,
  refineModel,
  refitMatrix,
  solveDrive,
  type DriveReading,
  type GreyReading,
  type PanelModel,
} from './shape'

/** Everything that Shape has read so far for a slot with a matrix; a plain object, so that a solve can run in another thread. */
export interface ShapeEvidence {
  readonly aim: ResolvedAim
  readonly corners: RawCorners
  /** Equal drives, raw. */
  readonly rawGreys: readonly DriveReading[]
  /** Corrected greys of every round so far. */
  readonly rounds: readonly (readonly GreyReading[])[]
  /** Colours shown raw, of every round so far. */
  readonly colors: readonly DriveReading[]
  readonly signal: SignalCodes
}

/** The newest rounds whose readings are averaged; older ones were read where the curve no longer is. */
const roundsAveraged = 3

function modelOf(e: ShapeEvidence): PanelModel {
  const first = modelFromGreys(e.corners, e.rawGreys)
  const rounds = e.rounds.slice(-roundsAveraged).flat()
  return rounds.length ? refineModel(first, rounds) : first
}

const mixingOf = (e: ShapeEvidence, model: PanelModel) => {
  const { red, green, blue, white } = e.corners
  const corner = (drive: Triple, xyz: RawCorners['red']): DriveReading => ({ drive, xyz })
  const matrix = e.colors.length
    ? refitMatrix(model, e.aim, [
        ...e.colors,
        corner([1, 1, 1], white),
        corner([1, 0, 0], red),
        corner([0, 1, 0], green),
        corner([0, 0, 1], blue),
      ])
    : model.matrix
  return mixingMatrix(matrix, e.aim)
}

/** Drives that should show grey signals (0–1) as the aim wants them. */
export function solveGreys(e: ShapeEvidence, levels: readonly number[]): Triple[] {
  const model = modelOf(e)
  const mixing = mixingMatrix(model.matrix, e.aim)
  return levels.map((v) => solveDrive(model, mixing, e.aim, [v, v, v], e.signal))
}

/** Drives that should show patches as the aim wants them. */
export function solveColors(e: ShapeEvidence, patches: readonly Patch[]): Triple[] {
  const model = modelOf(e)
  const mixing = mixingOf(e, model)
  return patches.map((p) => solveDrive(model, mixing, e.aim, p.rgb, e.signal))
}

/** The tables for the slot. */
export function solveTables(e: ShapeEvidence, shape: MatrixShape): SlotTables {
  const model = modelOf(e)
  const apart = pipelineFor(model, mixingOf(e, model), e.aim)
  return buildSlotTables(together(apart, e), shape)
}

/** The same fitted as a whole; part by part where too little was read for that, or what was read makes no sense as one. */
function together(apart: PipelineAim, e: ShapeEvidence): PipelineAim {
  if (e.colors.length < fewestColors) return apart
  try {
    return fitPipeline(apart, byDrives(e), e.aim, e.rounds.slice(-roundsAveraged).flat())
  } catch (error) {
    if (error instanceof RangeError) return apart
    throw error
  }
}

/** Colours without which a characterization by drives says nothing of what lies between the channels. */
const fewestColors = 12

/** The panel by its drives, from everything that was read. */
const byDrives = ({ corners, rawGreys, rounds, colors }: ShapeEvidence): Characterization =>
  characterize(readingsOfMemory({ kind: 'greys', corners, greys: [...rawGreys, ...rounds.flat()], colors }))

/** What was read to prove a slot, and by what it is judged. */
interface ToProve {
  readonly readings: readonly PatchReading[]
  readonly aim: ResolvedAim
  readonly limits: Limits
  readonly instrument: InstrumentFacts
  /** What white did in the meantime. */
  readonly moved: WhiteMove
  /** How even the screen was when it was last read place by place. */
  readonly uniformity: Metrics['uniformity'] | null
}

/** Judges what proves a slot, with how far its figures can be trusted. Throws RangeError for readings of no display. */
function judgeProof({ readings, aim, limits, instrument, moved, uniformity }: ToProve) {
  const metrics: Metrics = { ...computeMetrics(readings, aim), ...(uniformity && { uniformity }) }
  const judgement = judge(metrics, limits, figureDoubt(readings, aim, limits, instrument, moved))
  return { metrics, judgement }
}

/** What can be asked of another thread, by name. */
export const solverTasks = {
  matrixReach,
  solveGreys,
  solveColors,
  solveTables,
  solveRound,
  solveSlot,
  foretellingError,
  judgeProof,
}
export type SolverTask = keyof typeof solverTasks
