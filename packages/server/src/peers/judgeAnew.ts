import {
  computeMetrics,
  figureDoubt,
  judge,
  type InstrumentFacts,
  type Limits,
  type Metrics,
  type ResolvedAim,
} from '@bichroma/core/aims'
import { trackedFigures } from '@bichroma/core/drift'
import { withoutOffset, type ReadsMore } from '@bichroma/core/register'
import { summaryOf } from '../runs/judgedSummary'

/** A validation that is to be judged with its instrument's offset taken out. */
export interface RunToJudgeAnew {
  readonly runId: number
  /** ms since 1970. */
  readonly at: number
  /** A Metrics as JSON, as it was read. */
  readonly metricsText: string
  readonly aim: ResolvedAim
  readonly limits: Limits
  readonly instrument: InstrumentFacts
  readonly readsMore: ReadsMore
}

/** What white did while it was read is not kept: for a thousandth at most it would widen what a figure may be. */
const unwatched = { luminance: 0, uv: 0 }

/** What a run comes to with its instrument's offset taken out of each reading; for a thread. All JSON. */
export function judgeAnew({ runId, at, metricsText, aim, limits, instrument, readsMore }: RunToJudgeAnew) {
  const { patches, uniformity } = JSON.parse(metricsText) as Metrics
  const there = withoutOffset(readsMore)
  const readings = patches.map(({ name, rgb, xyz }) => ({ name, rgb, xyz: there(xyz) }))
  const metrics: Metrics = { ...computeMetrics(readings, aim), ...(uniformity && { uniformity }) }
  const judgement = judge(metrics, limits, figureDoubt(readings, aim, limits, instrument, unwatched))
  return {
    verdict: judgement.verdict,
    metrics: JSON.stringify(metrics),
    judgement: JSON.stringify(judgement),
    summary: JSON.stringify(summaryOf(runId, at, metrics, judgement)),
    figures: JSON.stringify(trackedFigures(metrics, limits)),
  }
}
export type JudgedOtherwise = ReturnType<typeof judgeAnew>
