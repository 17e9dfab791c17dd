/** A function that works its value out when it is first asked for, and keeps it: nothing costly is done by loading a file. */
export function once<T>(work: () => T): () => T {
  let kept: { readonly value: T } | null = null
  return () => (kept ??= { value: work() }).value
}
