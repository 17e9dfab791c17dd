import type { Judgement, Metrics } from '@bichroma/core/aims'
import type { RunRow } from './entities'

/** The short figures of a judgement, as lists show them. `at`: ms since 1970. */
export const summaryOf = (
  runId: number,
  at: number,
  metrics: Metrics,
  { verdict, sentence }: Judgement,
): NonNullable<RunRow['summary']> => ({
  runId,
  at,
  verdict,
  sentence,
  averageDeltaE: metrics.averageDeltaE,
  worstDeltaE: metrics.worstDeltaE,
  worstPatch: metrics.worstPatch,
  luminance: metrics.luminance,
  white: metrics.white,
  aimWhite: metrics.aimWhite,
  whiteTemperature: metrics.whiteTemperature,
  aimWhiteTemperature: metrics.aimWhiteTemperature,
  whiteDeltaUv: metrics.whiteDeltaUv,
})
