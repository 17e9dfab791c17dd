/** Greys that miss the aim by no more than this on average (ΔE2000) are good enough to be written in any case. */
const goodEnough = 3
/** Share of the panel's own miss that greys may keep, where they are not. */
const mostOfRaw = 0.5

/** Why what was solved is not to be written; null where it may be. */
export type ShapeFault = 'not finite' | 'no better'

/**
 * Looks at the last round of greys before anything is written: the ΔE2000 of each to the aim, and how far the raw panel
 * itself was from it on average. What is no better than the panel without tables does not follow from what was read: the
 * light changes between readings, by something that no table knows.
 */
export function shapeFault(greys: readonly number[], rawAverage: number | null): ShapeFault | null {
  if (!greys.every(Number.isFinite)) return 'not finite'
  if (!greys.length) return null
  const average = greys.reduce((a, b) => a + b, 0) / greys.length
  if (average <= goodEnough) return null
  return rawAverage === null || average > mostOfRaw * rawAverage ? 'no better' : null
}
