import { walkBetween, type WalkMinutes } from './studioFacts'
import type { Span } from './useTimes'
import type { WeekHouse, WeekVisit } from './whatBreaks'

/** A week as it is sent: windows, and what fits, once for all that share them. */
interface SentWeek {
  readonly now: number
  readonly days: WeekHouse['days']
  readonly minutes: WeekHouse['minutes']
  readonly people: WeekHouse['people']
  readonly instruments: WeekHouse['instruments']
  readonly rooms: readonly { readonly id: number; readonly building: string | null }[]
  readonly walk: WalkMinutes
  readonly windowSets: readonly (readonly Span[])[]
  readonly optionSets: readonly WeekVisit['options'][]
  readonly visits: readonly (Omit<WeekVisit, 'windows' | 'options'> & {
    readonly windowSet: number
    readonly optionSet: number
    readonly state: string
  })[]
}

/** What a move in a week is held against: what lies ahead, and what goes on, which nothing moves. */
export function weekHouse(week: SentWeek): WeekHouse {
  const rooms = new Map(week.rooms.map((r) => [r.id, r]))
  return {
    now: week.now,
    days: week.days,
    minutes: week.minutes,
    people: week.people,
    instruments: week.instruments,
    visits: week.visits
      .filter((v) => v.state === 'planned' || v.state === 'begun' || v.state === 'unplanned')
      .map((v) => ({
        ...v,
        windows: week.windowSets[v.windowSet] ?? [],
        options: week.optionSets[v.optionSet] ?? [],
        pinned: v.pinned || v.state === 'begun',
      })),
    walk: (a, b) => {
      const [from, to] = [rooms.get(a), rooms.get(b)]
      return from && to ? walkBetween(week.walk, from, to) : 0
    },
  }
}
