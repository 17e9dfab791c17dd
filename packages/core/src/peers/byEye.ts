import { aimCurve, movedWhite, type ResolvedAim } from '../aims/aim'
import { bradfordMatrix } from '../color/adaptation'
import {
  convertChromaticityToUv,
  convertChromaticityToXyz,
  convertXyzToChromaticity,
  type Chromaticity,
  type UvPrime,
} from '../color/chromaticity'
import { invert, multiplyVector, subtract, type Triple } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import { hlgSystemGamma } from '../tone/hlg'

/** Share of the dimmer one's white at which two are matched by eye: what is left above it lets a white be moved. */
export const matchShare = 0.7

/** How far from alike a repetition begins, Δu′v′: enough to be seen at once, on every side. */
const startsApart = 0.008
/** Sides from which repetitions begin, one after another; two that follow are never neighbours. */
const sides = [90, 210, 330, 150, 270, 30] as const
export const matchSides = sides.length

/** Where the repetition from a side begins, beside what is measured alike. */
export const matchStart = (side: number): UvPrime => {
  const angle = (sides[side % sides.length] * Math.PI) / 180
  return { u: startsApart * Math.cos(angle), v: startsApart * Math.sin(angle) }
}

/**
 * The signal (0–1) at which a display that meets an aim shows the aim's white moved in u′v′, at a luminance (cd/m²). Throws
 * RangeError where its channels end before that.
 */
export function matchSignal(aim: ResolvedAim, nudge: UvPrime, luminance: number): Triple {
  const white = movedWhite(convertXyzToChromaticity(aim.white), nudge)
  const light = multiplyVector(invert(aim.matrix), subtract(convertChromaticityToXyz(white, luminance), aim.black))
  if (light.some((v) => !(v >= 0 && v <= 1)))
    throw new RangeError('The display has no such white: one of its channels ends before it.')
  const { encode } = aimCurve(aim)
  if (aim.toneResponse.kind !== 'HLG') return [encode(light[0]), encode(light[1]), encode(light[2])]
  // The system gamma acts on the luminance as a whole; a grey's light is E^γ.
  const gamma = hlgSystemGamma(aim.white[1])
  const whole = (luminance - aim.black[1]) / (aim.white[1] - aim.black[1])
  const of = (v: number) => encode((v * whole ** (1 / gamma - 1)) ** gamma)
  return [of(light[0]), of(light[1]), of(light[2])]
}

/** One repetition: the side that it began from, and by how much the white was moved when they looked alike. */
export interface MatchRepeat extends UvPrime {
  readonly side: number
}

/** What repetitions come to. */
export interface MatchSettled extends UvPrime {
  /** Standard deviation of one repetition in u′ and in v′, both taken together. */
  readonly scatter: number
  /** That of their mean. */
  readonly doubt: number
}

/** The mean of repetitions and how far they scatter. Needs two (RangeError). */
export function settleMatch(repeats: readonly MatchRepeat[]): MatchSettled {
  const n = repeats.length
  if (n < 2) throw new RangeError('One repetition does not tell how far they scatter.')
  const mean = (of: (r: MatchRepeat) => number) => repeats.reduce((sum, r) => sum + of(r), 0) / n
  const [u, v] = [mean((r) => r.u), mean((r) => r.v)]
  const squares = repeats.reduce((sum, r) => sum + (r.u - u) ** 2 + (r.v - v) ** 2, 0)
  const scatter = Math.sqrt(squares / (2 * (n - 1)))
  return { u, v, scatter, doubt: scatter / Math.sqrt(n) }
}

/** How far apart in u′v′ a member has to measure from the one beside it to look like it: what they measured, and what was moved. */
export function matchedOffset(nudge: UvPrime, own: Chromaticity, beside: Chromaticity): UvPrime {
  const [a, b] = [own, beside].map(convertChromaticityToUv)
  return { u: a.u + nudge.u - b.u, v: a.v + nudge.v - b.v }
}

/**
 * Readings of a member as they look beside the others: what its white has to measure to look like the set's becomes the set's,
 * and all colours with it (Bradford).
 */
export function seenByEye(
  readings: readonly PatchReading[],
  white: Chromaticity,
  offset: UvPrime | null,
): readonly PatchReading[] {
  if (!offset) return readings
  const to = convertChromaticityToXyz(white)
  const matrix = bradfordMatrix(convertChromaticityToXyz(movedWhite(white, offset)), to)
  return readings.map((r) => ({ ...r, xyz: multiplyVector(matrix, r.xyz) }))
}
