export {
  type Aim,
  type AimBlack,
  aimCurve,
  type AimPrimaries,
  aimTargets,
  type AimWhite,
  type ByEyeWhite,
  movedWhite,
  resolveAim,
  type ResolvedAim,
  type SharedWhite,
  targetXyz,
  whiteChromaticity,
} from './aim'
export { describeAim } from './describe'
export { judgingWhite, patchDifference } from './differenceFigures'
export { formatDate, formatLuminance, formatSigned, formatTemperature, verdictNames, verdictWords } from './figures'
export {
  formatDoubt,
  formatEdge,
  formatMetric,
  type LimitedMetric,
  limitedMetricNames,
  limitedMetrics,
  metricLabel,
} from './limitedMetrics'
export {
  type Decision,
  decisions,
  type Doubt,
  edgesUnder,
  type Interval,
  formulaOf,
  judge,
  type JudgedVerdict,
  judgedVerdicts,
  type Judgement,
  judgeRule,
  type LimitRule,
  type Limits,
  ruleAtLevel,
  type RuleResult,
  type Verdict,
  type Weight,
  weights,
} from './limits'
export { figureDoubt } from './doubt/figureIntervals'
export { type CorrectionOrigin, correctionOrigins, type InstrumentFacts, type WhiteMove } from './doubt/instrumentDoubt'
export { noiseOfRepeats, type ReadingNoise, type Repeat } from './doubt/noise'
export { computeMetrics, type JudgedPatch, type Metrics } from './metrics'
export { edgesByRatio, namedLimits } from './namedLimits'
export { percentile } from './percentile'
export { luminanceForRoom, roomLightProblem, type RoomLightRange, type RoomLightReading } from './roomLight'
export {
  followedLuminance,
  followLight,
  hourOf,
  isOutTooLong,
  isSameLevel,
  levelChange,
  type LevelChange,
  type LightCell,
  type LightExcursion,
  type LightHour,
  lightHoldsRun,
  lightLevel,
  type LightLevel,
  lightPattern,
  type LightStanding,
  lightStanding,
  readingsKeptMs,
  type RoomLightAt,
  watchEveryMs,
  watchSilenceMs,
  worthFollowing,
} from './roomWatch'
