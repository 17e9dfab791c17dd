import { invert, multiplyVector, type Matrix3, type Triple } from './matrix3'
import type { XYZ } from './chromaticity'

/** Oklab L (0–1), a, b. */
export type Oklab = Triple

/** B. Ottosson's matrices, with the digits of CSS Color Module Level 4 §17 (XYZ under D65, white Y 1). */
const toCone: Matrix3 = [
  [0.819022437996703, 0.3619062600528904, -0.1288737815209879],
  [0.0329836539323885, 0.9292868615863434, 0.0361446663506424],
  [0.0481771893596242, 0.2642395317527308, 0.6335478284694309],
]
const toOpponent: Matrix3 = [
  [0.210454268309314, 0.7936177747023054, -0.0040720430116193],
  [1.9779985324311684, -2.4285922420485799, 0.450593709617411],
  [0.0259040424655478, 0.7827717124575296, -0.8086757549230774],
]
const fromCone = invert(toCone)
const fromOpponent = invert(toOpponent)

/** Oklab from XYZ under D65 with white Y 1. */
export const convertXyzToOklab = (xyz: XYZ): Oklab =>
  multiplyVector(toOpponent, multiplyVector(toCone, xyz).map(Math.cbrt) as unknown as Triple)

/** XYZ under D65 with white Y 1. Inverse of {@link convertXyzToOklab}. */
export const convertOklabToXyz = (oklab: Oklab): XYZ =>
  multiplyVector(fromCone, multiplyVector(fromOpponent, oklab).map((v) => v ** 3) as unknown as Triple)
