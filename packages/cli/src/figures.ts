import { percentile } from '@bichroma/core/aims'
import type { CrossValidation } from '@bichroma/core/characterization'

/** Average, 95th percentile and worst of differences, and where the worst stands. */
export interface Spread {
  readonly count: number
  readonly average: number
  readonly percentile95: number
  readonly worst: number
  readonly worstAt: number
}

export function spreadOf(values: ArrayLike<number>): Spread {
  const list = Array.from(values)
  const worstAt = list.reduce((at, v, i) => (v > list[at] ? i : at), 0)
  return {
    count: list.length,
    average: list.reduce((a, b) => a + b, 0) / list.length,
    percentile95: percentile(list, 0.95),
    worst: list[worstAt],
    worstAt,
  }
}

export const spreadRow = (name: string, s: Spread): string[] => [
  name,
  String(s.count),
  s.average.toFixed(2),
  s.percentile95.toFixed(2),
  s.worst.toFixed(2),
]
export const spreadHead = (what: string): string[] => [what, 'patches', 'average', '95th', 'worst']

/** A row for the error on readings that were left out; none where too few were there to leave any out. */
export const validationRows = (name: string, count: number, v: CrossValidation | null): string[][] =>
  v
    ? [[name, String(count), v.averageDeltaE.toFixed(2), v.percentile95DeltaE.toFixed(2), v.worstDeltaE.toFixed(2)]]
    : []
