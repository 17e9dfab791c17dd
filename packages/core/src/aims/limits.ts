import { differenceLabels, type DifferenceFormula } from '../color/differences'
import { differenceFigures } from './differenceFigures'
import type { DoubtPart } from './doubt/instrumentDoubt'
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

/** What decides where doubt covers a hard edge: that it cannot be told, or the figure as it was seen. */
export const decisions = ['guarded', 'simple'] as const
export type Decision = (typeof decisions)[number]

export interface Limits {
  /** Guarded when left out. JCGM 106 calls these decision rules. */
  readonly decision?: Decision
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

/** What the figures alone say; untold: that they cannot be told from what the instrument leaves open. */
export const judgedVerdicts = ['within', 'near', 'untold', 'outside'] as const
export type JudgedVerdict = (typeof judgedVerdicts)[number]

/** What is said of a display: the figures' verdict, or that there is none, or none that is fresh. */
export type Verdict = JudgedVerdict | 'unproven' | 'lapsed'

/** Between what a figure truly lies, 95 times of 100. */
export interface Interval {
  readonly low: number
  readonly high: number
}

export interface RuleResult extends LimitRule {
  /** Null where the readings do not tell it. */
  readonly value: number | null
  /** Unproven where the readings do not tell it. */
  readonly verdict: JudgedVerdict | 'unproven'
  /** Absent where nothing is known of the instrument. */
  readonly interval?: Interval
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

/** How far a figure is past an edge, as a ratio above 1; one that cannot be told, at the worse end of what it may be. */
const excess = ({ metric, value, verdict, interval, ...edges }: ToldRule, edge: 'near' | 'hard') => {
  const { atLeast } = limitedMetrics[metric]
  const at = verdict === 'untold' ? (atLeast ? interval!.low : interval!.high) : value
  return atLeast ? edges[edge] / Math.max(at, 1e-9) : at / edges[edge]
}

const order: readonly JudgedVerdict[] = judgedVerdicts

/** What a rule says of the whole, by its weight. */
const counted = ({ verdict, weight = 'decides' }: ToldRule): JudgedVerdict =>
  weight === 'decides' ? verdict : weight === 'advises' && verdict !== 'within' ? 'near' : 'within'

/** What is known beside the figures: between what each rule's lies, null where nobody knows, and what most of that comes from. */
export interface Doubt {
  readonly intervals: readonly (Interval | null)[]
  readonly mostly: DoubtPart
  /** Why nothing that was read can be trusted to be within, as a sentence goes on with it; null where nothing says so. */
  readonly unsure: string | null
}

/**
 * One rule on metrics; the value on an edge is still on its good side. Where its interval lies on both sides of the hard
 * edge it cannot be told, unless the decision is simple.
 */
export function judgeRule(
  metrics: Metrics,
  rule: LimitRule,
  formula: DifferenceFormula,
  { interval, decision = 'guarded' }: { interval?: Interval | null; decision?: Decision } = {},
): RuleResult {
  const { of, atLeast } = limitedMetrics[rule.metric]
  const value = of(metrics, { formula, levels: rule.levels })?.value ?? null
  if (value === null) return { ...rule, value, verdict: 'unproven' }
  const passes = (figure: number, edge: number) => (atLeast ? figure >= edge : figure <= edge)
  const seen = passes(value, rule.near) ? 'within' : passes(value, rule.hard) ? 'near' : 'outside'
  if (!interval) return { ...rule, value, verdict: seen }
  const covered = passes(interval.low, rule.hard) !== passes(interval.high, rule.hard)
  return { ...rule, value, interval, verdict: covered && decision === 'guarded' ? 'untold' : seen }
}

/** What most of a doubt comes from, and what would tell more, as a sentence goes on with them. */
const doubtWords: Readonly<Record<DoubtPart, readonly [from: string, remedy: string]>> = {
  optics: ['the optics of the reference', 'a finer reference would tell more'],
  correction: ['the correction', 'one made on this display, or a spectroradiometer, would tell more'],
  certificate: ['what the certificate leaves open', 'an instrument with a closer one would tell more'],
  age: ['the age of the certificate or the correction', 'a newer one would tell more'],
  drift: ['how far the display moved meanwhile', 'reading it again at rest would tell more'],
  noise: ['how the instrument repeats', 'reading it again would tell more'],
}

const listed = (names: readonly string[]) =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`

/** Names as they stand inside a sentence: lower case where they begin with a word. */
const inside = (name: string) => (/^[A-Z][a-z]/.test(name) ? name[0].toLowerCase() + name.slice(1) : name)

/** How the figure that decides lies to its edges. */
function edgeWords({ metric, verdict, interval, weight, ...edges }: ToldRule, mostly: DoubtPart | undefined): string {
  const told = (value: number) => formatMetric(metric, value)
  switch (verdict) {
    case 'untold': {
      const cause = mostly ? `, mostly by ${doubtWords[mostly].join('; ')}` : ''
      const advice = weight === 'advises' ? '; it only advises here' : ''
      return `it may be ${told(interval!.low)} to ${told(interval!.high)}, across the hard edge of ${told(edges.hard)}${cause}${advice}`
    }
    case 'outside':
      return `past the hard edge of ${told(edges.hard)}${weight === 'advises' ? ', which only advises here' : ''}`
    default:
      return `past the near edge of ${told(edges.near)} and not past the hard edge of ${told(edges.hard)}`
  }
}

const othersWords = (verdict: JudgedVerdict, others: number): string[] =>
  others === 0
    ? []
    : verdict === 'untold'
      ? [`${others} more ${others === 1 ? 'figure' : 'figures'} cannot be told`]
      : [`${others} more ${others === 1 ? 'figure is past its edge' : 'figures are past their edge'}`]

/**
 * Judges metrics by limits: the worst rule decides, and the sentence names the figure that is furthest past its edge or
 * cannot be told, the worst patch and what was not read. Throws Error when the readings tell no limited figure at all.
 */
export function judge(metrics: Metrics, limits: Limits, doubt?: Doubt | null): Judgement {
  const formula = formulaOf(limits)
  const { decision } = limits
  const rules = limits.rules.map((rule, i) =>
    judgeRule(metrics, rule, formula, { interval: doubt?.intervals[i], decision }),
  )
  const told = rules.filter(isTold)
  const unread = rules.filter((r) => !isTold(r))
  const nameOf = (r: LimitRule) => metricLabel(r.metric, { formula, levels: r.levels })
  if (!told.length)
    throw new Error(
      `“${nameOf(rules[0])}” has limits, but the readings hold no ${limitedMetrics[rules[0].metric].needs}, so it cannot be told.`,
    )
  const figures = told.reduce<JudgedVerdict>(
    (v, r) => (order.indexOf(counted(r)) > order.indexOf(v) ? counted(r) : v),
    'within',
  )
  const unsure = doubt?.unsure && figures !== 'outside' ? doubt.unsure : null
  const verdict = unsure ? 'untold' : figures
  const pieces: string[] = unsure ? [`Nothing can be told while ${unsure}`] : []
  const worst = differenceFigures(metrics, formula).worst
  let decisive: ToldRule | null = null
  if (verdict === 'within') pieces.push(`Every figure${unread.length ? ' that was read' : ''} is inside its near edge`)
  else if (figures !== 'within') {
    const speaking = told.filter((r) => counted(r) === figures)
    const edge = figures === 'near' ? 'near' : 'hard'
    decisive = speaking.reduce((a, b) => (excess(b, edge) > excess(a, edge) ? b : a))
    const at = limitedMetrics[decisive.metric].of(metrics, { formula, levels: decisive.levels })?.at
    const figure = `${nameOf(decisive)} is ${formatMetric(decisive.metric, decisive.value)}${at ? `, at ${at}` : ''}`
    pieces.push(`${figure}: ${edgeWords(decisive, doubt?.mostly)}`, ...othersWords(figures, speaking.length - 1))
  }
  if (!decisive || decisive.metric !== 'worstDeltaE')
    pieces.push(`the worst patch is ${worst.patch} at ${worst.value.toFixed(2)} ${differenceLabels[formula]}`)
  if (unread.length)
    pieces.push(`${listed(unread.map((r) => inside(nameOf(r))))} ${unread.length === 1 ? 'was' : 'were'} not read`)
  return { verdict, rules, formula, sentence: `${pieces.join('; ')}.` }
}

/** The rules by which differences under a formula are told; null where it has no edges of its own. */
export const edgesUnder = (limits: Limits, formula: DifferenceFormula): readonly LimitRule[] | null =>
  formula === formulaOf(limits)
    ? limits.rules.filter((r) => limitedMetrics[r.metric].difference)
    : (limits.others?.[formula] ?? null)
