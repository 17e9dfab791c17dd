import { invert, multiplyVector, subtract, transpose, type Matrix3, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import type { PatchReading } from '../color/patchReading'
import { fitMatrix } from '../tables/fitMatrix'
import { monotoneCurve, type CurveFunction } from '../tone/monotoneCurve'

/** A display without crosstalk: XYZ = black + matrix · (curve(r), curve(g), curve(b)). */
export interface AdditiveModel {
  /** cd/m² */
  readonly black: XYZ
  /** cd/m² */
  readonly white: XYZ
  /** Columns red, green, blue above black, cd/m². */
  readonly matrix: Matrix3
  /** Per channel: signal 0–1 → linear light 0–1. */
  readonly curves: readonly [CurveFunction, CurveFunction, CurveFunction]
}

/** Signals of greys between black and white that were read, rising. */
export const greyLevelsOf = (readings: readonly PatchReading[]): number[] =>
  [...new Set(readings.filter((p) => isGrey(p.rgb)).map((p) => p.rgb[0]))].sort((a, b) => a - b)

const isGrey = ([r, g, b]: Triple) => r === g && g === b && r > 0 && r < 1

/** The reading of one colour, the mean where it was read more than once. */
export function readingOf(readings: readonly PatchReading[], rgb: Triple): XYZ | null {
  const same = readings.filter((p) => p.rgb.every((v, i) => v === rgb[i]))
  if (!same.length) return null
  return [0, 1, 2].map((k) => same.reduce((sum, p) => sum + p.xyz[k], 0) / same.length) as unknown as XYZ
}

/**
 * Fits an additive model to readings: greys give the curves, all colours together the matrix, with white held. Needs
 * black, white, red, green, blue and two greys or more between; throws Error naming what is missing.
 */
export function fitAdditiveModel(readings: readonly PatchReading[]): AdditiveModel {
  const find = (rgb: Triple, name: string) => {
    const found = readingOf(readings, rgb)
    if (!found) throw new Error(`The readings hold no ${name} (RGB ${rgb.map((v) => v * 100).join(' ')} %).`)
    return found
  }
  const black = find([0, 0, 0], 'black')
  const white = find([1, 1, 1], 'white')
  const light = (xyz: XYZ) => subtract(xyz, black)
  const columns = transpose([
    light(find([1, 0, 0], 'red')),
    light(find([0, 1, 0], 'green')),
    light(find([0, 0, 1], 'blue')),
  ])
  const back = invert(columns)
  const toLinear = (xyz: XYZ) => multiplyVector(back, light(xyz))
  const full = toLinear(white)

  const levels = greyLevelsOf(readings)
  if (levels.length < 2) throw new Error('The readings hold fewer than two greys between black and white.')
  const greys = levels.map((v) => toLinear(readingOf(readings, [v, v, v])!))
  const curves = ([0, 1, 2] as const).map((c) => {
    // The cube root of light is nearly straight against the signal, so few points describe it well.
    const root = [0, ...greys.map((g) => Math.cbrt(Math.max(0, g[c] / full[c]))), 1]
    for (let i = 1; i < root.length; i++) root[i] = Math.min(1, Math.max(root[i], root[i - 1]))
    const curve = monotoneCurve([0, ...levels, 1], root)
    return (v: number) => curve(v) ** 3
  }) as unknown as AdditiveModel['curves']
  const colors = readings.map(({ rgb, xyz }) => ({
    input: rgb.map((v, c) => curves[c](v)) as unknown as Triple,
    output: light(xyz),
  }))
  return { black, white, curves, matrix: fitMatrix(colors, { input: [1, 1, 1], output: light(white) }) }
}
