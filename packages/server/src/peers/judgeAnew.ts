import type { InstrumentFacts, Limits, Metrics, ResolvedAim, WhiteMove } from '@bichroma/core/aims'
import { trackedFigures } from '@bichroma/core/drift'
import { withoutOffset, type ReadsMore } from '@bichroma/core/register'
import { solverTasks } from '@bichroma/core/runs'
import { summaryOf } from '../runs/judgedSummary'

/** A validation that is to be judged with its instrument's offset taken out. */
interface RunToJudgeAnew {
  readonly runId: number
  /** ms since 1970. */
  readonly at: number
  /** A Metrics as JSON, as it was read. */
  readonly metricsText: string
  readonly aim: ResolvedAim
  readonly limits: Limits
  readonly instrument: InstrumentFacts
  /** What white did while it was read. */
  readonly moved: WhiteMove
  readonly readsMore: ReadsMore
}

/** What a run comes to with its instrument's offset taken out of each reading, judged as Prove judges; for a thread. All JSON. */
export function judgeAnew({ runId, at, metricsText, limits, readsMore, ...known }: RunToJudgeAnew) {
  const { patches, uniformity } = JSON.parse(metricsText) as Metrics
  const there = withoutOffset(readsMore)
  const { metrics, judgement } = solverTasks.judgeProof({
    ...known,
    ...{ limits, uniformity: uniformity ?? null },
    readings: patches.map(({ name, rgb, xyz }) => ({ name, rgb, xyz: there(xyz) })),
  })
  return {
    verdict: judgement.verdict,
    metrics: JSON.stringify(metrics),
    judgement: JSON.stringify(judgement),
    summary: JSON.stringify(summaryOf(runId, at, metrics, judgement)),
    figures: JSON.stringify(trackedFigures(metrics, limits)),
  }
}
export type JudgedOtherwise = ReturnType<typeof judgeAnew>
