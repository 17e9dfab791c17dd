import type { Visit, Week } from '@bichroma/contract'
import { placeOf, type DayColumn } from './weekScale'

/** Height of a lane of bars, and of what is left free above and below them, px. */
export const laneHeight = 26
export const rowPadding = 8

/** What the rows of a week are. */
export const rowKinds = ['people', 'instruments', 'rooms'] as const
export type RowKind = (typeof rowKinds)[number]

export interface Bar {
  readonly visit: Visit
  readonly left: number
  readonly width: number
  /** As wide as it takes. */
  readonly takes: number
  /** Bars that would meet lie below each other. */
  readonly lane: number
}

export interface WeekRow {
  readonly id: number
  readonly name: string
  readonly bars: readonly Bar[]
  readonly lanes: number
}

/** A bar is at least as wide as its ring, and where a day stands alone, as its display's name. */
const leastWidth = { week: 24, day: 116 } as const
const gap = 2
/** Where a week is shown, bars that find no lane free of so many stand behind each other, a little later than they are. */
const mostLanes = 4

const rowOf: Readonly<Record<RowKind, (v: Visit) => number | null>> = {
  people: (v) => v.personId ?? 0,
  instruments: (v) => v.instrumentId,
  rooms: (v) => v.roomId,
}

/** Visits as bars in rows, each in the highest lane that is free; rows of rooms without visits are left out. */
export function weekRows(week: Week, kind: RowKind, columns: readonly DayColumn[]): WeekRow[] {
  const isDay = columns.length === 1
  const by = new Map<number, Visit[]>()
  for (const v of week.visits) {
    const row = rowOf[kind](v)
    if (row !== null && v.at !== null) by.set(row, [...(by.get(row) ?? []), v])
  }
  const named: readonly { id: number; name: string }[] =
    kind === 'people'
      ? [...week.people, ...(by.has(0) ? [{ id: 0, name: 'by themselves' }] : [])]
      : kind === 'instruments'
        ? week.instruments
        : week.rooms.filter((r) => by.has(r.id))
  return named.map(({ id, name }) => {
    const ends: number[] = []
    const bars = (by.get(id) ?? []).flatMap((visit): Bar[] => {
      const left = placeOf(columns, visit.at!)
      const right = placeOf(columns, visit.endsAt ?? visit.at!)
      if (left === null || right === null) return []
      const takes = Math.max(2, right - left)
      const width = Math.max(leastWidth[isDay ? 'day' : 'week'], takes)
      const free = ends.findIndex((end) => end + gap <= left)
      const lane = free >= 0 ? free : isDay || ends.length < mostLanes ? ends.length : ends.indexOf(Math.min(...ends))
      const from = Math.max(left, (ends[lane] ?? 0) + (lane < ends.length ? gap : 0))
      ends[lane] = from + width
      return [{ visit, left: from, width, takes, lane }]
    })
    return { id, name, bars, lanes: Math.max(1, ends.length) }
  })
}
