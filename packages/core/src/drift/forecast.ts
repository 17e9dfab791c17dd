import { day } from '../basics/day'
import { formatDate } from '../aims/figures'
import { fewestObservations, normalQuantile, theilSenTrend, trendAt, type Observation, type Trend } from './theilSen'

/** What the history of a figure says about when it will cross an edge. */
export type Forecast =
  | { readonly kind: 'not enough history'; readonly observations: number; readonly sentence: string }
  | { readonly kind: 'past'; readonly sentence: string }
  | { readonly kind: 'steady'; readonly sentence: string }
  | {
      readonly kind: 'crosses'
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
  /** Share by which the rate ahead may differ from what it was, for figures that do not run quite straight; 0 unless given. */
  readonly bend?: number
}

/** Further than this nothing is promised. */
export const furthestDays = 5 * 365

export const past: Forecast = {
  kind: 'past',
  sentence: 'By its trend the figure has crossed the edge already.',
}
export const steady: Forecast = {
  kind: 'steady',
  sentence: 'The figure does not move towards the edge within five years.',
}

/** A date and its interval in one sentence. */
export function dateSentence(
  { at, earliest, latest }: { readonly at: number; readonly earliest: number; readonly latest: number | null },
  confidence: number,
): string {
  const bounds =
    latest === null ? `not before ${formatDate(earliest)}` : `between ${formatDate(earliest)} and ${formatDate(latest)}`
  return `About ${formatDate(at)}; with ${Math.round(confidence * 100)} % confidence ${bounds}.`
}

/** That there are too few observations for a forecast. */
export const notEnoughHistory = (observations: number): Forecast => ({
  kind: 'not enough history',
  observations,
  sentence: `Not enough history: ${observations} of the ${fewestObservations} checks that a trend needs.`,
})

/** The band around a trend at an instant: so much the line itself may be off, with the trend's confidence. */
export function bandAt(trend: Trend, at: number, bend = 0): number {
  return deviationsOf(trend, bend).z * deviationAt(trend, at, bend)
}

/** The standard deviation of a trend's line at an instant. */
export function deviationAt(trend: Trend, at: number, bend = 0): number {
  const { height, slope } = deviationsOf(trend, bend)
  return Math.hypot(height, (slope * (at - trend.pivot)) / day)
}

/** Standard deviations of a trend's height and slope, and how many of them its confidence spans. */
function deviationsOf(trend: Trend, bend: number) {
  const z = normalQuantile(0.5 + trend.confidence / 2)
  const slope = Math.hypot((trend.slopeHigh - trend.slopeLow) / (2 * z), bend * trend.slope)
  return { z, slope, height: trend.heightDeviation }
}

/**
 * When a figure will cross an edge if it goes on as it has: where its trend meets the edge, and where the two sides of the
 * band around the trend do, which is a quadratic in time. Says so when the edge is past already, and when the figure does
 * not move towards it within five years. For the band E. C. Fieller, J. R. Stat. Soc. B 16 (2), 1954.
 */
export function forecastFromTrend(trend: Trend, { edge, falling = false, now, bend = 0 }: ForecastOptions): Forecast {
  // Everything below looks at a rising figure.
  const sign = falling ? -1 : 1
  const slope = sign * trend.slope
  const left = sign * (edge - trendAt(trend, now))
  const certainlyPast = left + bandAt(trend, now, bend) <= 0
  if (certainlyPast || (left <= 0 && slope <= 0)) return past
  const horizon = now + furthestDays * day
  const room = sign * (edge - trend.height)
  const at = left <= 0 ? now : slope > 0 ? trend.pivot + (room / slope) * day : Infinity
  if (at > horizon) return steady
  const deviation = deviationsOf(trend, bend)
  const a = slope ** 2 - (deviation.z * deviation.slope) ** 2
  const b = -2 * slope * room
  const c = room ** 2 - (deviation.z * deviation.height) ** 2
  const root = Math.sqrt(Math.max(0, b * b - 4 * a * c))
  // In the stable form, so that a band that is nearly parallel to the edge divides by nothing small.
  const first = (2 * c) / (-b + root)
  const second = a > 0 ? (-b + root) / (2 * a) : Infinity
  const earliest = Math.min(at, Math.max(now, trend.pivot + first * day))
  const last = trend.pivot + second * day
  const latest = last <= horizon ? Math.max(at, last) : null
  return { kind: 'crosses', at, earliest, latest, sentence: dateSentence({ at, earliest, latest }, trend.confidence) }
}

/** The forecast of observations; says when their history is too short for one. */
export function forecastCrossing(
  observations: readonly Observation[],
  { confidence, ...options }: ForecastOptions & { readonly confidence?: number },
): Forecast {
  const trend = theilSenTrend(observations, confidence)
  return trend ? forecastFromTrend(trend, options) : notEnoughHistory(observations.length)
}

/** A forecast that was made earlier, as it reads at a later instant when nothing has been learned since. */
export function forecastAsOf(forecast: Forecast, now: number, confidence = 0.8): Forecast {
  if (forecast.kind !== 'crosses' || forecast.earliest >= now) return forecast
  if (forecast.latest !== null && forecast.latest < now) return past
  const times = { at: Math.max(now, forecast.at), earliest: now, latest: forecast.latest }
  return { kind: 'crosses', ...times, sentence: dateSentence(times, confidence) }
}
