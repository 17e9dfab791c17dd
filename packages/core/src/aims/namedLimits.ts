import { differenceFormulas, type DifferenceFormula } from '../color/differences'
import { limitedMetrics, type LimitedMetric } from './limitedMetrics'
import type { LimitRule, Limits } from './limits'

/** What a studio may begin with: how strict, what for, and each number with its reason. */
export interface NamedLimits {
  readonly name: string
  readonly for: string
  readonly limits: Limits
}

/**
 * What the edges of an average and of single patches by ΔE2000 come to under other formulas, on displays of 80–300 cd/m²
 * that are a little off in white, tone and primaries: medians over the patches of Prove, rounded.
 */
export const formulaRatios: Readonly<Record<DifferenceFormula, { readonly average: number; readonly single: number }>> =
  {
    de2000: { average: 1, single: 1 },
    de94: { average: 0.9, single: 0.8 },
    de76: { average: 1.4, single: 1 },
    deitp: { average: 2.7, single: 1.7 },
  }

type Edges = readonly [near: number, hard: number, reason: string]

const rule = (metric: LimitedMetric, [near, hard, reason]: Edges): LimitRule => ({ metric, near, hard, reason })

/** The edges of differences under another formula: by the ratio that the formulas have to each other, and saying so. */
export function edgesByRatio(rules: readonly LimitRule[], formula: DifferenceFormula): LimitRule[] {
  const { average, single } = formulaRatios[formula]
  return rules
    .filter((r) => limitedMetrics[r.metric].difference)
    .map((r) => {
      const ratio = r.metric === 'averageDeltaE' ? average : single
      const scaled = (edge: number) => Number((edge * ratio).toFixed(1))
      return {
        ...r,
        near: scaled(r.near),
        hard: scaled(r.hard),
        reason: `What ΔE2000 of ${r.near} and ${r.hard} come to by this formula, whose figures run ${ratio} times as high here.`,
      }
    })
}

const named = (name: string, purpose: string, edges: Readonly<Partial<Record<LimitedMetric, Edges>>>): NamedLimits => {
  const rules = Object.entries(edges).map(([metric, e]) => rule(metric as LimitedMetric, e))
  const others = Object.fromEntries(
    differenceFormulas.filter((f) => f !== 'de2000').map((f) => [f, edgesByRatio(rules, f)]),
  )
  return { name, for: purpose, limits: { formula: 'de2000', rules, others } }
}

/** Sets of limits to begin with. */
export const namedLimits: readonly NamedLimits[] = [
  named('Exacting', 'Proofs on screen, peer sets side by side', {
    averageDeltaE: [0.7, 1, 'An average under 1 is not seen as a shift of the whole picture.'],
    percentile95DeltaE: [
      1.4,
      2,
      'Nineteen of twenty patches: a few single colours may be off, not a region of the gamut.',
    ],
    worstDeltaE: [
      2,
      3,
      'One colour off by 2 to 3 is seen when two displays stand side by side; a good average must not hide it.',
    ],
    whiteDeltaUv: [0.002, 0.004, 'White fills most of a page; two whites 0.004 apart are seen as two whites.'],
    luminanceOff: [2, 4, 'Displays side by side that differ by 4 % in luminance are told apart.'],
    toneError: [0.8, 1.5, 'A step of L* 1 in the greys is about the least that is seen in a gradient.'],
    worstGreyChroma: [0.8, 1.5, 'Casts in greys are seen first, for nothing in a grey hides them.'],
  }),
  named('Working', 'Daily work on one display at a time', {
    averageDeltaE: [
      1,
      1.5,
      'An average under 1 is what a good display holds for weeks; 1.5 leaves room for a month’s drift.',
    ],
    worstDeltaE: [
      2.5,
      4,
      'Single saturated colours may lie at the rim of the gamut; beyond 4 a colour is simply another one.',
    ],
    whiteDeltaUv: [
      0.003,
      0.006,
      'The eye adapts to one display’s white; beyond 0.006 the picture looks tinted all the same.',
    ],
    luminanceOff: [5, 10, 'Luminance falls with age by some per cent a year; 10 % is seen as dim beside paper.'],
    toneError: [1.5, 3, 'Shadows that are 3 L* off open or close by a visible step.'],
    worstGreyChroma: [1.5, 3, 'A cast of 3 in one grey is seen in black and white pictures.'],
  }),
  named('Tolerant', 'Layout, office and control displays', {
    averageDeltaE: [2, 3, 'Up to 3 on average colours are recognised, and no decision is made by them.'],
    worstDeltaE: [5, 8, 'A gamut that is too small for the aim shows here first, and is known.'],
    whiteDeltaUv: [0.006, 0.012, 'White may be another than the neighbour’s, but must still look white.'],
    luminanceOff: [15, 25, 'Bright enough for the room is all that is asked.'],
  }),
]
