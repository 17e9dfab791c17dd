import { uniformFrom } from '../basics/random'
import { conjugateGradients, type LinearSystem } from './conjugateGradients'

/** Three systems of so many unknowns with matrices AᵀA + ridge, and what solves them. */
function systems(n: number, seed: number, ridge: number) {
  const uniform = uniformFrom(seed)
  const matrices = [0, 1, 2].map(() => {
    const a = Array.from({ length: n }, () => Array.from({ length: n }, () => uniform() - 0.5))
    return a.map((_, i) => a.map((__, j) => a.reduce((sum, row) => sum + row[i] * row[j], i === j ? ridge : 0)))
  })
  const solution = Float64Array.from({ length: 3 * n }, () => uniform() - 0.5)
  const apply = (x: Float64Array, into: Float64Array) => {
    for (let i = 0; i < n; i++)
      for (let k = 0; k < 3; k++) into[3 * i + k] = matrices[k][i].reduce((sum, v, j) => sum + v * x[3 * j + k], 0)
  }
  const residual = new Float64Array(3 * n)
  apply(solution, residual)
  const diagonal = Float64Array.from(residual, (_, i) => matrices[i % 3][Math.floor(i / 3)][Math.floor(i / 3)])
  return { solution, system: { residual, diagonal, apply } satisfies LinearSystem }
}

test.each([1, 4, 12])('three systems of %d unknowns are solved side by side', (n) => {
  const { solution, system } = systems(n, 5 + n, 0.5)
  conjugateGradients(system).forEach((v, i) => expect(v).toBeCloseTo(solution[i], 3))
})

test('unknowns of very different weight are found as well: the diagonal eases them', () => {
  const n = 60
  const diagonal = Float64Array.from({ length: 3 * n }, (_, i) => 10 ** ((i % 7) - 3))
  const solution = Float64Array.from(diagonal, (_, i) => Math.sin(i))
  const apply = (x: Float64Array, into: Float64Array) => x.forEach((v, i) => (into[i] = diagonal[i] * v))
  const residual = solution.map((v, i) => v * diagonal[i])
  conjugateGradients({ residual, diagonal, apply }).forEach((v, i) => expect(v).toBeCloseTo(solution[i], 9))
})

test('where nothing is asked for, and where a matrix is nothing, nothing is found, and no number is lost', () => {
  const zero = new Float64Array(6)
  const apply = (_: Float64Array, into: Float64Array) => into.fill(0)
  expect([...conjugateGradients({ residual: zero, diagonal: zero, apply })]).toEqual([0, 0, 0, 0, 0, 0])
  const asked = Float64Array.from([1, 0, 2, 0, 3, 0])
  expect([...conjugateGradients({ residual: asked, diagonal: zero, apply })]).toEqual([0, 0, 0, 0, 0, 0])
  // What was given stays as it was.
  expect([...asked]).toEqual([1, 0, 2, 0, 3, 0])
})
