import { useCallback, useEffect, useState } from 'react'

/**
 * Holds what is shown while a pointer is pressed on it: what is pressed is what is opened, although something else
 * arrives before the finger is lifted. Returns what to show, and what to call when a pointer is pressed.
 */
export function useHeld<T>(now: T): readonly [T, () => void] {
  const [held, setHeld] = useState<{ readonly of: T } | null>(null)
  useEffect(() => {
    if (!held) return
    // The click is told after the pointer was lifted.
    let released: ReturnType<typeof setTimeout> | undefined
    const release = () => {
      released = setTimeout(() => setHeld(null))
    }
    // A menu of the browser's takes the pointer, and tells of no end.
    const ends = ['pointerup', 'pointercancel', 'contextmenu', 'blur'] as const
    for (const end of ends) window.addEventListener(end, release)
    return () => {
      clearTimeout(released)
      for (const end of ends) window.removeEventListener(end, release)
    }
  }, [held])
  return [held ? held.of : now, useCallback(() => setHeld({ of: now }), [now])]
}
