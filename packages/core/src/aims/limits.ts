import { formatMetric, limitedMetrics, type LimitedMetric } from './limitedMetrics'
import type { Metrics } from './metrics'

/**
 * A figure may go as far as `near` without a word, and as far as `hard` with one; beyond, the display is outside. Far is
 * large, but small for figures of which more is better.
 */
export interface LimitRule {
  readonly metric: LimitedMetric
  readonly near: number
  readonly hard: number
}

export interface Limits {
  readonly rules: readonly LimitRule[]
}

/** What the figures alone say. */
export type JudgedVerdict = 'within' | 'near' | 'outside'

/** What is said of a display: the figures' verdict, or that there is none, or none that is fresh. */
export type Verdict = JudgedVerdict | 'unproven' | 'lapsed'

export interface RuleResult extends LimitRule {
  readonly value: number
  readonly verdict: JudgedVerdict
}

export interface Judgement {
  readonly verdict: JudgedVerdict
  /** One sentence that explains the verdict. */
  readonly sentence: string
  readonly rules: readonly RuleResult[]
}

/** How far a figure is past an edge, as a ratio above 1. */
const excess = ({ metric, value, ...edges }: RuleResult, edge: 'near' | 'hard') =>
  limitedMetrics[metric].atLeast ? edges[edge] / Math.max(value, 1e-9) : value / edges[edge]

const order: readonly JudgedVerdict[] = ['within', 'near', 'outside']

/**
 * Judges metrics by limits: the worst rule decides, and the sentence names the figure that is furthest past its edge.
 * Throws Error when the readings do not tell a figure that is limited.
 */
export function judge(metrics: Metrics, limits: Limits): Judgement {
  const rules = limits.rules.map((rule): RuleResult => {
    const { valueOf, atLeast, label, needs } = limitedMetrics[rule.metric]
    const value = valueOf(metrics)
    if (value === null)
      throw new Error(`“${label}” has limits, but the readings hold no ${needs}, so it cannot be told.`)
    const passes = (edge: number) => (atLeast ? value >= edge : value <= edge)
    return { ...rule, value, verdict: passes(rule.near) ? 'within' : passes(rule.hard) ? 'near' : 'outside' }
  })
  const verdict = rules.reduce<JudgedVerdict>(
    (v, r) => (order.indexOf(r.verdict) > order.indexOf(v) ? r.verdict : v),
    'within',
  )
  if (verdict === 'within') return { verdict, rules, sentence: 'Every figure is inside its near edge.' }
  const edge = verdict === 'near' ? 'near' : 'hard'
  const decisive = rules
    .filter((r) => r.verdict === verdict)
    .reduce((a, b) => (excess(b, edge) > excess(a, edge) ? b : a))
  const { label, noteOf } = limitedMetrics[decisive.metric]
  const at = noteOf?.(metrics)
  const figure = `${label} is ${formatMetric(decisive.metric, decisive.value)}${at ? `, at ${at}` : ''}`
  const others = rules.filter((r) => r.verdict === verdict).length - 1
  const more =
    others > 0
      ? `; ${others} more ${others === 1 ? 'figure is' : 'figures are'} past ${others === 1 ? 'its' : 'their'} edge`
      : ''
  const than =
    verdict === 'near'
      ? `past the near edge of ${formatMetric(decisive.metric, decisive.near)} and not past the hard edge of ${formatMetric(decisive.metric, decisive.hard)}`
      : `past the hard edge of ${formatMetric(decisive.metric, decisive.hard)}`
  return { verdict, rules, sentence: `${figure}: ${than}${more}.` }
}
