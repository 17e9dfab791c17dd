import type { Span } from './useTimes'
import type { WeekHouse, WeekVisit } from './whatBreaks'

/** A week as it is sent: windows once for all that share them, ways as a square. */
interface SentWeek {
  readonly now: number
  readonly minutes: WeekHouse['minutes']
  readonly people: WeekHouse['people']
  readonly instruments: WeekHouse['instruments']
  readonly rooms: readonly { readonly id: number }[]
  readonly walk: readonly number[]
  readonly windowSets: readonly (readonly Span[])[]
  readonly visits: readonly (Omit<WeekVisit, 'windows'> & { readonly windowSet: number; readonly state: string })[]
}

/** What a move in a week is held against: what lies ahead, and what goes on, which nothing moves. */
export function weekHouse(week: SentWeek): WeekHouse {
  const index = new Map(week.rooms.map((r, i) => [r.id, i]))
  return {
    now: week.now,
    minutes: week.minutes,
    people: week.people,
    instruments: week.instruments,
    visits: week.visits
      .filter((v) => v.state === 'planned' || v.state === 'begun' || v.state === 'unplanned')
      .map((v) => ({ ...v, windows: week.windowSets[v.windowSet] ?? [], pinned: v.pinned || v.state === 'begun' })),
    walk: (a, b) => week.walk[(index.get(a) ?? 0) * week.rooms.length + (index.get(b) ?? 0)] ?? 0,
  }
}
