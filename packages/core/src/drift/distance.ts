import { convertChromaticityToUv, convertXyzToUv, deltaUv, type Chromaticity } from '../color/chromaticity'
import { day } from '../basics/day'
import { normalFrom, uniformFrom } from '../basics/random'
import { boundedExp } from './boundedExp'
import { dateSentence, furthestDays, past, steady, type Forecast } from './forecast'
import { normalQuantile, type Trend } from './theilSen'

/** Lines of two coordinates that the trends' certainty allows, as deviates: slopes and heights. */
const deviates = (() => {
  const normal = normalFrom(uniformFrom(7))
  return Array.from({ length: 120 }, () => [normal(), normal(), normal(), normal()] as const)
})()

/** A straight line of the logarithm of X/Y or Z/Y, less that of the aim: at an instant, and per day. */
interface Line {
  readonly at: number
  readonly slope: number
}

/** Δu′v′ to a white that such logarithms lead to. */
function distanceFrom(aim: Chromaticity): (x: number, z: number) => number {
  const uv = convertChromaticityToUv(aim)
  const [ratioX, ratioZ] = [aim.x / aim.y, (1 - aim.x - aim.y) / aim.y]
  return (x, z) => deltaUv(convertXyzToUv([ratioX * boundedExp(x), 1, ratioZ * boundedExp(z)]), uv)
}

/** Days after which the white is further than `edge` from its aim, to a hundredth of a day; Infinity beyond the horizon. */
function daysUntilOut(distance: (x: number, z: number) => number, x: Line, z: Line, edge: number): number {
  const at = (days: number) => distance(x.at + x.slope * days, z.at + z.slope * days) - edge
  if (at(0) >= 0) return 0
  let [low, atLow] = [0, at(0)]
  // Coarse steps first: on its way a white may pass its aim.
  for (let high = 30; ; high *= 1.6) {
    const atHigh = at(Math.min(high, furthestDays))
    if (atHigh >= 0) {
      let [a, b, fa, fb] = [low, Math.min(high, furthestDays), atLow, atHigh]
      for (let i = 0; i < 30 && b - a > 0.01; i++) {
        const between = a + ((b - a) * fa) / (fa - fb)
        const found = at(between)
        if (Math.abs(found) < 1e-9) return between
        if (found < 0) [a, fa, fb] = [between, found, fb / 2]
        else [b, fb, fa] = [between, found, fa / 2]
      }
      return (a + b) / 2
    }
    if (high >= furthestDays) return Infinity
    low = high
    atLow = atHigh
  }
}

/** The share, 0–1, of the same 120 lines that are further than `edge` (Δu′v′) from the aim at an instant. */
export function chanceOfDistance(
  x: Trend,
  z: Trend,
  { aimWhite, edge, at }: { readonly aimWhite: Chromaticity; readonly edge: number; readonly at: number },
): number {
  // Searches for a date ask this thousands of times: u′v′ is written out (CIE 15:2018 §8.2), and nothing is allocated.
  const { u, v } = convertChromaticityToUv(aimWhite)
  const [ratioX, ratioZ] = [aimWhite.x / aimWhite.y, (1 - aimWhite.x - aimWhite.y) / aimWhite.y]
  const [quantile, daysX, daysZ] = [normalQuantile(0.5 + x.confidence / 2), (at - x.pivot) / day, (at - z.pivot) / day]
  const [reachX, reachZ] = [(x.slopeHigh - x.slopeLow) / (2 * quantile), (z.slopeHigh - z.slopeLow) / (2 * quantile)]
  let beyond = 0
  for (const [a, b, c, d] of deviates) {
    const X = ratioX * boundedExp(x.height + b * x.heightDeviation + (x.slope + a * reachX) * daysX)
    const Z = ratioZ * boundedExp(z.height + d * z.heightDeviation + (z.slope + c * reachZ) * daysZ)
    const sum = X + 15 + 3 * Z
    if (Math.hypot((4 * X) / sum - u, 9 / sum - v) > edge) beyond++
  }
  return beyond / deviates.length
}

/**
 * When a white comes further than `edge` (Δu′v′) from its aim, from the trends of the logarithms of X/Y and Z/Y: a white
 * that drifts past its aim comes nearer first, which a trend of the distance alone would not know. Date and interval come
 * from 120 pairs of lines drawn from what the trends leave open; always the same draws.
 */
export function forecastDistance(
  x: Trend,
  z: Trend,
  { aimWhite, edge, now }: { readonly aimWhite: Chromaticity; readonly edge: number; readonly now: number },
): Forecast {
  const distance = distanceFrom(aimWhite)
  const confidence = x.confidence
  const quantile = normalQuantile(0.5 + confidence / 2)
  const drawn = (t: Trend, slopeDeviate: number, heightDeviate: number): Line => {
    const slope = t.slope + (slopeDeviate * (t.slopeHigh - t.slopeLow)) / (2 * quantile)
    return { slope, at: t.height + heightDeviate * t.heightDeviation + (slope * (now - t.pivot)) / day }
  }
  const times = deviates
    .map(([a, b, c, d]) => daysUntilOut(distance, drawn(x, a, b), drawn(z, c, d), edge))
    .sort((a, b) => a - b)
  const rank = (share: number) => times[Math.min(times.length - 1, Math.max(0, Math.round(share * times.length) - 1))]
  const slow = rank((1 + confidence) / 2)
  // Past for certain: so say nearly all of the lines.
  if (slow === 0) return past
  const days = rank(0.5)
  if (days > furthestDays) return steady
  const at = now + days * day
  const earliest = Math.min(at, now + rank((1 - confidence) / 2) * day)
  const latest = slow <= furthestDays ? Math.max(at, now + slow * day) : null
  return { kind: 'crosses', at, earliest, latest, sentence: dateSentence({ at, earliest, latest }, confidence) }
}
