/** Three numbers: a tristimulus value, an RGB triple, a row. */
export type Triple = readonly [number, number, number]

/** A 3×3 matrix, row by row. */
export type Matrix3 = readonly [Triple, Triple, Triple]

export const identity3: Matrix3 = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]

/** m·v. */
export const multiplyVector = (m: Matrix3, v: Triple): Triple => [
  m[0][0] * v[0] + m[0][1] * v[1] + m[0][2] * v[2],
  m[1][0] * v[0] + m[1][1] * v[1] + m[1][2] * v[2],
  m[2][0] * v[0] + m[2][1] * v[1] + m[2][2] * v[2],
]

export const transpose = (m: Matrix3): Matrix3 => [
  [m[0][0], m[1][0], m[2][0]],
  [m[0][1], m[1][1], m[2][1]],
  [m[0][2], m[1][2], m[2][2]],
]

/** a·b. */
export const multiply = (a: Matrix3, b: Matrix3): Matrix3 =>
  transpose(transpose(b).map((column) => multiplyVector(a, column)) as unknown as Matrix3)

export const diagonal = (d: Triple): Matrix3 => [
  [d[0], 0, 0],
  [0, d[1], 0],
  [0, 0, d[2]],
]

export const determinant = (m: Matrix3): number =>
  m[0][0] * (m[1][1] * m[2][2] - m[1][2] * m[2][1]) -
  m[0][1] * (m[1][0] * m[2][2] - m[1][2] * m[2][0]) +
  m[0][2] * (m[1][0] * m[2][1] - m[1][1] * m[2][0])

/** Inverse by cofactors. Throws RangeError when the matrix is singular (three primaries on one line). */
export function invert(m: Matrix3): Matrix3 {
  const det = determinant(m)
  if (!(Math.abs(det) > 1e-14)) throw new RangeError('The matrix is singular: its three columns lie in one plane.')
  const c = (i: number, j: number, k: number, l: number) => (m[i][j] * m[k][l] - m[i][l] * m[k][j]) / det
  return [
    [c(1, 1, 2, 2), -c(0, 1, 2, 2), c(0, 1, 1, 2)],
    [-c(1, 0, 2, 2), c(0, 0, 2, 2), -c(0, 0, 1, 2)],
    [c(1, 0, 2, 1), -c(0, 0, 2, 1), c(0, 0, 1, 1)],
  ]
}

export const add = (a: Triple, b: Triple): Triple => [a[0] + b[0], a[1] + b[1], a[2] + b[2]]
export const subtract = (a: Triple, b: Triple): Triple => [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
export const scale = (a: Triple, k: number): Triple => [a[0] * k, a[1] * k, a[2] * k]
