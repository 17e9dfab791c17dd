import { diagonal, invert, multiply, multiplyVector, type Matrix3 } from './matrix3'
import type { XYZ } from './chromaticity'

/** The cone response matrix named after Bradford. ICC.1:2022 annex E. */
const bradfordCone: Matrix3 = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
]
const bradfordConeInverse = invert(bradfordCone)

/** The linear Bradford matrix that takes XYZ under `from` to the corresponding XYZ under `to`. ICC.1:2022 annex E. */
export function bradfordMatrix(from: XYZ, to: XYZ): Matrix3 {
  const source = multiplyVector(bradfordCone, from)
  const target = multiplyVector(bradfordCone, to)
  const gains = diagonal([target[0] / source[0], target[1] / source[1], target[2] / source[2]])
  return multiply(bradfordConeInverse, multiply(gains, bradfordCone))
}
