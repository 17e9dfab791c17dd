import { diagonal, invert, multiply, multiplyVector, type Matrix3 } from './matrix3'
import type { XYZ } from './chromaticity'

/** Cone response matrices: Bradford (ICC.1:2022 annex E) and CAT16 (C. Li et al., Color Res. Appl. 42 (6), 2017). */
const coneMatrices = {
  bradford: [
    [0.8951, 0.2664, -0.1614],
    [-0.7502, 1.7135, 0.0367],
    [0.0389, -0.0685, 1.0296],
  ],
  cat16: [
    [0.401288, 0.650173, -0.051461],
    [-0.250268, 1.204414, 0.045854],
    [-0.002079, 0.048952, 0.953127],
  ],
} satisfies Record<string, Matrix3>
export type AdaptationMethod = keyof typeof coneMatrices

/** The matrix that takes XYZ under `from` to the corresponding XYZ under `to`, adaptation complete (D = 1). */
export function adaptationMatrix(method: AdaptationMethod, from: XYZ, to: XYZ): Matrix3 {
  const cone: Matrix3 = coneMatrices[method] as Matrix3
  const source = multiplyVector(cone, from)
  const target = multiplyVector(cone, to)
  const gains = diagonal([target[0] / source[0], target[1] / source[1], target[2] / source[2]])
  return multiply(invert(cone), multiply(gains, cone))
}

/** The linear Bradford matrix. ICC.1:2022 annex E. */
export const bradfordMatrix = (from: XYZ, to: XYZ): Matrix3 => adaptationMatrix('bradford', from, to)
