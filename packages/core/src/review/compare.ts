import { judgingWhite } from '../aims/differenceFigures'
import { limitedMetricNames, limitedMetrics, metricLabel, type LimitedMetric } from '../aims/limitedMetrics'
import type { Metrics } from '../aims/metrics'
import { deltaOfXyz, type DifferenceFormula } from '../color/differences'
import { convertXyzToLab, type Lab } from '../color/lab'
import { formatSigned } from '../aims/figures'
import { sameSignal } from './patchKinds'

/** A figure of two validations; the difference is the second less the first, of the figures as shown. */
interface ComparedFigure {
  readonly name: string
  readonly first: string
  readonly second: string
  readonly difference: string
  /** Which of the two is nearer to its aim, where that can be said. */
  readonly nearer: 'first' | 'second' | null
}

/** A patch that both have read. */
export interface ComparedPatch {
  readonly name: string
  readonly rgb: readonly [number, number, number]
  readonly first: Lab
  readonly second: Lab
  /** To the aim of each. */
  readonly firstOff: number
  readonly secondOff: number
  /** Second less first: negative where the second is nearer to its aim. */
  readonly change: number
  /** What a person would see between the two, side by side, under the first one's white. */
  readonly apart: number
}

export interface Comparison {
  readonly figures: readonly ComparedFigure[]
  /** The furthest apart first. */
  readonly patches: readonly ComparedPatch[]
  /** Patches that only one of them has read. */
  readonly unmatched: number
}

interface Compared {
  readonly name: string
  readonly unit: string
  readonly digits: number
  readonly of: (m: Metrics) => number | null
  /** The value that would be right; null where none is. */
  readonly aim: ((m: Metrics) => number) | null
}

const limited = (metric: LimitedMetric, formula: DifferenceFormula): Compared => {
  const { unit, digits, of, atLeast } = limitedMetrics[metric]
  return {
    name: metricLabel(metric, { formula }),
    unit,
    digits,
    of: (m) => of(m, { formula })?.value ?? null,
    aim: atLeast || metric === 'black' ? null : () => 0,
  }
}

const own: readonly Compared[] = [
  { name: 'White x', unit: '', digits: 4, of: (m) => m.white.x, aim: (m) => m.aimWhite.x },
  { name: 'White y', unit: '', digits: 4, of: (m) => m.white.y, aim: (m) => m.aimWhite.y },
  { name: 'Luminance', unit: 'cd/m²', digits: 1, of: (m) => m.luminance, aim: (m) => m.aimLuminance },
  {
    name: 'Tone, average',
    unit: '',
    digits: 2,
    of: (m) => (m.greys.length ? m.averageExponent : null),
    aim: (m) => m.aimAverageExponent,
  },
]

function compareFigure({ name, unit, digits, of, aim }: Compared, a: Metrics, b: Metrics): ComparedFigure {
  const [first, second] = [of(a), of(b)]
  const shown = (v: number | null) => (v === null ? '–' : Number.isFinite(v) ? v.toFixed(digits) : 'endless')
  const both = first !== null && second !== null && Number.isFinite(first) && Number.isFinite(second)
  const off = (m: Metrics, v: number) => Math.abs(Number(v.toFixed(digits)) - aim!(m))
  const [offFirst, offSecond] = both && aim ? [off(a, first), off(b, second)] : [0, 0]
  return {
    name: unit ? `${name}, ${unit}` : name,
    first: shown(first),
    second: shown(second),
    difference: both ? formatSigned(Number(second.toFixed(digits)) - Number(first.toFixed(digits)), digits) : '–',
    nearer: Math.abs(offFirst - offSecond) < 10 ** -digits / 2 ? null : offFirst < offSecond ? 'first' : 'second',
  }
}

/** Two validations figure by figure and patch by patch, patches matched by their signal. */
export function compareMetrics(a: Metrics, b: Metrics, formula: DifferenceFormula): Comparison {
  const rows = [...own, ...limitedMetricNames.filter((m) => m !== 'luminanceOff').map((m) => limited(m, formula))]
  const white = judgingWhite(a)
  const left = [...b.patches]
  const [whiteA, whiteB] = [judgingWhite(a), judgingWhite(b)]
  const patches = a.patches.flatMap((p): ComparedPatch[] => {
    const at = left.findIndex((q) => sameSignal(p.rgb, q.rgb))
    if (at < 0) return []
    const [other] = left.splice(at, 1)
    const firstOff = deltaOfXyz(formula, p.target, p.xyz, whiteA)
    const secondOff = deltaOfXyz(formula, other.target, other.xyz, whiteB)
    return [
      {
        name: p.name,
        rgb: p.rgb,
        first: convertXyzToLab(p.xyz, white),
        second: convertXyzToLab(other.xyz, white),
        firstOff,
        secondOff,
        change: secondOff - firstOff,
        apart: deltaOfXyz(formula, p.xyz, other.xyz, white),
      },
    ]
  })
  return {
    figures: rows.map((r) => compareFigure(r, a, b)),
    patches: patches.sort((x, y) => y.apart - x.apart),
    unmatched: a.patches.length + b.patches.length - 2 * patches.length,
  }
}
