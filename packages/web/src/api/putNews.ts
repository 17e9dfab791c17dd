import type { QueryClient } from '@tanstack/react-query'

/** Queries whose answer is on its way and that are asked for once more after it. */
const owed = new WeakSet<object>()

/**
 * Puts what the server told in the place of what is known under a key. An answer that is on its way may be of before and
 * would undo it, so it is asked for once more after that: it is not called off, for where much is told it would never come.
 * `update`: gives the very same where nothing of it changes.
 */
export function putNews<T extends object>(
  client: QueryClient,
  queryKey: readonly unknown[],
  update: (known: T) => T,
): void {
  const query = client.getQueryCache().find<T>({ queryKey, exact: true })
  if (!query) return
  const { data: known, isInvalidated, fetchStatus } = query.state
  const now = known && update(known)
  if (now !== known) {
    client.setQueryData<T>(queryKey, now)
    // What is put in its place does not make the rest of it fresh.
    if (isInvalidated) query.invalidate()
  }
  const answer = fetchStatus === 'idle' ? undefined : query.promise
  if (!answer || owed.has(query)) return
  owed.add(query)
  const askOnceMore = () => {
    owed.delete(query)
    // One that was asked for since then knows of it.
    void client.invalidateQueries({ queryKey, exact: true }, { cancelRefetch: false })
  }
  answer.then(askOnceMore, askOnceMore)
}
