import { day } from '../day'
import { fewestObservations, theilSenTrend, type Observation, type Trend } from './theilSen'

/** What the history of a figure says about when it will cross an edge. */
export type Forecast =
  | { readonly kind: 'not enough history'; readonly observations: number; readonly sentence: string }
  | { readonly kind: 'past'; readonly trend: Trend; readonly sentence: string }
  | { readonly kind: 'steady'; readonly trend: Trend; readonly sentence: string }
  | {
      readonly kind: 'crosses'
      readonly trend: Trend
      /** ms since 1970, UTC. */
      readonly at: number
      readonly earliest: number
      /** Null when the slower bound of the trend never gets there. */
      readonly latest: number | null
      readonly sentence: string
    }

export interface ForecastOptions {
  /** The figure's edge. */
  readonly edge: number
  /** Whether figures below the edge are bad (luminance, contrast) instead of those above. */
  readonly falling?: boolean
  /** ms since 1970, UTC; nothing is foretold before it. */
  readonly now: number
  /** Of the interval, 0–1. */
  readonly confidence?: number
}

/** Further than this nothing is promised. */
const furthestDays = 5 * 365

const dateOf = (at: number) => new Date(at).toISOString().slice(0, 10)

/**
 * When a figure will cross an edge if it goes on as it has: from its robust trend, with the interval that the bounds of
 * the slope give, pivoted at the middle of the history. Says so when the history is too short, when the edge is past
 * already, and when the figure does not move towards it within five years.
 */
export function forecastCrossing(
  observations: readonly Observation[],
  { edge, falling = false, now, confidence = 0.8 }: ForecastOptions,
): Forecast {
  const trend = theilSenTrend(observations, confidence)
  if (!trend)
    return {
      kind: 'not enough history',
      observations: observations.length,
      sentence: `Not enough history: ${observations.length} of the ${fewestObservations} checks that a trend needs.`,
    }
  // Everything below looks at a rising figure.
  const sign = falling ? -1 : 1
  const left = sign * (edge - trend.valueAt(now))
  if (left <= 0) return { kind: 'past', trend, sentence: 'By its trend the figure has crossed the edge already.' }
  const times = observations.map((o) => o.at).sort((a, b) => a - b)
  const pivot = (times[0] + times[times.length - 1]) / 2
  const room = sign * (edge - trend.valueAt(pivot))
  const [slow, fast] = falling ? [-trend.slopeHigh, -trend.slopeLow] : [trend.slopeLow, trend.slopeHigh]
  /** When a slope through the pivot reaches the edge; null when it does not within the horizon. */
  const reach = (slope: number) => {
    const at = pivot + (room / slope) * day
    return slope > 0 && at <= now + furthestDays * day ? Math.max(now, at) : null
  }
  const at = reach(sign * trend.slope)
  const earliest = reach(fast)
  if (at === null || earliest === null)
    return { kind: 'steady', trend, sentence: 'The figure does not move towards the edge within five years.' }
  const latest = reach(slow)
  const bounds =
    latest === null ? `not before ${dateOf(earliest)}` : `between ${dateOf(earliest)} and ${dateOf(latest)}`
  return {
    kind: 'crosses',
    trend,
    at,
    earliest,
    latest,
    sentence: `About ${dateOf(at)}; with ${Math.round(confidence * 100)} % confidence ${bounds}.`,
  }
}
