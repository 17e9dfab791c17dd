export { type Ask, askNames } from './asks'
export { type CheckPlan, checkPlanNames, checkPlans, mostOwnPatches, ownCheckPatches } from './checkPlans'
export { driftPerMinute } from './driftPerMinute'
export {
  goesNoFurther,
  type Headroom,
  headroomFor,
  type LevelTry,
  nextLevelStep,
  primariesOfCorners,
  type RawCorners,
  sharesLight,
  type Turn,
  turnOf,
} from './level'
export type { ModelEvidence } from './modelSolver'
export {
  type Budget,
  plannedReadings,
  type Progress,
  readingsBetweenLooks,
  runProgress,
  shapeReadingsWithin,
} from './pace'
export {
  baselinePatchesOf,
  cornerPatches,
  greyPatch,
  type Patch,
  primariesAndSecondaries,
  provePatches,
  provePatchesOf,
  black,
  white,
} from './patches'
export { makePlan, parsePlan, PlanError, type Sampling, samplingNames, samplings } from './plan/patchPlan'
export { namedBySignal, planPartDefinitions } from './plan/planParts'
export { type InstrumentTiming, planCost } from './plan/planTime'
export { whyNotShapable } from './shapable'
export { anotherRound, type DriveReading, type GreyReading, residual } from './shape'
export { type RoundSeen, type WhyNoMore, whyNoMoreRounds } from './shapeRounds'
export { carryOver, readingsOfMemory, type ShapeMemory } from './shapeMemory'
export { type Effort, effortOf, leastShapeReadings, matrixPartsFor, modelPartsFor, rawPatches } from './shapeParts'
export { type ShapeEvidence, type SolverTask, solverTasks } from './solver'
export {
  goesOn,
  heldStates,
  puttingBack,
  type RunKind,
  runKindNames,
  runKinds,
  type RunState,
  runStates,
  type Stage,
  stageLabels,
  stages,
} from './stages'
export {
  type PlaceFigure,
  placeName,
  type PlaceReading,
  positionOf,
  screenCentre,
  type UniformityMap,
  uniformityOf,
  uniformityPlaces,
  uniformitySide,
} from './uniformity'
export { repeatabilityOf, withoutDrift } from './whiteDrift'
export { type HostCondition, hostConditionNames } from './readiness/hostConditions'
export {
  type Condition,
  type Confirmations,
  judgeReadiness,
  type ReadinessFacts,
  warmUpMinutes,
} from './readiness/judgeReadiness'
export { type ShapeFault, shapeFault } from './shapeGate'
