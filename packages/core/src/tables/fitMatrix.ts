import { invert, multiplyVector, type Matrix3, type Triple } from '../color/matrix3'

/** One correspondence that a matrix should honour. */
export interface MatrixSample {
  readonly input: Triple
  readonly output: Triple
}

/** Relative light below which an error counts no more: where the cube root's slope would grow without end. */
const darkest = 0.01

const dot = (a: Triple, b: Triple) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

/**
 * The 3×3 matrix that takes inputs to outputs with the least squared error, each output row weighted like the slope of
 * the cube root (so that an error counts about as it is seen), and one sample held exactly (Lagrange's condition). Needs
 * three inputs that do not lie in one plane; RangeError otherwise.
 */
export function fitMatrix(samples: readonly MatrixSample[], held: MatrixSample): Matrix3 {
  const rows = ([0, 1, 2] as const).map((row) => {
    const normal = [
      [0, 0, 0],
      [0, 0, 0],
      [0, 0, 0],
    ]
    const right = [0, 0, 0]
    for (const { input, output } of [...samples, held]) {
      const weight = Math.max(output[row] / held.output[row], darkest) ** (-4 / 3)
      for (let i = 0; i < 3; i++) {
        right[i] += weight * input[i] * output[row]
        for (let j = 0; j < 3; j++) normal[i][j] += weight * input[i] * input[j]
      }
    }
    const inverse = invert(normal as unknown as Matrix3)
    const free = multiplyVector(inverse, right as unknown as Triple)
    const towards = multiplyVector(inverse, held.input)
    const step = (held.output[row] - dot(free, held.input)) / dot(towards, held.input)
    return free.map((v, i) => v + step * towards[i])
  })
  return rows as unknown as Matrix3
}
