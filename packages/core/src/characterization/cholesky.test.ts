import { uniformFrom } from '../basics/random'
import { choleskyInPlace, inverseDiagonal, solveCholesky } from './cholesky'

/** A symmetric positive definite matrix of n rows: B·Bᵀ + n. */
function positive(n: number): Float64Array {
  const uniform = uniformFrom(n)
  const b = Float64Array.from({ length: n * n }, () => uniform() - 0.5)
  const a = new Float64Array(n * n)
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      for (let k = 0; k < n; k++) a[i * n + j] += b[i * n + k] * b[j * n + k]
      if (i === j) a[i * n + j] += 0.1
    }
  return a
}

// Around one block, and more than two.
test.each([1, 2, 3, 63, 64, 65, 129, 150])('the factor of a matrix of %s rows multiplies back to it @long', (n) => {
  const a = positive(n)
  const l = choleskyInPlace(Float64Array.from(a), n)
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = 0
      for (let k = 0; k <= j; k++) sum += l[i * n + k] * l[j * n + k]
      expect(Math.abs(sum - a[i * n + j])).toBeLessThan(1e-9 * n)
    }
  // A·x = b, and the diagonal of the inverse from solving for each unit vector.
  const x = solveCholesky(
    l,
    n,
    Float64Array.from({ length: n }, (_, i) => i + 1),
  )
  for (let i = 0; i < n; i++) {
    let sum = 0
    for (let k = 0; k < n; k++) sum += a[i * n + k] * x[k]
    expect(sum).toBeCloseTo(i + 1, 6)
  }
  const diagonal = inverseDiagonal(l, n)
  const unit = new Float64Array(n)
  unit[n - 1] = 1
  expect(diagonal[n - 1]).toBeCloseTo(solveCholesky(l, n, unit)[n - 1], 9)
})

test('a matrix that is not positive definite is refused', () => {
  expect(() => choleskyInPlace(Float64Array.from([1, 0, 2, 1]), 2)).toThrow('positive definite')
})
