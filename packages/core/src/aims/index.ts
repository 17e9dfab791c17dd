export {
  type Aim,
  type AimBlack,
  aimCurve,
  type AimPrimaries,
  aimTargets,
  type AimWhite,
  resolveAim,
  type ResolvedAim,
  targetXyz,
  whiteChromaticity,
} from './aim'
export { describeAim } from './describe'
export { judgingWhite, patchDifference } from './differenceFigures'
export { formatDate, formatLuminance, formatSigned, formatTemperature, verdictNames, verdictWords } from './figures'
export {
  formatEdge,
  formatMetric,
  type LimitedMetric,
  limitedMetricNames,
  limitedMetrics,
  metricLabel,
} from './limitedMetrics'
export {
  edgesUnder,
  formulaOf,
  judge,
  type JudgedVerdict,
  judgedVerdicts,
  type Judgement,
  judgeRule,
  type LimitRule,
  type Limits,
  ruleAtLevel,
  type Verdict,
  type Weight,
  weights,
} from './limits'
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
export { noiseOfRepeats, type ReadingNoise, type Repeat } from './uncertainty'
