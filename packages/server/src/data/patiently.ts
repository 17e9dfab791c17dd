import { storeFault } from './storeFault'

/** Wall time for which a write waits for another program that has the store, and between two tries, ms. */
const longestMs = 1500
const pauseMs = 50

/**
 * Writes, and tries again for a while when another program has the store; nobody else waits meanwhile. Any other fault,
 * and one that lasts, is thrown.
 */
export async function patiently<T>(write: () => T | Promise<T>): Promise<T> {
  const until = performance.now() + longestMs
  for (;;) {
    try {
      return await write()
    } catch (error) {
      if (storeFault(error)?.kind !== 'busy' || performance.now() > until) throw error
      await new Promise((resolve) => setTimeout(resolve, pauseMs))
    }
  }
}
