import type { Triple } from './matrix3'
import type { XYZ } from './chromaticity'

/** CIELAB L*, a*, b*. */
export type Lab = Triple

const epsilon = (6 / 29) ** 3
const kappa = (29 / 3) ** 3
/** The root of a relative X, Y or Z of which CIELAB is made: straight near nothing. CIE 15:2018 §8.2.1. */
export const labRoot = (t: number): number => (t > epsilon ? Math.cbrt(t) : (kappa * t + 16) / 116)
const backward = (f: number) => (f > 6 / 29 ? f ** 3 : (116 * f - 16) / kappa)

/** CIELAB from XYZ relative to a reference white, both in one unit. CIE 15:2018 §8.2.1. */
export function convertXyzToLab([X, Y, Z]: XYZ, [Xn, Yn, Zn]: XYZ): Lab {
  const fx = labRoot(X / Xn)
  const fy = labRoot(Y / Yn)
  const fz = labRoot(Z / Zn)
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)]
}

/** XYZ from CIELAB, in the unit of the reference white. Inverse of {@link convertXyzToLab}. */
export function convertLabToXyz([L, a, b]: Lab, [Xn, Yn, Zn]: XYZ): XYZ {
  const fy = (L + 16) / 116
  return [Xn * backward(fy + a / 500), Yn * backward(fy), Zn * backward(fy - b / 200)]
}

/** CIE lightness L* (0–100) of a luminance relative to white. CIE 15:2018 §8.2.1. */
export const lightnessOf = (relativeLuminance: number): number => 116 * labRoot(relativeLuminance) - 16

/** Luminance relative to white of a CIE lightness L*. Inverse of {@link lightnessOf}. */
export const relativeLuminanceOf = (lightness: number): number => backward((lightness + 16) / 116)
