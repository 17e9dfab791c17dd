import { day } from '../day'

/** A value at an instant (ms since 1970, UTC). */
export interface Observation {
  readonly at: number
  readonly value: number
}

/** A straight trend through observations. */
export interface Trend {
  /** Per day. */
  readonly slope: number
  /** The bounds between which the slope lies with the trend's confidence. */
  readonly slopeLow: number
  readonly slopeHigh: number
  /** The value on the line at an instant. */
  readonly valueAt: (at: number) => number
  /** Median distance of the observations from the line. */
  readonly spread: number
  readonly confidence: number
  readonly observations: number
}

/** Observations below which no trend is told. */
export const fewestObservations = 4

const median = (sorted: readonly number[]) => {
  const middle = sorted.length >> 1
  return sorted.length % 2 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
}
const ascending = (a: number, b: number) => a - b

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
 * The robust trend of observations: the median of the slopes of all pairs, which up to 29 % of wild values do not move,
 * and the median of what is left for its height. The bounds come from the distribution of Kendall's S without a trend.
 * Null when there are fewer than four observations at different instants.
 * H. Theil 1950; P. K. Sen, J. Am. Stat. Assoc. 63 (324), 1968.
 */
export function theilSenTrend(observations: readonly Observation[], confidence = 0.8): Trend | null {
  const n = observations.length
  if (new Set(observations.map((o) => o.at)).size < fewestObservations) return null
  const slopes: number[] = []
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      const days = (observations[i].at - observations[j].at) / day
      if (days !== 0) slopes.push((observations[i].value - observations[j].value) / days)
    }
  slopes.sort(ascending)
  const slope = median(slopes)
  const reach = normalQuantile(0.5 + confidence / 2) * Math.sqrt((n * (n - 1) * (2 * n + 5)) / 18)
  const rank = (r: number) => slopes[Math.min(slopes.length - 1, Math.max(0, Math.round(r)))]
  const origin = observations[0].at
  const rests = observations.map((o) => o.value - (slope * (o.at - origin)) / day).sort(ascending)
  const height = median(rests)
  return {
    slope,
    slopeLow: rank((slopes.length - reach) / 2 - 1),
    slopeHigh: rank((slopes.length + reach) / 2),
    valueAt: (at) => height + (slope * (at - origin)) / day,
    spread: median(rests.map((r) => Math.abs(r - height)).sort(ascending)),
    confidence,
    observations: n,
  }
}
