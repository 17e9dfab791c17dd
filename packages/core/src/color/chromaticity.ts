import type { Triple } from './matrix3'

/** CIE tristimulus values X, Y, Z. Absolute values are in cd/m² (Y is the luminance). */
export type XYZ = Triple

/** A CIE 1931 chromaticity. */
export interface Chromaticity {
  readonly x: number
  readonly y: number
}

/** A CIE 1976 u′v′ chromaticity. */
export interface UvPrime {
  readonly u: number
  readonly v: number
}

/** CIE 1931 xy from XYZ (any scale). Throws RangeError on X+Y+Z ≤ 0. CIE 15:2018 §7.1. */
export function convertXyzToChromaticity([X, Y, Z]: XYZ): Chromaticity {
  const sum = X + Y + Z
  if (!(sum > 0)) throw new RangeError('A stimulus without light has no chromaticity.')
  return { x: X / sum, y: Y / sum }
}

/** XYZ of a chromaticity at a luminance (same unit as the result). Throws RangeError on y ≤ 0. */
export function convertChromaticityToXyz({ x, y }: Chromaticity, luminance = 1): XYZ {
  if (!(y > 0)) throw new RangeError('A chromaticity needs y above 0.')
  return [(x / y) * luminance, luminance, ((1 - x - y) / y) * luminance]
}

/** CIE 1976 u′v′ from XYZ (any scale). Throws RangeError on X+15Y+3Z ≤ 0. CIE 15:2018 §8.2. */
export function convertXyzToUv([X, Y, Z]: XYZ): UvPrime {
  const sum = X + 15 * Y + 3 * Z
  if (!(sum > 0)) throw new RangeError('A stimulus without light has no chromaticity.')
  return { u: (4 * X) / sum, v: (9 * Y) / sum }
}

/** CIE 1976 u′v′ from CIE 1931 xy. CIE 15:2018 §8.2. */
export function convertChromaticityToUv({ x, y }: Chromaticity): UvPrime {
  const sum = -2 * x + 12 * y + 3
  return { u: (4 * x) / sum, v: (9 * y) / sum }
}

/** CIE 1931 xy from CIE 1976 u′v′. */
export function convertUvToChromaticity({ u, v }: UvPrime): Chromaticity {
  const sum = 6 * u - 16 * v + 12
  return { x: (9 * u) / sum, y: (4 * v) / sum }
}

/** Δu′v′: the distance of two chromaticities in the CIE 1976 diagram. */
export const deltaUv = (a: UvPrime, b: UvPrime): number => Math.hypot(a.u - b.u, a.v - b.v)
