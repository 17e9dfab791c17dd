import { day } from '../basics/day'

/** A value at an instant (ms since 1970, UTC). */
export interface Observation {
  readonly at: number
  readonly value: number
  /** Which stretch of history it belongs to: a calibration begins a new one. All of them one stretch when left out. */
  readonly segment?: number
}

/** A straight trend through observations; plain data, so that it can be kept. Values per day, instants in ms since 1970. */
export interface Trend {
  readonly slope: number
  /** The bounds between which the slope lies with the trend's confidence. */
  readonly slopeLow: number
  readonly slopeHigh: number
  /** The middle of the newest segment, and the value on the line there. */
  readonly pivot: number
  readonly height: number
  /** Standard deviations: of the height at the pivot, and of one observation around its line. */
  readonly heightDeviation: number
  readonly spread: number
  readonly confidence: number
  readonly observations: number
}

/** The value on a trend's line at an instant. */
export const trendAt = (trend: Pick<Trend, 'slope' | 'pivot' | 'height'>, at: number): number =>
  trend.height + (trend.slope * (at - trend.pivot)) / day

/** Observations below which no trend is told. */
export const fewestObservations = 4

const medianOf = (sorted: ArrayLike<number>) => {
  const middle = sorted.length >> 1
  return sorted.length % 2 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
}
const ascending = (a: number, b: number) => a - b
export const median = (values: readonly number[]): number => medianOf([...values].sort(ascending))

/**
 * The standard normal quantile of a probability within 0–1 (exclusive), off by less than 4.5e-4.
 * M. Abramowitz, I. Stegun, Handbook of Mathematical Functions, 1964, 26.2.23.
 */
export function normalQuantile(probability: number): number {
  const p = Math.min(probability, 1 - probability)
  const t = Math.sqrt(-2 * Math.log(p))
  const z = t - (2.515517 + 0.802853 * t + 0.010328 * t * t) / (1 + 1.432788 * t + 0.189269 * t * t + 0.001308 * t ** 3)
  return probability < 0.5 ? -z : z
}

/**
 * The probability, 0–1, that a standard normal variable is below z, off by less than 7.5e-8.
 * M. Abramowitz, I. Stegun, Handbook of Mathematical Functions, 1964, 26.2.17.
 */
export function normalProbability(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z))
  const polynomial = t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  const above = (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * polynomial
  return z < 0 ? above : 1 - above
}

/** A median of normal deviates is so much less certain than their mean; a median distance makes a deviation so. */
const medianDeviation = Math.sqrt(Math.PI / 2)
const deviationOfMedian = 1.4826

/** Observations by segment, in the order in which the segments begin. */
function segmentsOf(observations: readonly Observation[]): Observation[][] {
  const segments = new Map<number, Observation[]>()
  for (const o of [...observations].sort((a, b) => a.at - b.at)) {
    const key = o.segment ?? 0
    const known = segments.get(key)
    if (known) known.push(o)
    else segments.set(key, [o])
  }
  return [...segments.values()]
}

/**
 * The robust trend of observations: the median of the slopes of all pairs of one segment, which up to 29 % of wild values
 * do not move, and for its height the median of what is left in the newest segment. A calibration sets a figure back but
 * does not change how fast the panel ages, so pairs are never taken across one. The bounds of the slope come from the
 * distribution of Kendall's S without a trend, summed over the segments. Null when fewer than four observations at
 * different instants stand in segments of two or more, or the newest has none.
 * H. Theil 1950; P. K. Sen, J. Am. Stat. Assoc. 63 (324), 1968; for the segments R. M. Hirsch, J. R. Slack, R. A. Smith,
 * Water Resources Research 18 (1), 1982.
 */
export function theilSenTrend(observations: readonly Observation[], confidence = 0.8): Trend | null {
  const segments = segmentsOf(observations)
  const telling = segments.filter((s) => new Set(s.map((o) => o.at)).size > 1)
  const instants = telling.reduce((sum, s) => sum + new Set(s.map((o) => o.at)).size, 0)
  if (instants < fewestObservations) return null
  const found: number[] = []
  let variance = 0
  for (const s of telling) {
    const n = s.length
    variance += (n * (n - 1) * (2 * n + 5)) / 18
    for (let i = 0; i < n; i++)
      for (let j = 0; j < i; j++) {
        const days = (s[i].at - s[j].at) / day
        if (days !== 0) found.push((s[i].value - s[j].value) / days)
      }
  }
  const slopes = Float64Array.from(found).sort()
  const slope = medianOf(slopes)
  const reach = normalQuantile(0.5 + confidence / 2) * Math.sqrt(variance)
  const rank = (r: number) => slopes[Math.min(slopes.length - 1, Math.max(0, Math.round(r)))]

  const restsOf = (s: readonly Observation[]) => s.map((o) => o.value - (slope * (o.at - s[0].at)) / day)
  const distances = telling.flatMap((s) => {
    const rests = restsOf(s)
    const middle = median(rests)
    return rests.map((r) => Math.abs(r - middle))
  })
  const count = distances.length
  // One height for each segment and one slope were taken from the same observations.
  const freedom = Math.max(1, count - telling.length - 1)
  const spread = deviationOfMedian * median(distances) * Math.sqrt(count / freedom)

  const newest = segments[segments.length - 1]
  const pivot = (newest[0].at + newest[newest.length - 1].at) / 2
  const height = median(newest.map((o) => o.value - (slope * (o.at - pivot)) / day))
  return {
    slope,
    slopeLow: rank((slopes.length - reach) / 2 - 1),
    slopeHigh: rank((slopes.length + reach) / 2),
    pivot,
    height,
    heightDeviation: ((newest.length > 2 ? medianDeviation : 1) * spread) / Math.sqrt(newest.length),
    spread,
    confidence,
    observations: instants,
  }
}
