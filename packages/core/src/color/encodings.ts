import { invert, multiply, diagonal, multiplyVector, transpose, type Matrix3 } from './matrix3'
import type { ToneResponse } from '../tone/toneResponse'
import { convertChromaticityToXyz, type Chromaticity, type XYZ } from './chromaticity'

/** Chromaticities of three primaries. */
export interface Primaries {
  readonly red: Chromaticity
  readonly green: Chromaticity
  readonly blue: Chromaticity
}

const xy = (x: number, y: number): Chromaticity => ({ x, y })

/** Standard whites. CIE 15:2018; D93 as used for 9300 K displays; the cinema white of SMPTE RP 431-2. */
export const standardWhites = {
  D50: xy(0.3457, 0.3585),
  D55: xy(0.3324, 0.3474),
  D65: xy(0.3127, 0.329),
  D75: xy(0.299, 0.3149),
  D93: xy(0.2831, 0.2971),
  'DCI-P3': xy(0.314, 0.351),
} as const
export type StandardWhite = keyof typeof standardWhites

/**
 * Primaries of the standard encodings. IEC 61966-2-1, ITU-R BT.709, IEC 61966-2-5, SMPTE EG 432-1, SMPTE RP 431-2,
 * ITU-R BT.2020, EBU Tech 3213.
 */
export const standardPrimaries = {
  sRGB: { red: xy(0.64, 0.33), green: xy(0.3, 0.6), blue: xy(0.15, 0.06) },
  'BT.709': { red: xy(0.64, 0.33), green: xy(0.3, 0.6), blue: xy(0.15, 0.06) },
  opRGB: { red: xy(0.64, 0.33), green: xy(0.21, 0.71), blue: xy(0.15, 0.06) },
  'Display P3': { red: xy(0.68, 0.32), green: xy(0.265, 0.69), blue: xy(0.15, 0.06) },
  'DCI-P3': { red: xy(0.68, 0.32), green: xy(0.265, 0.69), blue: xy(0.15, 0.06) },
  'BT.2020': { red: xy(0.708, 0.292), green: xy(0.17, 0.797), blue: xy(0.131, 0.046) },
  'EBU 3213': { red: xy(0.64, 0.33), green: xy(0.29, 0.6), blue: xy(0.15, 0.06) },
} as const satisfies Record<string, Primaries>
export type StandardPrimaries = keyof typeof standardPrimaries

/** A standard encoding whole: primaries, white and how light follows the signal. */
export interface Encoding {
  readonly white: StandardWhite
  readonly tone: ToneResponse
}

/** White and tone response of each standard encoding. EBU 3213: the assumed display exponent of ITU-R BT.470-6. */
export const encodings: Readonly<Record<StandardPrimaries, Encoding>> = {
  sRGB: { white: 'D65', tone: { kind: 'sRGB' } },
  'BT.709': { white: 'D65', tone: { kind: 'BT.1886' } },
  opRGB: { white: 'D65', tone: { kind: 'power', exponent: 563 / 256 } },
  'Display P3': { white: 'D65', tone: { kind: 'sRGB' } },
  'DCI-P3': { white: 'DCI-P3', tone: { kind: 'power', exponent: 2.6 } },
  'BT.2020': { white: 'D65', tone: { kind: 'BT.1886' } },
  'EBU 3213': { white: 'D65', tone: { kind: 'power', exponent: 2.8 } },
}

/** The matrix from linear RGB (0–1) to XYZ with white Y 1 of a standard encoding. */
export const matrixOfEncoding = (name: StandardPrimaries): Matrix3 =>
  matrixOfPrimaries(standardPrimaries[name], convertChromaticityToXyz(standardWhites[encodings[name].white]))

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
