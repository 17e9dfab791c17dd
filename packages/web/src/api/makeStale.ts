import type { QueryClient } from '@tanstack/react-query'

/**
 * Asks anew for what is on screen under a key. A first answer that is still on its way is not waited for: it may be older
 * than what made it stale, and the library would take it for fresh.
 */
export async function makeStale(client: QueryClient, queryKey?: readonly string[]): Promise<void> {
  await client.cancelQueries({ queryKey, predicate: ({ state }) => state.data === undefined })
  await client.invalidateQueries({ queryKey })
}
