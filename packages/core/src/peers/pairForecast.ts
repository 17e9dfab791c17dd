import { day } from '../basics/day'
import { normalFrom, uniformFrom } from '../basics/random'
import { convertUvToChromaticity, convertXyzToUv, type Chromaticity } from '../color/chromaticity'
import type { PairDifference } from './differences'
import type { PeerLimits } from './peerLimits'

/** How fast something changes a day, and the standard deviation of that. */
export interface Rate {
  readonly slope: number
  readonly deviation: number
}

/** How a member's white changes by its own trends: logarithms of its luminance, and of X and Z beside Y. */
export interface MemberRates {
  readonly light: Rate
  readonly x: Rate
  readonly z: Rate
}

/** When two will be told apart by their limits, if both go on as they have. */
export type PairForecast =
  | { readonly kind: 'past' }
  /** Not within five years. */
  | { readonly kind: 'steady' }
  /** Trends of one of them are not known yet. */
  | { readonly kind: 'unknown' }
  /** ms since 1970: the middle, and between what it lies 8 times of 10; null for a late end that is years away. */
  | {
      readonly kind: 'crosses'
      readonly at: number
      readonly early: number
      readonly late: number | null
      readonly by: 'white' | 'luminance'
    }

const furthestDays = 5 * 365
/** Days between two looks ahead. */
const step = 7

const deviates = (() => {
  const normal = normalFrom(uniformFrom(23))
  return Array.from({ length: 160 }, () => [normal(), normal(), normal()] as const)
})()

/** What a day adds to the difference of two, the second less the first. */
function between(one: MemberRates, other: MemberRates, of: keyof MemberRates): Rate {
  return {
    slope: other[of].slope - one[of].slope,
    deviation: Math.hypot(one[of].deviation, other[of].deviation),
  }
}

/**
 * When two members will be further apart than a hard edge, in white or in luminance, by the trends of both: from what they
 * were apart when they were read. The difference of two trends is surer than its parts are beside an aim that neither is
 * held to any more, and may be still where both fade alike. `white`: the first one's. `readAt`: ms since 1970.
 */
export function forecastPair(
  { white: apart }: PairDifference,
  rates: readonly [MemberRates | null, MemberRates | null],
  limits: PeerLimits,
  { white, readAt, now }: { readonly white: Chromaticity; readonly readAt: number; readonly now: number },
): PairForecast {
  if (apart.deltaUv > limits.white.hard || 100 * Math.abs(apart.luminance) > limits.luminance.hard)
    return { kind: 'past' }
  const [one, other] = rates
  if (!one || !other) return { kind: 'unknown' }
  const [light, x, z] = (['light', 'x', 'z'] as const).map((of) => between(one, other, of))
  // Of the second beside the first, as logarithms of X/Y and Z/Y.
  const at = { x: white.x / white.y, z: (1 - white.x - white.y) / white.y }
  const from = convertXyzToUv([at.x, 1, at.z])
  const second = convertUvToChromaticity({ u: from.u + apart.u, v: from.v + apart.v })
  const start = { x: second.x / second.y, z: (1 - second.x - second.y) / second.y, light: Math.log1p(apart.luminance) }
  const passed = Math.max(0, (now - readAt) / day)

  const crossing = (slopes: readonly [number, number, number]): { days: number; by: 'white' | 'luminance' } | null => {
    for (let days = 0; days <= furthestDays; days += step) {
      const off = start.light + slopes[0] * days
      if (100 * Math.abs(Math.expm1(off)) > limits.luminance.hard) return { days, by: 'luminance' }
      const { u, v } = convertXyzToUv([start.x * Math.exp(slopes[1] * days), 1, start.z * Math.exp(slopes[2] * days)])
      if (Math.hypot(u - from.u, v - from.v) > limits.white.hard) return { days, by: 'white' }
    }
    return null
  }
  const middle = crossing([light.slope, x.slope, z.slope])
  if (!middle) return { kind: 'steady' }
  if (middle.days <= passed) return { kind: 'past' }
  const all = deviates
    .map((d) => crossing([light, x, z].map((r, k) => r.slope + r.deviation * d[k]) as [number, number, number]))
    .map((c) => c?.days ?? Infinity)
    .sort((a, b) => a - b)
  const [early, late] = [all[Math.floor(0.1 * all.length)], all[Math.ceil(0.9 * all.length) - 1]]
  return {
    kind: 'crosses',
    at: readAt + middle.days * day,
    early: readAt + Math.min(early, middle.days) * day,
    late: Number.isFinite(late) ? readAt + Math.max(late, middle.days) * day : null,
    by: middle.by,
  }
}
