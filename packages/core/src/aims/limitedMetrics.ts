import type { Metrics } from './metrics'

interface Definition {
  /** As a sentence begins with it. */
  readonly label: string
  readonly unit: string
  readonly digits: number
  /** The largest hard edge that makes sense. */
  readonly most: number
  readonly valueOf: (metrics: Metrics) => number
  /** What to name beside the figure. */
  readonly noteOf?: (metrics: Metrics) => string
}

const definitions = {
  averageDeltaE: { label: 'Average ΔE2000', unit: '', digits: 2, most: 20, valueOf: (m) => m.averageDeltaE },
  worstDeltaE: {
    label: 'Worst ΔE2000',
    unit: '',
    digits: 2,
    most: 50,
    valueOf: (m) => m.worstDeltaE,
    noteOf: (m) => m.worstPatch,
  },
  whiteDeltaUv: { label: 'White Δu′v′', unit: '', digits: 4, most: 0.1, valueOf: (m) => m.whiteDeltaUv },
  luminanceOff: {
    label: 'Luminance off aim',
    unit: '%',
    digits: 1,
    most: 50,
    valueOf: (m) => Math.abs(m.luminanceOff),
  },
} satisfies Record<string, Definition>

export type LimitedMetric = keyof typeof definitions

/** The figures that a rule can limit. All are zero at their best. */
export const limitedMetrics: Readonly<Record<LimitedMetric, Definition>> = definitions
export const limitedMetricNames = Object.keys(limitedMetrics) as LimitedMetric[]

/** A figure with the digits it deserves and its unit. */
export function formatMetric(metric: LimitedMetric, value: number): string {
  const { digits, unit } = limitedMetrics[metric]
  return value.toFixed(digits) + (unit && ` ${unit}`)
}
