import { choleskyInPlace, solveCholesky } from './cholesky'

/** What shall be made least: the sum of squares of what is left, and of how far each part goes from where it starts. */
export interface LeastSquares {
  /** What is left of every condition for some parts, always as many. */
  readonly residuals: (parts: Float64Array) => Float64Array
  readonly start: Float64Array
  /** How far each part is expected to go: a standard deviation, above 0. */
  readonly expected: Float64Array
  /** What each part changes of what is left, a column each; found by moving each of them unless given. */
  readonly columns?: (parts: Float64Array, left: Float64Array) => Float64Array[]
  /** Brings parts back to what can be, in place; nothing unless given. */
  readonly within?: (parts: Float64Array) => void
  /** Change of a part by which slopes are found. */
  readonly probe: number
  readonly mostSteps: number
}

/** Share of the sum by which a step must lower it to earn another, and attempts at one step. */
const [enough, attempts] = [1e-3, 8]

function squaresOf(r: Float64Array): number {
  let sum = 0
  for (let i = 0; i < r.length; i++) sum += r[i] * r[i]
  return sum
}

/** The sum of squares that a search starts from and ends at, and the parts of its end. */
export interface Least {
  readonly parts: Float64Array
  readonly before: number
  readonly after: number
}

/**
 * The parts that make a sum of squares least, by Levenberg and Marquardt with numeric slopes, each part held to its start by
 * its expected deviation. A step is taken only where it lowers the sum, so that the end is never worse than the start; a
 * sum that is not finite is never taken. J. Nocedal, S. Wright, Numerical Optimization, 2006, §10.3.
 */
export function leastSquares({
  residuals,
  start,
  expected,
  within,
  probe,
  mostSteps,
  columns = (parts, left) => columnsOf(residuals, parts, left, probe),
}: LeastSquares): Least {
  const n = start.length
  const stiffness = expected.map((v) => v ** -2)
  const goneFar = (p: Float64Array) => squaresOf(p.map((v, j) => (v - start[j]) / expected[j]))
  let parts = Float64Array.from(start)
  let left = residuals(parts)
  const before = squaresOf(left)
  let sum = before
  let damping = 1e-3
  for (let step = 0; step < mostSteps; step++) {
    const { normal, slope } = linearize(columns(parts, left), left)
    for (let j = 0; j < n; j++) {
      normal[j * n + j] += stiffness[j]
      slope[j] += (parts[j] - start[j]) * stiffness[j]
    }
    const was = sum
    for (let attempt = 0; attempt < attempts && sum === was; attempt++) {
      const next = stepFrom(parts, normal, slope, damping)
      if (next) {
        within?.(next)
        const then = residuals(next)
        const squares = squaresOf(then) + goneFar(next)
        if (squares < sum) {
          parts = next
          left = then
          sum = squares
        }
      }
      damping = sum < was ? damping / 8 : damping * 6
    }
    if (was - sum <= enough * was) break
  }
  return { parts, before, after: sum }
}

/** A damped Gauss–Newton step; null where the equations cannot be solved. */
function stepFrom(parts: Float64Array, normal: Float64Array, slope: Float64Array, damping: number) {
  const n = parts.length
  const damped = Float64Array.from(normal)
  for (let j = 0; j < n; j++) damped[j * n + j] *= 1 + damping
  try {
    const change = solveCholesky(choleskyInPlace(damped, n), n, Float64Array.from(slope))
    return parts.map((v, j) => v - change[j])
  } catch {
    return null
  }
}

/** What each part changes of residuals, found by moving it a little. */
export function columnsOf(
  residuals: LeastSquares['residuals'],
  parts: Float64Array,
  left: Float64Array,
  probe: number,
  count = parts.length,
): Float64Array[] {
  const moved = Float64Array.from(parts)
  return Array.from({ length: count }, (_, i) => {
    moved[i] = parts[i] + probe
    const column = residuals(moved)
    moved[i] = parts[i]
    for (let k = 0; k < column.length; k++) column[k] = (column[k] - left[k]) / probe
    return column
  })
}

/** JᵀJ (its lower half) and Jᵀr. */
function linearize(columns: readonly Float64Array[], left: Float64Array) {
  const n = columns.length
  const normal = new Float64Array(n * n)
  const slope = new Float64Array(n)
  columns.forEach((column, i) => {
    for (let j = 0; j <= i; j++) normal[i * n + j] = dot(column, columns[j])
    slope[i] = dot(column, left)
  })
  return { normal, slope }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let k = 0; k < a.length; k++) sum += a[k] * b[k]
  return sum
}
