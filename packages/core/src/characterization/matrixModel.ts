import { invert, multiplyVector, type Matrix3 } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import type { CurveFunction } from '../tone/monotoneCurve'
import type { PatchReading } from '../color/patchReading'
import { fitAdditiveModel } from './additiveModel'

/** A display as a matrix profile sees it: XYZ = matrix · (curve(r), curve(g), curve(b)), black included in the curves. */
export interface MatrixModel {
  /** Columns red, green, blue in cd/m². */
  readonly matrix: Matrix3
  /** Per channel: signal 0–1 → 0–1, reaching 1 at 1 and the channel's share of black at 0. */
  readonly curves: readonly [CurveFunction, CurveFunction, CurveFunction]
  readonly white: XYZ
}

/** Fits a matrix model to readings of a display; needs and throws what {@link fitAdditiveModel} does. */
export function fitMatrixModel(readings: readonly PatchReading[]): MatrixModel {
  const { black, white, matrix: above, curves: shape } = fitAdditiveModel(readings)
  // Black belongs to the channels that leak it: their share is added to each curve and the column scaled to match.
  const share = multiplyVector(invert(above), black).map((s) => Math.max(0, s))
  const matrix = above.map((row) => row.map((v, c) => v * (1 + share[c]))) as unknown as Matrix3
  const curves = shape.map((curve, c) => (v: number) => (share[c] + curve(v)) / (1 + share[c]))
  return { matrix, curves: curves as unknown as MatrixModel['curves'], white }
}
