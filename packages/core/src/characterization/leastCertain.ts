import type { AxisKernel } from './smoother'

/**
 * The candidates (3·m numbers) whose value the points tell least about, one after another, each as if those before it
 * had been read: the largest variance that is left, by a Cholesky factor that grows with every pick. Rasmussen and
 * Williams 2006, eq. 2.26.
 */
export function pickLeastCertain(
  kernel: AxisKernel,
  points: Float64Array,
  factor: Float64Array,
  share: number,
  candidates: Float64Array,
  count: number,
): number[] {
  const n = points.length / 3
  const m = candidates.length / 3
  const between = (p: Float64Array, i: number, j: number) =>
    kernel(p[3 * i] - candidates[3 * j]) *
    kernel(p[3 * i + 1] - candidates[3 * j + 1]) *
    kernel(p[3 * i + 2] - candidates[3 * j + 2])
  // Row i holds L⁻¹·K(points, candidates): what point i, and later pick i, tells of each candidate.
  const known: Float64Array[] = []
  const left = new Float64Array(m).fill(1)
  const add = (row: Float64Array) => {
    known.push(row)
    for (let j = 0; j < m; j++) left[j] -= row[j] * row[j]
  }
  for (let i = 0; i < n; i++) {
    const row = Float64Array.from({ length: m }, (_, j) => between(points, i, j))
    for (let k = 0; k < i; k++) {
      const l = factor[i * n + k]
      const told = known[k]
      for (let j = 0; j < m; j++) row[j] -= l * told[j]
    }
    const pivot = factor[i * n + i]
    for (let j = 0; j < m; j++) row[j] /= pivot
    add(row)
  }
  const picks: number[] = []
  while (picks.length < Math.min(count, m)) {
    let pick = 0
    for (let j = 1; j < m; j++) if (left[j] > left[pick]) pick = j
    picks.push(pick)
    const pivot = Math.sqrt(Math.max(left[pick], 0) + share)
    const row = Float64Array.from({ length: m }, (_, j) => between(candidates, pick, j))
    for (const told of known) {
      const t = told[pick]
      if (t !== 0) for (let j = 0; j < m; j++) row[j] -= t * told[j]
    }
    for (let j = 0; j < m; j++) row[j] /= pivot
    add(row)
    left[pick] = -Infinity
  }
  return picks
}
