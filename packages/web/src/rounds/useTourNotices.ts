import { useEffect, useRef, useState } from 'react'
import type { Tour } from '@bichroma/contract'
import { tourChange } from './tourChange'

const asked = () => (typeof Notification === 'undefined' ? 'denied' : Notification.permission)

/** Tells what changed of a tour while its page is out of sight, where the browser may. Asks for that only when told to. */
export function useTourNotices(tour: Tour): { may: NotificationPermission; ask: () => void } {
  const [may, setMay] = useState<NotificationPermission>(asked)
  const last = useRef<Tour | null>(null)
  useEffect(() => {
    const before = last.current
    last.current = tour
    if (!before || before.date !== tour.date || before.person.id !== tour.person.id) return
    const change = tourChange(before, tour)
    if (change && may === 'granted' && document.hidden)
      new Notification('Your tour', { body: change, tag: 'bichroma-tour' })
  }, [tour, may])
  return { may, ask: () => void Notification.requestPermission().then(setMay) }
}
