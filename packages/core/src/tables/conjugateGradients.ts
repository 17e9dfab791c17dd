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
  let [x, y, z] = [0, 0, 0]
  for (let i = 0; i < a.length; i += 3) {
    x += a[i] * b[i]
    y += a[i + 1] * b[i + 1]
    z += a[i + 2] * b[i + 2]
  }
  return [x, y, z]
}

/**
 * The unknowns, from nothing on, by conjugate gradients that are eased by the diagonal. J. Nocedal, S. Wright, Numerical
 * Optimization, 2006, algorithm 5.3.
 */
export function conjugateGradients({ residual: right, diagonal, apply }: LinearSystem): Float64Array {
  const residual = Float64Array.from(right)
  const easing = diagonal.map((v) => (v > 0 ? 1 / v : 0))
  const next = new Float64Array(residual.length)
  const ease = () => {
    for (let i = 0; i < next.length; i++) next[i] = residual[i] * easing[i]
  }
  const found = new Float64Array(residual.length)
  const applied = new Float64Array(residual.length)
  ease()
  const direction = Float64Array.from(next)
  let left = dots(residual, direction)
  const enough = left.map((v) => v * smallest ** 2)
  for (let step = 0; step < mostSteps && left.some((v, k) => v > enough[k]); step++) {
    apply(direction, applied)
    const along = dots(direction, applied)
    const length = left.map((v, k) => (along[k] > 0 ? v / along[k] : 0))
    for (let k = 0; k < 3; k++) {
      const by = length[k]
      for (let i = k; i < found.length; i += 3) {
        found[i] += by * direction[i]
        residual[i] -= by * applied[i]
      }
    }
    ease()
    const now = dots(residual, next)
    for (let k = 0; k < 3; k++) {
      const share = left[k] > 0 ? now[k] / left[k] : 0
      for (let i = k; i < found.length; i += 3) direction[i] = next[i] + share * direction[i]
    }
    left = now
  }
  return found
}
