import { useLocation, useSearchParams } from 'react-router'

/** What a list is asked by, kept in the address so that it can be sent to somebody and is there again after going back. */
export function useAddress<K extends string>(
  names: readonly K[],
): readonly [Readonly<Record<K, string>>, (change: Partial<Record<K, string>>) => void] {
  const [params, setParams] = useSearchParams()
  const { pathname } = useLocation()
  const asked = Object.fromEntries(names.map((name) => [name, params.get(name) ?? ''])) as Record<K, string>
  const ask = (change: Partial<Record<K, string>>) => {
    // Whoever has gone elsewhere meanwhile stays there.
    if (window.location.pathname !== pathname) return
    setParams(
      (before) => {
        const next = new URLSearchParams(before)
        for (const [name, value] of Object.entries(change) as [K, string][])
          if (value) next.set(name, value)
          else next.delete(name)
        return next
      },
      { replace: true },
    )
  }
  return [asked, ask]
}
