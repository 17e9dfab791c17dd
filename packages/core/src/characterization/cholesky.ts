/** Columns that are finished together before what lies right of them is updated: a stretch that stays in the cache. */
const blockSize = 64

/** a[i][j] −= Σ a[i][k]·a[j][k] over the columns `from` ≤ k < `to`, for one i and one j. */
function updateOne(a: Float64Array, i: number, j: number, from: number, to: number, at: number): void {
  let sum = 0
  for (let k = from; k < to; k++) sum += a[i + k] * a[j + k]
  a[at] -= sum
}

/** The same for three rows from i and three columns from j at once, so that each number read serves thrice. */
function updateNine(a: Float64Array, n: number, i: number, j: number, from: number, to: number): void {
  const r0 = i * n
  const r1 = r0 + n
  const r2 = r1 + n
  const c0 = j * n
  const c1 = c0 + n
  const c2 = c1 + n
  let s00 = 0
  let s01 = 0
  let s02 = 0
  let s10 = 0
  let s11 = 0
  let s12 = 0
  let s20 = 0
  let s21 = 0
  let s22 = 0
  for (let k = from; k < to; k++) {
    const x0 = a[r0 + k]
    const x1 = a[r1 + k]
    const x2 = a[r2 + k]
    const y0 = a[c0 + k]
    const y1 = a[c1 + k]
    const y2 = a[c2 + k]
    s00 += x0 * y0
    s01 += x0 * y1
    s02 += x0 * y2
    s10 += x1 * y0
    s11 += x1 * y1
    s12 += x1 * y2
    s20 += x2 * y0
    s21 += x2 * y1
    s22 += x2 * y2
  }
  a[r0 + j] -= s00
  a[r0 + j + 1] -= s01
  a[r0 + j + 2] -= s02
  a[r1 + j] -= s10
  a[r1 + j + 1] -= s11
  a[r1 + j + 2] -= s12
  a[r2 + j] -= s20
  a[r2 + j + 1] -= s21
  a[r2 + j + 2] -= s22
}

/** Finishes the columns `from` ≤ j < `to` of all rows from `from` down, what lies left of them being taken off already. */
function factorColumns(a: Float64Array, n: number, from: number, to: number): void {
  for (let i = from; i < n; i++) {
    const row = i * n
    for (let j = from; j < Math.min(i, to); j++) {
      updateOne(a, row, j * n, from, j, row + j)
      a[row + j] /= a[j * n + j]
    }
    if (i >= to) continue
    updateOne(a, row, row, from, i, row + i)
    if (!(a[row + i] > 0)) throw new RangeError('The matrix is not positive definite.')
    a[row + i] = Math.sqrt(a[row + i])
  }
}

/**
 * The lower factor L of a symmetric positive definite matrix A = L·Lᵀ, n×n row by row, written over `a` (the upper part
 * is of no account). Throws RangeError when the matrix is not positive definite. G. Golub, C. Van Loan, Matrix
 * Computations, 2013, §4.2.6 (block version).
 */
export function choleskyInPlace(a: Float64Array, n: number): Float64Array {
  for (let from = 0; from < n; from += blockSize) {
    const to = Math.min(n, from + blockSize)
    factorColumns(a, n, from, to)
    let i = to
    // Of the last three columns some places lie above the diagonal, where nothing is read.
    for (; i + 2 < n; i += 3) for (let j = to; j <= i; j += 3) updateNine(a, n, i, j, from, to)
    for (; i < n; i++) for (let j = to; j <= i; j++) updateOne(a, i * n, j * n, from, to, i * n + j)
  }
  return a
}

/** Solves A·x = b in place for `b` (n values), given the factor of {@link choleskyInPlace}. */
export function solveCholesky(factor: Float64Array, n: number, b: Float64Array): Float64Array {
  for (let i = 0; i < n; i++) {
    let sum = b[i]
    for (let k = 0; k < i; k++) sum -= factor[i * n + k] * b[k]
    b[i] = sum / factor[i * n + i]
  }
  for (let i = n - 1; i >= 0; i--) {
    const x = b[i] / factor[i * n + i]
    b[i] = x
    for (let k = 0; k < i; k++) b[k] -= factor[i * n + k] * x
  }
  return b
}

/** The diagonal of A⁻¹, given the factor of {@link choleskyInPlace}: column by column of L⁻¹. */
export function inverseDiagonal(factor: Float64Array, n: number): Float64Array {
  const diagonal = new Float64Array(n)
  const column = new Float64Array(n)
  for (let j = 0; j < n; j++) {
    column[j] = 1 / factor[j * n + j]
    let squares = column[j] * column[j]
    for (let i = j + 1; i < n; i++) {
      let sum = 0
      for (let k = j; k < i; k++) sum -= factor[i * n + k] * column[k]
      column[i] = sum / factor[i * n + i]
      squares += column[i] * column[i]
    }
    diagonal[j] = squares
  }
  return diagonal
}
