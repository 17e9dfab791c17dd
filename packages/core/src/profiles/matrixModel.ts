import { add, invert, multiplyVector, subtract, transpose, type Matrix3, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { monotoneCurve, type CurveFunction } from '../tone/monotoneCurve'
import { fitMatrix } from '../tables/fitMatrix'
import type { PatchReading } from '../aims/metrics'

/** A display as a matrix profile sees it: XYZ = matrix · (curve(r), curve(g), curve(b)), black included in the curves. */
export interface MatrixModel {
  /** Columns red, green, blue in cd/m². */
  readonly matrix: Matrix3
  /** Per channel: signal 0–1 → 0–1, reaching 1 at 1 and the channel's share of black at 0. */
  readonly curves: readonly [CurveFunction, CurveFunction, CurveFunction]
  readonly white: XYZ
}

/**
 * Fits a matrix model to readings of a display: the greys give the curves, all colours together the matrix, with white
 * held. Needs black, white, red, green, blue and two greys or more between; throws Error naming what is missing.
 */
export function fitMatrixModel(readings: readonly PatchReading[]): MatrixModel {
  const find = (rgb: Triple, name: string) => {
    const found = readings.find((p) => p.rgb.every((v, i) => v === rgb[i]))
    if (!found) throw new Error(`A profile needs a reading of ${name}.`)
    return found.xyz
  }
  const black = find([0, 0, 0], 'black')
  const white = find([1, 1, 1], 'white')
  const light = (xyz: XYZ) => subtract(xyz, black)
  const columns = transpose([
    light(find([1, 0, 0], 'red')),
    light(find([0, 1, 0], 'green')),
    light(find([0, 0, 1], 'blue')),
  ])
  const toLinear = (xyz: XYZ) => multiplyVector(invert(columns), light(xyz))
  const full = toLinear(white)

  const greys = readings
    .filter(({ rgb: [r, g, b] }) => r === g && g === b && r > 0 && r < 1)
    .sort((a, b) => a.rgb[0] - b.rgb[0])
  if (greys.length < 2) throw new Error('A profile needs two greys or more between black and white.')
  const shape = ([0, 1, 2] as const).map((c) => {
    // The cube root of light is nearly straight against the signal, so few points describe it well.
    const at = [0, ...greys.map((g) => g.rgb[0]), 1]
    const root = [0, ...greys.map((g) => Math.cbrt(Math.max(0, toLinear(g.xyz)[c] / full[c]))), 1]
    for (let i = 1; i < root.length; i++) root[i] = Math.max(root[i], root[i - 1])
    const curve = monotoneCurve(at, root)
    return (v: number) => curve(v) ** 3
  })
  const colors = readings.map(({ rgb, xyz }) => ({
    input: rgb.map((v, c) => shape[c](v)) as unknown as Triple,
    output: light(xyz),
  }))
  const above = fitMatrix(colors, { input: [1, 1, 1], output: light(white) })

  // Black belongs to the channels that leak it: their share is added to each curve and the column scaled to match.
  const share = multiplyVector(invert(above), black).map((s) => Math.max(0, s))
  const matrix = above.map((row) => row.map((v, c) => v * (1 + share[c]))) as unknown as Matrix3
  const curves = shape.map((curve, c) => (v: number) => (share[c] + curve(v)) / (1 + share[c]))
  return { matrix, curves: curves as unknown as MatrixModel['curves'], white: add(light(white), black) }
}
