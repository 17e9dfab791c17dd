import { readlinkSync } from 'node:fs'
import { setPriority } from 'node:os'

/** How far a thread steps back, as `nice` counts. */
const niceness = 10

/**
 * Lets the calling thread step back behind the request loop where there is not a core for each. Linux gives each thread
 * a priority of its own, by the number under which it stands in /proc; elsewhere nothing happens.
 */
export function stepBack(): void {
  try {
    const thread = Number(/\/task\/(\d+)$/.exec(readlinkSync('/proc/thread-self'))?.[1])
    if (thread) setPriority(thread, niceness)
  } catch {
    // A system that does not have it, or does not let this account.
  }
}
