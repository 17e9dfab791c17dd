import { convertXyzToUv, type XYZ } from './chromaticity'
import { lightnessOf, relativeLuminanceOf } from './lab'
import type { Triple } from './matrix3'

/** CIELUV L*, u*, v*. */
export type Luv = Triple

/** CIELUV from XYZ relative to a reference white, both in one unit; black is 0 0 0. CIE 15:2018 §8.2.2. */
export function convertXyzToLuv(xyz: XYZ, white: XYZ): Luv {
  const lightness = lightnessOf(xyz[1] / white[1])
  if (!(xyz[0] + 15 * xyz[1] + 3 * xyz[2] > 0)) return [lightness, 0, 0]
  const p = convertXyzToUv(xyz)
  const n = convertXyzToUv(white)
  return [lightness, 13 * lightness * (p.u - n.u), 13 * lightness * (p.v - n.v)]
}

/** XYZ from CIELUV, in the unit of the reference white. Inverse of {@link convertXyzToLuv}. */
export function convertLuvToXyz([L, us, vs]: Luv, white: XYZ): XYZ {
  if (L === 0) return [0, 0, 0]
  const n = convertXyzToUv(white)
  const u = us / (13 * L) + n.u
  const v = vs / (13 * L) + n.v
  const Y = white[1] * relativeLuminanceOf(L)
  return [(Y * 9 * u) / (4 * v), Y, (Y * (12 - 3 * u - 20 * v)) / (4 * v)]
}
