import type { Light } from '../light/light'

/** How light follows the signal: nothing for a while, then exponentially. */
export interface ResponseTimes {
  readonly delayMs: number
  readonly settlingMs: number
}

/** A change of what is shown: from one light to another, beginning at an instant (ms). */
export interface Change {
  readonly at: number
  readonly from: Light
}

/**
 * The share of the former light that is left on average between two instants (ms) after a change: 1 during the delay,
 * then falling exponentially. `from` = `to` gives the share at that instant.
 */
export function shareOfFormer(
  { delayMs, settlingMs }: ResponseTimes,
  change: number,
  from: number,
  to: number,
): number {
  const start = change + delayMs
  const decayed = (t: number) => (settlingMs > 0 ? Math.exp(-Math.max(0, t - start) / settlingMs) : 0)
  if (to <= from) return from < start ? 1 : decayed(from)
  const dead = Math.max(0, Math.min(to, start) - from)
  const after = to > start ? settlingMs * (decayed(Math.max(from, start)) - decayed(to)) : 0
  return (dead + after) / (to - from)
}
