import type { PatchReading } from '../color/patchReading'
import type { XYZ } from '../color/chromaticity'
import { add, invert, multiplyVector, subtract, transpose, type Matrix3, type Triple } from '../color/matrix3'
import { greyLevelsOf, readingOf, type AdditiveModel } from './additiveModel'
import { monotoneCurve } from '../tone/monotoneCurve'

/** An additive model of a display with a white subpixel, which shines with the least of the three channels. */
export interface SharedLightModel extends AdditiveModel {
  /** Light of the white subpixel at full signal, cd/m². */
  readonly shared: XYZ
}

/** Red, green and blue together, as a share of white, from which a display certainly has no white subpixel. */
const nearlyAdditive = 0.98

/** Share of white's light that comes with the least channel. */
export const surplusOf = ({ shared, white, black }: SharedLightModel): number => shared[1] / (white[1] - black[1])
/** From which nothing else than a white subpixel can be its reason. */
export const surelyShared = 0.12

/**
 * The channels' linear light that gives a light, of a display whose white subpixel shines with the least of the three:
 * light = matrix·v + shared·min(v). With u = matrix⁻¹·light and s = matrix⁻¹·shared, v = u − s·m, and the channel that is the
 * least gives m = u ÷ (1 + s), the smallest such of the three; so there is one answer and no iteration. What lies below
 * black leaves the white subpixel dark. `back`: matrix⁻¹; needs 1 + s above 0, which is so wherever white is more than its
 * primaries together.
 */
export function unshareLight(back: Matrix3, sharedBack: Triple, light: XYZ): Triple {
  const u = multiplyVector(back, light)
  const least = Math.max(0, Math.min(...u.map((v, c) => v / (1 + sharedBack[c]))))
  return [u[0] - sharedBack[0] * least, u[1] - sharedBack[1] * least, u[2] - sharedBack[2] * least]
}

/**
 * Fits a display whose white is more than its primaries together; null for one whose white is not, or whose readings lack
 * a corner or two greys. White less the primaries is what shines with the least channel; greys give the curves.
 */
export function fitWithSharedLight(readings: readonly PatchReading[]): SharedLightModel | null {
  const find = (...rgb: [number, number, number]) => readingOf(readings, rgb)
  const [black, white, red, green, blue] = [find(0, 0, 0), find(1, 1, 1), find(1, 0, 0), find(0, 1, 0), find(0, 0, 1)]
  if (!black || !white || !red || !green || !blue) return null
  const columns = [red, green, blue].map((xyz) => subtract(xyz, black)) as [XYZ, XYZ, XYZ]
  const together = add(add(columns[0], columns[1]), columns[2])
  const whole = subtract(white, black)
  if (together[1] / whole[1] >= nearlyAdditive) return null
  const shared = subtract(whole, together)
  const matrix = transpose(columns)
  const back = invert(matrix)
  const sharedBack = multiplyVector(back, shared)
  // A white subpixel of a light that its primaries could not balance: no such display is known, and none is made up.
  if (Math.min(...sharedBack) <= -1) return null
  const toLinear = (xyz: XYZ): Triple => unshareLight(back, sharedBack, subtract(xyz, black))
  const levels = greyLevelsOf(readings)
  if (levels.length < 2) return null
  const greys = levels.map((v) => toLinear(find(v, v, v)!))
  const curves = ([0, 1, 2] as const).map((c) => {
    const root = [0, ...greys.map((g) => Math.cbrt(Math.max(0, g[c]))), 1]
    for (let i = 1; i < root.length; i++) root[i] = Math.min(1, Math.max(root[i], root[i - 1]))
    const curve = monotoneCurve([0, ...levels, 1], root)
    return (v: number) => curve(v) ** 3
  }) as unknown as AdditiveModel['curves']
  return { black, white, matrix, curves, shared }
}
