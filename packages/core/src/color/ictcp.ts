import { decodePq, encodePq } from '../tone/pq'
import { convertChromaticityToXyz, type XYZ } from './chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites } from './encodings'
import { invert, multiply, multiplyVector, type Matrix3, type Triple } from './matrix3'

/** ICtCp with PQ: I, Ct, Cp. */
export type ICtCp = Triple

const scaled = (rows: readonly Triple[]): Matrix3 => rows.map((row) => row.map((v) => v / 4096)) as unknown as Matrix3

/** ITU-R BT.2100-2 table 7. */
const rgbToLms = scaled([
  [1688, 2146, 262],
  [683, 2951, 462],
  [99, 309, 3688],
])
const lmsToICtCp = scaled([
  [2048, 2048, 0],
  [6610, -13613, 7003],
  [17933, -17390, -543],
])
const xyzToLms = multiply(
  rgbToLms,
  invert(matrixOfPrimaries(standardPrimaries['BT.2020'], convertChromaticityToXyz(standardWhites.D65))),
)
const lmsToXyz = invert(xyzToLms)
const iCtCpToLms = invert(lmsToICtCp)

/** ICtCp (PQ) from absolute XYZ in cd/m²; light beyond 0–10,000 is clamped. ITU-R BT.2100-2 table 7. */
export const convertXyzToICtCp = (xyz: XYZ): ICtCp =>
  multiplyVector(lmsToICtCp, multiplyVector(xyzToLms, xyz).map(encodePq) as unknown as Triple)

/** Absolute XYZ in cd/m². Inverse of {@link convertXyzToICtCp}. */
export const convertICtCpToXyz = (ictcp: ICtCp): XYZ =>
  multiplyVector(lmsToXyz, multiplyVector(iCtCpToLms, ictcp).map(decodePq) as unknown as Triple)
