import { differenceLabels, type DifferenceFormula } from '../color/differences'
import { differenceFigures, type DifferenceFigures } from './differenceFigures'
import type { JudgedGrey, Metrics } from './metrics'

/** The grey levels that a rule looks at: signal, 0–1, both ends included. */
export interface LevelRange {
  readonly from: number
  readonly to: number
}

/** What a rule looks at besides its metric. */
export interface Under {
  readonly formula: DifferenceFormula
  readonly levels?: LevelRange
}

/** A figure, with what to name beside it. */
interface Told {
  readonly value: number
  readonly at?: string
}

interface Definition {
  /** As a sentence begins with it; differences are followed by their formula. */
  readonly label: string
  readonly unit: string
  readonly digits: number
  /** The largest edge that makes sense. */
  readonly most: number
  /** Whether more is better: the edges are then the least that will do. */
  readonly atLeast?: true
  /** A colour difference: its figure and its edges belong to one formula. */
  readonly difference?: true
  /** A figure of grey levels, which a rule may narrow to some of them. */
  readonly byLevel?: true
  /** The edges that a new rule starts from; differences by ΔE2000. */
  readonly start: { readonly near: number; readonly hard: number }
  /** Null when the readings do not tell. */
  readonly of: (metrics: Metrics, under: Under) => Told | null
  /** What has to be read for the figure to be told. */
  readonly needs?: string
}

const levelName = (level: number) => `grey ${Number((level * 100).toFixed(1))} %`
const greys = 'grey between black and white'
const primaries = 'full red, green and blue'
const uniformity = 'uniformity run of the display'

const difference = (
  label: string,
  start: Definition['start'],
  of: (figures: DifferenceFigures) => Told | null,
  most = 50,
): Definition => ({
  label,
  unit: '',
  digits: 2,
  most,
  difference: true,
  start,
  of: (m, { formula }) => of(differenceFigures(m, formula)),
})

const greysIn = (m: Metrics, levels: LevelRange | undefined) =>
  levels ? m.greys.filter((g) => g.level >= levels.from && g.level <= levels.to) : m.greys

/** A figure of greys: the one furthest from zero among the levels looked at. */
const worstGrey = (
  label: string,
  unit: Pick<Definition, 'unit' | 'digits' | 'most'>,
  start: Definition['start'],
  of: (grey: JudgedGrey) => number,
): Definition => ({
  label,
  ...unit,
  byLevel: true,
  start,
  needs: greys,
  of: (m, { levels }) =>
    greysIn(m, levels).reduce<Told | null>((worst, g) => {
      const value = Math.abs(of(g))
      return worst && worst.value >= value ? worst : { value, at: levelName(g.level) }
    }, null),
})

const plain = (of: (m: Metrics) => number) => (m: Metrics) => ({ value: of(m) })

const definitions = {
  averageDeltaE: difference('Average', { near: 1, hard: 2 }, (f) => ({ value: f.average }), 20),
  worstDeltaE: difference('Worst', { near: 2, hard: 3 }, ({ worst }) => ({ value: worst.value, at: worst.patch })),
  whiteDeltaUv: {
    label: 'White Δu′v′',
    unit: '',
    digits: 4,
    most: 0.1,
    start: { near: 0.002, hard: 0.004 },
    of: plain((m) => m.whiteDeltaUv),
  },
  luminanceOff: {
    label: 'Luminance off aim',
    unit: '%',
    digits: 1,
    most: 50,
    start: { near: 1, hard: 2 },
    of: plain((m) => Math.abs(m.luminanceOff)),
  },
  percentile95DeltaE: difference('95th percentile', { near: 1.5, hard: 2.5 }, (f) => ({ value: f.percentile95 })),
  worstPrimaryDeltaE: {
    ...difference('Worst primary', { near: 2, hard: 3 }, ({ worstPrimary: w }) => w && { value: w.value, at: w.patch }),
    needs: primaries,
  },
  whiteDeltaE: difference('White', { near: 1, hard: 2 }, (f) => ({ value: f.white })),
  toneError: worstGrey(
    'Worst tone error ΔL*',
    { unit: '', digits: 2, most: 50 },
    { near: 1, hard: 2 },
    (g) => g.lightnessError,
  ),
  greyChroma: {
    label: 'Average grey chroma',
    unit: '',
    digits: 2,
    most: 20,
    byLevel: true,
    start: { near: 0.5, hard: 1 },
    needs: greys,
    of: (m, { levels }) => {
      const some = greysIn(m, levels)
      return some.length ? { value: some.reduce((sum, g) => sum + g.chroma, 0) / some.length } : null
    },
  },
  worstGreyChroma: worstGrey(
    'Worst grey chroma',
    { unit: '', digits: 2, most: 20 },
    { near: 1, hard: 2 },
    (g) => g.chroma,
  ),
  worstGreyDeltaUv: worstGrey(
    'Worst grey Δu′v′',
    { unit: '', digits: 4, most: 0.1 },
    { near: 0.004, hard: 0.008 },
    (g) => g.deltaUv,
  ),
  black: {
    label: 'Black',
    unit: 'cd/m²',
    digits: 2,
    most: 100,
    start: { near: 0.2, hard: 0.4 },
    of: plain((m) => m.black),
  },
  contrast: {
    label: 'Contrast',
    unit: 'to 1',
    digits: 0,
    most: 1e6,
    atLeast: true,
    start: { near: 500, hard: 300 },
    of: plain((m) => m.contrast ?? Infinity),
  },
  coverage: {
    label: 'Coverage in u′v′',
    unit: '%',
    digits: 0,
    most: 100,
    atLeast: true,
    start: { near: 98, hard: 95 },
    needs: primaries,
    of: (m) => m.gamut && { value: m.gamut.uv.coverage },
  },
  uniformityLuminance: {
    label: 'Unevenness in luminance',
    unit: '%',
    digits: 1,
    most: 100,
    start: { near: 8, hard: 15 },
    needs: uniformity,
    of: (m) => (m.uniformity ? { value: Math.abs(m.uniformity.luminanceOff), at: m.uniformity.at } : null),
  },
  uniformityUv: {
    label: 'Unevenness Δu′v′',
    unit: '',
    digits: 4,
    most: 0.1,
    start: { near: 0.004, hard: 0.008 },
    needs: uniformity,
    of: (m) => (m.uniformity ? { value: m.uniformity.deltaUv } : null),
  },
} satisfies Record<string, Definition>

export type LimitedMetric = keyof typeof definitions

/** The figures that a rule can limit. */
export const limitedMetrics: Readonly<Record<LimitedMetric, Definition>> = definitions
export const limitedMetricNames = Object.keys(limitedMetrics) as LimitedMetric[]

/** A figure's name: differences with their formula, figures of some grey levels with those. */
export function metricLabel(metric: LimitedMetric, { formula, levels }: Partial<Under> = {}): string {
  const { label, difference } = limitedMetrics[metric]
  const percent = (v: number) => Number((100 * v).toFixed(1))
  return `${label}${difference ? ` ${differenceLabels[formula ?? 'de2000']}` : ''}${levels ? `, greys ${percent(levels.from)}–${percent(levels.to)} %` : ''}`
}

/** A figure with the digits it deserves and its unit; a dash for one that was not told. */
export function formatMetric(metric: LimitedMetric, value: number | null): string {
  if (value === null) return '–'
  if (!Number.isFinite(value)) return 'endless'
  const { digits, unit } = limitedMetrics[metric]
  return value.toFixed(digits) + (unit && ` ${unit}`)
}

/** Sides of an interval that differ by no more than this share of the larger are told as one. */
const nearlyEven = 0.3

/** How far a figure may be off to either side, in its own digits: ± 0.30, or +0.78 −0.05 where the sides differ. */
export function formatDoubt(
  metric: LimitedMetric,
  value: number,
  { low, high }: { readonly low: number; readonly high: number },
): string {
  const { digits } = limitedMetrics[metric]
  if (!Number.isFinite(value)) return ''
  const [up, down] = [Math.max(0, high - value), Math.max(0, value - low)]
  const larger = Math.max(up, down)
  if (Math.abs(up - down) <= nearlyEven * larger) return `± ${larger.toFixed(digits)}`
  return `+${up.toFixed(digits)} −${down.toFixed(digits)}`
}

/** An edge as a bound: ≤ 1.00, or ≥ 98 % where more is better. */
export const formatEdge = (metric: LimitedMetric, edge: number): string =>
  `${limitedMetrics[metric].atLeast ? '≥' : '≤'} ${formatMetric(metric, edge)}`
