import { invert, multiply, diagonal, multiplyVector, transpose, type Matrix3 } from './matrix3'
import { convertChromaticityToXyz, type Chromaticity, type XYZ } from './chromaticity'

/** Chromaticities of three primaries. */
export interface Primaries {
  readonly red: Chromaticity
  readonly green: Chromaticity
  readonly blue: Chromaticity
}

const xy = (x: number, y: number): Chromaticity => ({ x, y })

/** Standard whites. CIE 15:2018; D93 as used for 9300 K displays. */
export const standardWhites = {
  D50: xy(0.3457, 0.3585),
  D55: xy(0.3324, 0.3474),
  D65: xy(0.3127, 0.329),
  D93: xy(0.2831, 0.2971),
} as const
export type StandardWhite = keyof typeof standardWhites

/** Primaries of the standard encodings. IEC 61966-2-1, ITU-R BT.709, IEC 61966-2-5, SMPTE EG 432-1. */
export const standardPrimaries = {
  sRGB: { red: xy(0.64, 0.33), green: xy(0.3, 0.6), blue: xy(0.15, 0.06) },
  'BT.709': { red: xy(0.64, 0.33), green: xy(0.3, 0.6), blue: xy(0.15, 0.06) },
  opRGB: { red: xy(0.64, 0.33), green: xy(0.21, 0.71), blue: xy(0.15, 0.06) },
  'Display P3': { red: xy(0.68, 0.32), green: xy(0.265, 0.69), blue: xy(0.15, 0.06) },
} as const satisfies Record<string, Primaries>
export type StandardPrimaries = keyof typeof standardPrimaries

/** The profile connection space's white: D50 as ICC.1:2022 §6.3.4.3 rounds it. */
export const pcsWhite: XYZ = [0.9642, 1, 0.8249]

/**
 * The matrix from linear RGB (0–1) to XYZ in the unit of `white`, for given primaries: RGB 1 1 1 gives `white`.
 * Throws RangeError when the primaries lie on one line. SMPTE RP 177.
 */
export function matrixOfPrimaries(primaries: Primaries, white: XYZ): Matrix3 {
  const columns = transpose([
    convertChromaticityToXyz(primaries.red),
    convertChromaticityToXyz(primaries.green),
    convertChromaticityToXyz(primaries.blue),
  ])
  return multiply(columns, diagonal(multiplyVector(invert(columns), white)))
}
