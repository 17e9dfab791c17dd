import type { UseQueryResult } from '@tanstack/react-query'
import { Button } from 'antd'
import type { ReactNode } from 'react'

/** What a query brings, or that it is on its way, or why it is not. */
export function Loaded<T>({ query, children }: { query: UseQueryResult<T>; children: (data: T) => ReactNode }) {
  if (query.data !== undefined) return <>{children(query.data)}</>
  if (query.error)
    return (
      <div className="none" role="alert">
        <p style={{ marginBottom: 10 }}>{query.error.message}</p>
        <Button onClick={() => void query.refetch()}>Try again</Button>
      </div>
    )
  return (
    <div className="none" role="status">
      Loading…
    </div>
  )
}

/** Several queries at once. */
export function allOf<A, B>(a: UseQueryResult<A>, b: UseQueryResult<B>): UseQueryResult<[A, B]>
export function allOf<A, B, C>(
  a: UseQueryResult<A>,
  b: UseQueryResult<B>,
  c: UseQueryResult<C>,
): UseQueryResult<[A, B, C]>
export function allOf(...queries: UseQueryResult<unknown>[]): UseQueryResult<unknown> {
  const failed = queries.find((q) => q.error)
  const ready = queries.every((q) => q.data !== undefined)
  return {
    ...queries[0],
    data: ready ? queries.map((q) => q.data) : undefined,
    error: failed?.error ?? null,
    refetch: () => Promise.all(queries.map((q) => q.refetch())),
  } as unknown as UseQueryResult<unknown>
}
