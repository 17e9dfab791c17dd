import Database from 'better-sqlite3'
import {
  daysAfter,
  dayStart,
  keptDays,
  keptStates,
  localDate,
  noDays,
  type KeptDays,
  type LocalDate,
} from '@bichroma/core/rounds'
import type { JudgedVerdict } from '@bichroma/core/aims'

export interface KeptAsked {
  /** The store's file: it is only read. */
  readonly file: string
  readonly now: number
  readonly zone: string
  /** Months back, the one that goes on included. */
  readonly months: number
}

/** One display in one month. */
export interface KeptDisplay {
  readonly month: string
  readonly displayId: number
  readonly name: string
  readonly room: string
  readonly building: string | null
  readonly model: string
  readonly days: KeptDays
  /** Runs whose judgements these days rest on. */
  readonly runs: readonly number[]
}

interface Row {
  id: number
  name: string
  room: string
  building: string | null
  model: string
  everyDays: number
}

/**
 * How well each display was kept in each month, by the slot that it shows now. Looks at every judgement of the months, so it
 * is done in a thread.
 */
export function keptByDisplay({ file, now, zone, months }: KeptAsked): KeptDisplay[] {
  const store = new Database(file, { readonly: true, fileMustExist: true })
  try {
    const today = localDate(now, zone)
    const first = monthsBefore(today, months - 1)
    const days = daysFrom(first, today)
    const bounds = [...days.map((d) => dayStart(d, zone)), now]
    const displays = store
      .prepare(
        `SELECT display_now.display_id AS id, display_now.name AS name, facts ->> 'room' AS room, room.building AS building,
           facts ->> 'model' AS model, facts ->> 'checkEveryDays' AS everyDays
         FROM display_now JOIN room ON room.id = room_id ORDER BY room.name, display_now.name`,
      )
      .all() as Row[]
    const judged = store.prepare(
      `SELECT validation.at AS at, validation.verdict AS verdict, run_id AS runId FROM validation
         JOIN display ON display.id = validation.display_id AND display.active_slot = validation.slot
       WHERE validation.display_id = ? ORDER BY validation.at, validation.id`,
    )
    return displays.flatMap((d) => {
      const own = judged.all(d.id) as { at: number; verdict: JudgedVerdict; runId: number }[]
      const states = keptDays(own, d.everyDays, bounds)
      const by = new Map<string, { days: KeptDays; from: number; to: number }>()
      for (const [n, state] of states.entries()) {
        const month = days[n].slice(0, 7)
        const known = by.get(month) ?? { days: noDays(), from: bounds[n], to: bounds[n + 1] }
        known.days[state]++
        known.to = bounds[n + 1]
        by.set(month, known)
      }
      return [...by].map(([month, { days: counted, from, to }]) => {
        const before = own.filter((o) => o.at <= from).slice(-1)
        const within = own.filter((o) => o.at > from && o.at <= to)
        return {
          month,
          displayId: d.id,
          name: d.name,
          room: d.room,
          building: d.building,
          model: d.model,
          days: counted,
          runs: [...before, ...within].map((o) => o.runId),
        }
      })
    })
  } finally {
    store.close()
  }
}

/** The first day of a month so many before that of a day. */
function monthsBefore(date: LocalDate, months: number): LocalDate {
  const [year, month] = date.split('-').map(Number)
  const index = year * 12 + month - 1 - months
  return `${Math.floor(index / 12)}-${String((index % 12) + 1).padStart(2, '0')}-01`
}

function daysFrom(first: LocalDate, last: LocalDate): LocalDate[] {
  const days: LocalDate[] = []
  for (let d = first; d <= last; d = daysAfter(d, 1)) days.push(d)
  return days
}

/** The same, summed up by what is the same of them. */
export function summed(rows: readonly KeptDisplay[], keyOf: (row: KeptDisplay) => string): Map<string, KeptDays> {
  const by = new Map<string, KeptDays>()
  for (const row of rows) {
    const known = by.get(keyOf(row)) ?? noDays()
    by.set(keyOf(row), known)
    for (const state of keptStates) known[state] += row.days[state]
  }
  return by
}
