import type { Metrics } from './metrics'

interface Definition {
  /** As a sentence begins with it. */
  readonly label: string
  readonly unit: string
  readonly digits: number
  /** The largest edge that makes sense. */
  readonly most: number
  /** Whether more is better: the edges are then the least that will do. */
  readonly atLeast?: true
  /** The edges that a new rule starts from. */
  readonly start: { readonly near: number; readonly hard: number }
  /** Null when the readings do not tell. */
  readonly valueOf: (metrics: Metrics) => number | null
  /** What to name beside the figure. */
  readonly noteOf?: (metrics: Metrics) => string
  /** What has to be read for the figure to be told. */
  readonly needs?: string
}

const level = (at: number | undefined) => (at === undefined ? '' : `grey ${Number((at * 100).toFixed(1))} %`)
const greys = 'grey between black and white'

const definitions = {
  averageDeltaE: {
    label: 'Average ΔE2000',
    unit: '',
    digits: 2,
    most: 20,
    start: { near: 1, hard: 2 },
    valueOf: (m) => m.averageDeltaE,
  },
  worstDeltaE: {
    label: 'Worst ΔE2000',
    unit: '',
    digits: 2,
    most: 50,
    start: { near: 2, hard: 3 },
    valueOf: (m) => m.worstDeltaE,
    noteOf: (m) => m.worstPatch,
  },
  whiteDeltaUv: {
    label: 'White Δu′v′',
    unit: '',
    digits: 4,
    most: 0.1,
    start: { near: 0.002, hard: 0.004 },
    valueOf: (m) => m.whiteDeltaUv,
  },
  luminanceOff: {
    label: 'Luminance off aim',
    unit: '%',
    digits: 1,
    most: 50,
    start: { near: 1, hard: 2 },
    valueOf: (m) => Math.abs(m.luminanceOff),
  },
  percentile95DeltaE: {
    label: '95th percentile ΔE2000',
    unit: '',
    digits: 2,
    most: 50,
    start: { near: 1.5, hard: 2.5 },
    valueOf: (m) => m.percentile95DeltaE,
  },
  toneError: {
    label: 'Worst tone error ΔL*',
    unit: '',
    digits: 2,
    most: 50,
    start: { near: 1, hard: 2 },
    valueOf: (m) => m.worstTone && Math.abs(m.worstTone.value),
    noteOf: (m) => level(m.worstTone?.level),
    needs: greys,
  },
  greyChroma: {
    label: 'Average grey chroma',
    unit: '',
    digits: 2,
    most: 20,
    start: { near: 0.5, hard: 1 },
    valueOf: (m) => (m.greys.length ? m.averageGreyChroma : null),
    needs: greys,
  },
  worstGreyChroma: {
    label: 'Worst grey chroma',
    unit: '',
    digits: 2,
    most: 20,
    start: { near: 1, hard: 2 },
    valueOf: (m) => m.worstGreyChroma && m.worstGreyChroma.value,
    noteOf: (m) => level(m.worstGreyChroma?.level),
    needs: greys,
  },
  black: {
    label: 'Black',
    unit: 'cd/m²',
    digits: 2,
    most: 100,
    start: { near: 0.2, hard: 0.4 },
    valueOf: (m) => m.black,
  },
  contrast: {
    label: 'Contrast',
    unit: 'to 1',
    digits: 0,
    most: 1e6,
    atLeast: true,
    start: { near: 500, hard: 300 },
    valueOf: (m) => m.contrast ?? Infinity,
  },
  coverage: {
    label: 'Coverage in u′v′',
    unit: '%',
    digits: 0,
    most: 100,
    atLeast: true,
    start: { near: 98, hard: 95 },
    valueOf: (m) => m.gamut && m.gamut.uv.coverage,
    needs: 'full red, green and blue',
  },
} satisfies Record<string, Definition>

export type LimitedMetric = keyof typeof definitions

/** The figures that a rule can limit. */
export const limitedMetrics: Readonly<Record<LimitedMetric, Definition>> = definitions
export const limitedMetricNames = Object.keys(limitedMetrics) as LimitedMetric[]

/** A figure with the digits it deserves and its unit. */
export function formatMetric(metric: LimitedMetric, value: number): string {
  const { digits, unit } = limitedMetrics[metric]
  return value.toFixed(digits) + (unit && ` ${unit}`)
}

/** An edge as a bound: ≤ 1.00, or ≥ 98 % where more is better. */
export const formatEdge = (metric: LimitedMetric, edge: number): string =>
  `${limitedMetrics[metric].atLeast ? '≥' : '≤'} ${formatMetric(metric, edge)}`
