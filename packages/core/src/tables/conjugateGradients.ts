/** Three systems of linear equations with symmetric positive matrices, whose unknowns stand side by side: 0, 3, 6… are the first's. */
export interface LinearSystem {
  /** The right sides. */
  readonly residual: Float64Array
  readonly diagonal: Float64Array
  /** Writes the matrices times so many unknowns into another run. */
  readonly apply: (unknowns: Float64Array, into: Float64Array) => void
}

/** Steps of the search, and the share of the first residual at which it ends. */
const [mostSteps, smallest] = [20, 1e-4]

/** By system: the products of two runs. */
function dots(a: Float64Array, b: Float64Array): [number, number, number] {
  const total: [number, number, number] = [0, 0, 0]
  for (let i = 0; i < a.length; i += 3) for (let k = 0; k < 3; k++) total[k] += a[i + k] * b[i + k]
  return total
}

/**
 * The unknowns, from nothing on, by conjugate gradients that are eased by the diagonal. J. Nocedal, S. Wright, Numerical
 * Optimization, 2006, algorithm 5.3.
 */
export function conjugateGradients({ residual: right, diagonal, apply }: LinearSystem): Float64Array {
  const residual = Float64Array.from(right)
  const eased = () => residual.map((v, i) => (diagonal[i] > 0 ? v / diagonal[i] : 0))
  const found = new Float64Array(residual.length)
  const applied = new Float64Array(residual.length)
  const direction = eased()
  let left = dots(residual, direction)
  const enough = left.map((v) => v * smallest ** 2)
  for (let step = 0; step < mostSteps && left.some((v, k) => v > enough[k]); step++) {
    apply(direction, applied)
    const along = dots(direction, applied)
    const length = left.map((v, k) => (along[k] > 0 ? v / along[k] : 0))
    for (let i = 0; i < found.length; i++) {
      found[i] += length[i % 3] * direction[i]
      residual[i] -= length[i % 3] * applied[i]
    }
    const next = eased()
    const now = dots(residual, next)
    const share = now.map((v, k) => (left[k] > 0 ? v / left[k] : 0))
    for (let i = 0; i < found.length; i++) direction[i] = next[i] + share[i % 3] * direction[i]
    left = now
  }
  return found
}
