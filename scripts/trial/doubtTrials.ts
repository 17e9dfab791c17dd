import { computeMetrics, formulaOf, judgeRule, type JudgedVerdict, type RuleResult } from '@bichroma/core/aims'
import type { Sampling } from '@bichroma/core/runs'
import type { RunDetail, RunReview } from '@bichroma/contract'
import { OneDisplayStudio, serials } from './oneDisplayStudio'
import { doubtCase, type CorrectionCase, type DoubtCase } from './randomInstrument'

/** One figure as a run judged it, and what it truly is. */
interface FigureTruth {
  readonly rule: RuleResult
  readonly truth: number
}

/** What became of a random panel under a random instrument. */
export interface DoubtTrial {
  readonly of: DoubtCase
  readonly verdict: JudgedVerdict | null
  /** What would have been said of the truth. */
  readonly truly: JudgedVerdict | null
  readonly figures: readonly FigureTruth[]
  /** Why there is none. */
  readonly message: string | null
}

/** Full runs on so many random panels under random instruments, one after another; each is told as it ends. */
export async function doubtTrials(
  count: number,
  { first = 1, sampling = 'brief', tell }: { first?: number; sampling?: Sampling; tell: (one: DoubtTrial) => void },
): Promise<DoubtTrial[]> {
  const all: DoubtTrial[] = []
  for (let seed = first; seed < first + count; seed++) {
    const of = doubtCase(seed)
    const one = await doubtTrial(of, sampling).catch(({ message }: Error): DoubtTrial => ({
      of,
      verdict: null,
      truly: null,
      figures: [],
      message,
    }))
    all.push(one)
    tell(one)
  }
  return all
}

async function doubtTrial(of: DoubtCase, sampling: Sampling): Promise<DoubtTrial> {
  const { panel, aim, instrument, reference, sibling, seed, days } = of
  const studio = await OneDisplayStudio.open({
    ...{ panel, aim, instrument, reference, sibling, seed },
    certifiedDaysAgo: days,
  })
  try {
    if (['right', 'old'].includes(of.correction)) await studio.makeCorrection()
    if (of.correction === 'other display') await studio.makeCorrection(studio.siblingId!)
    await studio.passDays(days.correction)
    const run = await studio.finish(await studio.start({ sampling }))
    if (run.state !== 'done') return { of, verdict: null, truly: null, figures: [], message: run.message }
    const { judgement } = await studio.client.get<RunReview>(`/runs/${run.id}/review`)
    const truly = judgedByTruth(studio, run)
    return {
      of,
      verdict: judgement.verdict,
      truly: worstOf(truly),
      figures: judgement.rules.map((rule, i) => ({ rule, truth: truly[i].value ?? NaN })),
      message: null,
    }
  } finally {
    await studio.close()
  }
}

/** The run's rules on what the display truly shows of the patches that proved it. */
function judgedByTruth(studio: OneDisplayStudio, run: RunDetail): RuleResult[] {
  const read = run.log.filter((r) => r.stage === 'prove')
  const shown = new Map(read.map(({ name, rgb }) => [JSON.stringify(rgb), { name, rgb }]))
  const patches = [...shown.values()]
  const truth = studio.bench.truth(
    serials.display,
    patches.map(({ rgb }) => rgb),
  )
  const metrics = computeMetrics(
    patches.map((p, i) => ({ ...p, xyz: truth[i] })),
    run.resolvedAim!,
    { temperatures: false },
  )
  const formula = formulaOf(run.limits)
  return run.limits.rules.map((rule) => judgeRule(metrics, rule, formula))
}

const order = ['within', 'near', 'outside'] as const
const worstOf = (rules: readonly RuleResult[]): JudgedVerdict =>
  order.reduce<JudgedVerdict>((worst, v) => (rules.some((r) => r.verdict === v) ? v : worst), 'within')

const holds = ({ rule, truth }: FigureTruth) =>
  rule.interval !== undefined && truth >= rule.interval.low - 1e-9 && truth <= rule.interval.high + 1e-9

/** One trial in one line: each figure as seen, its interval, and the truth. */
export const doubtWords = ({ of, verdict, truly, figures, message }: DoubtTrial): string =>
  `no. ${of.seed}, ${of.panel.light.source}, ${of.correction}: ${
    verdict === null
      ? message
      : `${verdict}, truly ${truly}; ${figures
          .map((f) => {
            const { metric, value, interval } = f.rule
            const digits = metric === 'whiteDeltaUv' ? 4 : 2
            const [low, high] = [interval?.low ?? NaN, interval?.high ?? NaN].map((v) => v.toFixed(digits))
            return `${metric} ${value?.toFixed(digits)} in ${low}–${high}, truly ${f.truth.toFixed(digits)}${holds(f) ? '' : ' (!)'}`
          })
          .join('; ')}`
  }`

/** How often intervals hold the truth, and verdicts are right, of those trials that came to an end. */
export function doubtSummary(all: readonly DoubtTrial[], of: CorrectionCase | null = null) {
  const ended = all.filter((t) => t.verdict !== null && (of === null || t.of.correction === of))
  const figures = ended.flatMap((t) => t.figures)
  const share = (some: number, total: number) => (total ? some / total : NaN)
  const count = (verdict: JudgedVerdict) => ended.filter((t) => t.verdict === verdict).length
  return {
    trials: ended.length,
    held: share(figures.filter(holds).length, figures.length),
    within: count('within') + count('near'),
    untold: count('untold'),
    outside: count('outside'),
    /** Said within, or near its edge, where the truth is past a hard edge. */
    wronglyWithin: ended.filter((t) => (t.verdict === 'within' || t.verdict === 'near') && t.truly === 'outside')
      .length,
    /** Said outside where the truth is not. */
    wronglyOutside: ended.filter((t) => t.verdict === 'outside' && t.truly !== 'outside').length,
  }
}
