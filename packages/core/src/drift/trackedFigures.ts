import { limitedMetricNames, limitedMetrics, type LimitedMetric } from '../aims/limitedMetrics'
import { formulaOf, type LimitRule, type Limits } from '../aims/limits'
import type { Metrics } from '../aims/metrics'
import { convertChromaticityToXyz } from '../color/chromaticity'
import type { DifferenceFormula } from '../color/differences'

/** Figures of one validation by key, as they are kept for trends: small, and told by readings. */
export type TrackedFigures = Readonly<Record<string, number>>

/** The key of a rule's figure: its metric, the formula of a difference, and the grey levels it looks at. */
export function figureKey(
  { metric, levels }: Pick<LimitRule, 'metric' | 'levels'>,
  formula: DifferenceFormula,
): string {
  return `${metric}${limitedMetrics[metric].difference ? `:${formula}` : ''}${levels ? `@${levels.from}-${levels.to}` : ''}`
}

/**
 * Keys of where white lies: its luminance, cd/m², and the logarithms of X/Y and Z/Y less those of the aim. Each kind of
 * light is lost by so many per cent of what is left, so these run straight, as chromaticities do not.
 */
export const whiteKeys = { luminance: 'luminance', x: 'whiteX', z: 'whiteZ' } as const

/**
 * What a validation is remembered by: every figure by ΔE2000 and by its limits' own formula, its limits' figures by
 * level, and where its white lies. Luminance off aim keeps its sign, for a display may cross its aim on the way down.
 */
export function trackedFigures(metrics: Metrics, limits: Limits): TrackedFigures {
  const figures: Record<string, number> = {}
  const keep = (rule: Pick<LimitRule, 'metric' | 'levels'>, formula: DifferenceFormula) => {
    const value = limitedMetrics[rule.metric].of(metrics, { formula, levels: rule.levels })?.value
    if (value !== undefined && Number.isFinite(value)) figures[figureKey(rule, formula)] = value
  }
  const formula = formulaOf(limits)
  for (const f of new Set<DifferenceFormula>(['de2000', formula]))
    for (const metric of limitedMetricNames) keep({ metric }, f)
  for (const rule of limits.rules) if (rule.levels) keep(rule, formula)
  const white = convertChromaticityToXyz(metrics.white)
  const aim = convertChromaticityToXyz(metrics.aimWhite)
  const further: TrackedFigures = {
    [signedKey]: metrics.luminanceOff,
    [whiteKeys.luminance]: metrics.luminance,
    [whiteKeys.x]: Math.log(white[0] / aim[0]),
    [whiteKeys.z]: Math.log(white[2] / aim[2]),
  }
  // A white that lacks one of its parts has no logarithm of it: that figure is not told, and the others are.
  for (const [key, value] of Object.entries(further)) if (Number.isFinite(value)) figures[key] = value
  return figures
}

const signedMetric: LimitedMetric = 'luminanceOff'
/** The figure that is kept with its sign. */
export const signedKey: string = signedMetric
