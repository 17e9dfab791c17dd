import { invert, multiplyVector, type Matrix3, type Triple } from '../color/matrix3'

/** One correspondence that a matrix should honour. */
export interface MatrixSample {
  readonly input: Triple
  readonly output: Triple
}

/** How much a held sample outweighs the others: enough that its own error is below a millionth. */
const heldWeight = 1e7

/**
 * The 3×3 matrix that takes inputs to outputs with the least squared error, each output row weighted like the slope of
 * the cube root (so that an error counts about as it is seen), and one sample held exactly. Needs three inputs that do
 * not lie in one plane; RangeError otherwise.
 */
export function fitMatrix(samples: readonly MatrixSample[], held: MatrixSample): Matrix3 {
  const rows = ([0, 1, 2] as const).map((row) => {
    const normal = [
      [0, 0, 0],
      [0, 0, 0],
      [0, 0, 0],
    ]
    const right = [0, 0, 0]
    const take = ({ input, output }: MatrixSample, weight: number) => {
      for (let i = 0; i < 3; i++) {
        right[i] += weight * input[i] * output[row]
        for (let j = 0; j < 3; j++) normal[i][j] += weight * input[i] * input[j]
      }
    }
    for (const sample of samples) {
      const relative = Math.max(sample.output[row] / held.output[row], 0.01)
      take(sample, relative ** (-4 / 3))
    }
    take(held, heldWeight)
    return multiplyVector(invert(normal as unknown as Matrix3), right as unknown as Triple)
  })
  return rows as unknown as Matrix3
}
