import { differenceLabels, type DifferenceFormula } from '../color/differences'
import { differenceFigures } from './differenceFigures'
import { formatMetric, limitedMetrics, metricLabel, type LevelRange, type LimitedMetric } from './limitedMetrics'
import type { Metrics } from './metrics'

/** What a rule counts for: it decides, it brings a verdict no further than near edge, or it is only told. */
export const weights = ['decides', 'advises', 'told'] as const
export type Weight = (typeof weights)[number]

/**
 * A figure may go as far as `near` without a word, and as far as `hard` with one; beyond, the display is outside. Far is
 * large, but small for figures of which more is better.
 */
export interface LimitRule {
  readonly metric: LimitedMetric
  readonly near: number
  readonly hard: number
  /** Greys that a figure by level looks at; all of them when left out. */
  readonly levels?: LevelRange
  /** It decides when left out. */
  readonly weight?: Weight
  /** Why the edges are what they are. */
  readonly reason?: string
}

export interface Limits {
  /** By which colour differences are judged; ΔE2000 when left out. */
  readonly formula?: DifferenceFormula
  readonly rules: readonly LimitRule[]
  /** Edges of colour differences under other formulas: told beside them, never judged by. */
  readonly others?: Readonly<Partial<Record<DifferenceFormula, readonly LimitRule[]>>>
}

/** The rule of a figure that counts for a grey level (0–1): one that names the level before one for all of them. */
export function ruleAtLevel(
  { rules }: Pick<Limits, 'rules'>,
  metric: LimitedMetric,
  level: number,
): LimitRule | undefined {
  const of = rules.filter((r) => r.metric === metric)
  return of.find((r) => r.levels && level >= r.levels.from && level <= r.levels.to) ?? of.find((r) => !r.levels)
}

export const formulaOf = (limits: Limits): DifferenceFormula => limits.formula ?? 'de2000'

/** What the figures alone say. */
export const judgedVerdicts = ['within', 'near', 'outside'] as const
export type JudgedVerdict = (typeof judgedVerdicts)[number]

/** What is said of a display: the figures' verdict, or that there is none, or none that is fresh. */
export type Verdict = JudgedVerdict | 'unproven' | 'lapsed'

export interface RuleResult extends LimitRule {
  /** Null where the readings do not tell it. */
  readonly value: number | null
  /** Unproven where the readings do not tell it. */
  readonly verdict: JudgedVerdict | 'unproven'
  /** Within so much the instrument repeats the figure, 19 times of 20; absent where its noise is not known. */
  readonly uncertainty?: number
  /** An edge is so near that the instrument's own noise may have put the figure on this side of it. */
  readonly close?: true
}

export interface Judgement {
  readonly verdict: JudgedVerdict
  /** One sentence that explains the verdict. */
  readonly sentence: string
  readonly rules: readonly RuleResult[]
  /** ΔE2000 in judgements that do not say. */
  readonly formula?: DifferenceFormula
}

type ToldRule = RuleResult & { readonly value: number; readonly verdict: JudgedVerdict }

const isTold = (r: RuleResult): r is ToldRule => r.value !== null

/** How far a figure is past an edge, as a ratio above 1. */
const excess = ({ metric, value, ...edges }: ToldRule, edge: 'near' | 'hard') =>
  limitedMetrics[metric].atLeast ? edges[edge] / Math.max(value, 1e-9) : value / edges[edge]

const order: readonly JudgedVerdict[] = judgedVerdicts

/** What a rule says of the whole, by its weight. */
const counted = ({ verdict, weight = 'decides' }: ToldRule): JudgedVerdict =>
  weight === 'decides' ? verdict : weight === 'advises' && verdict !== 'within' ? 'near' : 'within'

/** One rule on metrics; the value on an edge is still on its good side. */
export function judgeRule(
  metrics: Metrics,
  rule: LimitRule,
  formula: DifferenceFormula,
  uncertainty?: number | null,
): RuleResult {
  const { of, atLeast } = limitedMetrics[rule.metric]
  const value = of(metrics, { formula, levels: rule.levels })?.value ?? null
  if (value === null) return { ...rule, value, verdict: 'unproven' }
  const passes = (edge: number) => (atLeast ? value >= edge : value <= edge)
  const verdict = passes(rule.near) ? 'within' : passes(rule.hard) ? 'near' : 'outside'
  if (typeof uncertainty !== 'number') return { ...rule, value, verdict }
  const close = [rule.near, rule.hard].some((edge) => Math.abs(value - edge) < uncertainty)
  return { ...rule, value, verdict, uncertainty, ...(close && { close }) }
}

const listed = (names: readonly string[]) =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`

/** Names as they stand inside a sentence: lower case where they begin with a word. */
const inside = (name: string) => (/^[A-Z][a-z]/.test(name) ? name[0].toLowerCase() + name.slice(1) : name)

/**
 * Judges metrics by limits: the worst rule decides, and the sentence names the figure that is furthest past its edge, the
 * worst patch, what was not read, and a figure that lies within the instrument's noise of its edge. `uncertainties`: of
 * each rule's figure, null where not known. Throws Error when the readings tell no limited figure at all.
 */
export function judge(metrics: Metrics, limits: Limits, uncertainties: readonly (number | null)[] = []): Judgement {
  const formula = formulaOf(limits)
  const rules = limits.rules.map((rule, i) => judgeRule(metrics, rule, formula, uncertainties[i]))
  const told = rules.filter(isTold)
  const untold = rules.filter((r) => !isTold(r))
  const nameOf = (r: LimitRule) => metricLabel(r.metric, { formula, levels: r.levels })
  if (!told.length)
    throw new Error(
      `“${nameOf(rules[0])}” has limits, but the readings hold no ${limitedMetrics[rules[0].metric].needs}, so it cannot be told.`,
    )
  const verdict = told.reduce<JudgedVerdict>(
    (v, r) => (order.indexOf(counted(r)) > order.indexOf(v) ? counted(r) : v),
    'within',
  )
  const pieces: string[] = []
  const worst = differenceFigures(metrics, formula).worst
  let decisive: ToldRule | null = null
  if (verdict === 'within') pieces.push(`Every figure${untold.length ? ' that was read' : ''} is inside its near edge`)
  else {
    const speaking = told.filter((r) => counted(r) === verdict)
    const edge = verdict === 'near' ? 'near' : 'hard'
    decisive = speaking.reduce((a, b) => (excess(b, edge) > excess(a, edge) ? b : a))
    const at = limitedMetrics[decisive.metric].of(metrics, { formula, levels: decisive.levels })?.at
    const figure = `${nameOf(decisive)} is ${formatMetric(decisive.metric, decisive.value)}${at ? `, at ${at}` : ''}`
    const hard = formatMetric(decisive.metric, decisive.hard)
    const than =
      decisive.verdict === 'outside'
        ? `past the hard edge of ${hard}${decisive.weight === 'advises' ? ', which only advises here' : ''}`
        : `past the near edge of ${formatMetric(decisive.metric, decisive.near)} and not past the hard edge of ${hard}`
    pieces.push(`${figure}: ${than}`)
    const others = speaking.length - 1
    if (others)
      pieces.push(
        `${others} more ${others === 1 ? 'figure is' : 'figures are'} past ${others === 1 ? 'its' : 'their'} edge`,
      )
  }
  if (!decisive || decisive.metric !== 'worstDeltaE')
    pieces.push(`the worst patch is ${worst.patch} at ${worst.value.toFixed(2)} ${differenceLabels[formula]}`)
  // Of those that could change the verdict.
  const doubtful = told.filter((r) => r.close && r.weight !== 'told' && (verdict === 'within' || r === decisive))[0]
  if (doubtful)
    pieces.push(
      `${inside(nameOf(doubtful))} is within the instrument’s repeatability (± ${formatMetric(doubtful.metric, doubtful.uncertainty!)}) of its edge`,
    )
  if (untold.length)
    pieces.push(`${listed(untold.map((r) => inside(nameOf(r))))} ${untold.length === 1 ? 'was' : 'were'} not read`)
  return { verdict, rules, formula, sentence: `${pieces.join('; ')}.` }
}

/** The rules by which differences under a formula are told; null where it has no edges of its own. */
export const edgesUnder = (limits: Limits, formula: DifferenceFormula): readonly LimitRule[] | null =>
  formula === formulaOf(limits)
    ? limits.rules.filter((r) => limitedMetrics[r.metric].difference)
    : (limits.others?.[formula] ?? null)
