import { keepPreviousData, useInfiniteQuery, type InfiniteData, type QueryClient } from '@tanstack/react-query'
import { useMemo } from 'react'
import type { Page } from '@bichroma/contract'
import { ask } from './client'
import { putNews } from './putNews'

/** What a list is asked by; what is empty is left out. */
export type Asked = Readonly<Record<string, string | number | null | undefined>>

/** A list that may be long, as far as it was brought. */
export interface Listed<T> {
  readonly items: readonly T[]
  readonly total: number
  /** There are more than `total`: nobody counted further. */
  readonly more: boolean
  readonly error: Error | null
  /** Nothing of it is there yet. */
  readonly empty: boolean
  /** What is shown is of what was asked before. */
  readonly stale: boolean
  readonly hasNext: boolean
  readonly fetchNext: () => void
  readonly refetch: () => void
}

/** The address of a list as it is asked for. */
export const addressOf = (path: string, asked: Asked) => {
  const params = new URLSearchParams()
  for (const [name, value] of Object.entries(asked))
    if (value !== null && value !== undefined && value !== '') params.set(name, String(value))
  const query = params.toString()
  return query ? `${path}?${query}` : path
}

/** The key under which a list is kept: its area first, so that what makes the area stale makes it stale. */
const keyOf = (path: string, address: string) => [...path.slice(1).split('/'), 'list', address]

/** Asks for a list part by part. `path`: as the API has it. */
export function useList<T>(path: string, asked: Asked = {}): Listed<T> {
  const address = addressOf(path, asked)
  const query = useInfiniteQuery({
    queryKey: keyOf(path, address),
    queryFn: ({ pageParam }) =>
      ask<Page<T>>('GET', pageParam ? `${address}${address.includes('?') ? '&' : '?'}cursor=${pageParam}` : address),
    initialPageParam: '',
    getNextPageParam: (page: Page<T>) => page.next,
    placeholderData: keepPreviousData,
  })
  const { data, error, hasNextPage, isFetchingNextPage, isPlaceholderData, fetchNextPage, refetch } = query
  const items = useMemo(() => (data?.pages ?? []).flatMap((page) => page.items), [data])
  return {
    items,
    total: data?.pages[0].total ?? 0,
    more: data?.pages[0].more ?? false,
    error: data ? null : error,
    empty: data === undefined,
    stale: isPlaceholderData,
    hasNext: hasNextPage,
    fetchNext: () => {
      if (hasNextPage && !isFetchingNextPage) void fetchNextPage()
    },
    refetch: () => void refetch(),
  }
}

/**
 * Puts what became of rows in their place in every list of a path that holds them; gives the addresses of those that do
 * not, or in which a row's place (`placeOf`) has become another.
 */
export function patchLists<T>(
  client: QueryClient,
  path: string,
  news: readonly T[],
  idOf: (row: T) => number,
  placeOf: (row: T) => unknown = () => null,
): { readonly lacking: readonly (readonly unknown[])[] } {
  const byId = new Map(news.map((row) => [idOf(row), row]))
  const lacking: (readonly unknown[])[] = []
  const lists = client.getQueriesData<InfiniteData<Page<T>>>({ queryKey: [...path.slice(1).split('/'), 'list'] })
  for (const [queryKey, data] of byId.size ? lists : []) {
    let inPlace = 0
    putNews<InfiniteData<Page<T>>>(client, queryKey, (known) => {
      let held = false
      const pages = known.pages.map((page) => {
        if (!page.items.some((row) => byId.has(idOf(row)))) return page
        held = true
        return {
          ...page,
          items: page.items.map((row) => {
            const now = byId.get(idOf(row))
            if (now === undefined) return row
            if (placeOf(now) === placeOf(row)) inPlace++
            return now
          }),
        }
      })
      return held ? { ...known, pages } : known
    })
    if (data && inPlace < byId.size) lacking.push(queryKey)
  }
  return { lacking }
}
