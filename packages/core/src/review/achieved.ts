import { formatDoubt, formatEdge, formatMetric, metricLabel } from '../aims/limitedMetrics'
import type { Judgement, RuleResult } from '../aims/limits'
import type { Metrics } from '../aims/metrics'
import { formatSigned, formatTemperature, verdictWords } from '../aims/figures'

/** One figure as people read it: aim, achieved and difference stand together. */
export interface AchievedRow {
  readonly name: string
  readonly unit?: string
  readonly aim: string
  readonly achieved: string
  readonly difference: string
  /** One of the finer figures, which a short table leaves out. */
  readonly fine?: true
}

const dash = '–'
const tens = (kelvin: number) => Math.round(kelvin / 10) * 10

/** What was aimed at and what was achieved. Differences are of the figures as shown, so that who subtracts gets the same. */
export function achievedRows(m: Metrics): AchievedRow[] {
  const kelvin =
    m.whiteTemperature !== null && m.aimWhiteTemperature !== null
      ? formatSigned(tens(m.whiteTemperature) - tens(m.aimWhiteTemperature), 0)
      : dash
  const pair = (name: string, aim: number, achieved: number, digits: number, fine?: true): AchievedRow => ({
    name,
    aim: aim.toFixed(digits),
    achieved: achieved.toFixed(digits),
    difference: formatSigned(Number(achieved.toFixed(digits)) - Number(aim.toFixed(digits)), digits),
    ...(fine && { fine }),
  })
  const gamut: AchievedRow[] = m.gamut
    ? [
        {
          name: 'Coverage, u′v′',
          unit: '%',
          aim: dash,
          achieved: m.gamut.uv.coverage.toFixed(1),
          difference: dash,
        },
        {
          name: 'Area ratio, u′v′',
          unit: '%',
          aim: dash,
          achieved: m.gamut.uv.areaRatio.toFixed(1),
          difference: dash,
          fine: true,
        },
      ]
    : []
  return [
    {
      name: 'White',
      aim: formatTemperature(m.aimWhiteTemperature),
      achieved: formatTemperature(m.whiteTemperature),
      difference: kelvin,
    },
    pair('White x', m.aimWhite.x, m.white.x, 4, true),
    pair('White y', m.aimWhite.y, m.white.y, 4, true),
    {
      name: 'Luminance',
      unit: 'cd/m²',
      aim: m.aimLuminance.toFixed(1),
      achieved: m.luminance.toFixed(1),
      difference: `${formatSigned(m.luminanceOff, 1)} %`,
    },
    ...(m.greys.length ? [pair('Tone, average', m.aimAverageExponent, m.averageExponent, 2)] : []),
    { name: 'Black', unit: 'cd/m²', aim: 'its own', achieved: m.black.toFixed(2), difference: dash },
    {
      name: 'Contrast',
      aim: dash,
      achieved: m.contrast === null ? dash : `${Math.round(m.contrast)} : 1`,
      difference: dash,
    },
    ...(m.greys.length
      ? [{ name: 'Grey chroma', aim: dash, achieved: m.averageGreyChroma.toFixed(2), difference: dash }]
      : []),
    ...gamut,
  ]
}

/** A limited figure as people read it. */
export interface RuleRow {
  readonly name: string
  readonly near: string
  readonly hard: string
  readonly achieved: string
  /** How far it may be off, 95 times of 100; empty where nothing is known of that. */
  readonly doubt: string
  readonly verdict: RuleResult['verdict']
  readonly word: string
  /** What the rule counts for, where it does not decide. */
  readonly note: string
  readonly reason: string
}

const weightNotes = { decides: '', advises: 'only advises', told: 'only told' } as const

/** The limited figures with their edges and verdicts. */
export const ruleRows = ({ rules, formula }: Pick<Judgement, 'rules' | 'formula'>): RuleRow[] =>
  rules.map((r) => ({
    name: metricLabel(r.metric, { formula, levels: r.levels }),
    near: formatEdge(r.metric, r.near),
    hard: formatEdge(r.metric, r.hard),
    achieved: formatMetric(r.metric, r.value),
    verdict: r.verdict,
    word: r.verdict === 'unproven' ? 'not read' : verdictWords[r.verdict],
    doubt: r.interval && r.value !== null ? formatDoubt(r.metric, r.value, r.interval) : '',
    note: weightNotes[r.weight ?? 'decides'],
    reason: r.reason ?? '',
  }))
