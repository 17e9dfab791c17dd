import Database from 'better-sqlite3'
import Papa from 'papaparse'
import {
  daysAfter,
  dayStart,
  keptDays,
  keptShare,
  keptStates,
  localDate,
  noDays,
  strayAt,
  type AgreedThen,
  type FoundThen,
  type KeptDays,
  type LocalDate,
} from '@bichroma/core/rounds'
import type { JudgedVerdict } from '@bichroma/core/aims'
import type { FleetKept } from '@bichroma/core/review'
import type { KeptRow, KeptWell } from '@bichroma/contract'

export interface KeptAsked {
  /** The store's file: it is only read. */
  readonly file: string
  readonly now: number
  readonly zone: string
  /** Months back, the one that goes on included; or the days from one to another. */
  readonly months: number
  readonly between?: { readonly first: LocalDate; readonly last: LocalDate }
}

/** One display in one month. */
interface KeptDisplay {
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
  workstationId: number
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
function keptByDisplay({ file, now, zone, months, between }: KeptAsked): KeptDisplay[] {
  const store = new Database(file, { readonly: true, fileMustExist: true })
  try {
    const today = localDate(now, zone)
    const { first, last } = between ?? { first: monthsBefore(today, months - 1), last: today }
    const days = daysFrom(first, last)
    const bounds = [...days.map((d) => dayStart(d, zone)), Math.min(now, dayStart(daysAfter(last, 1), zone))]
    const displays = store
      .prepare(
        `SELECT display_now.display_id AS id, display_now.workstation_id AS workstationId, display_now.name AS name, facts ->> 'room' AS room, room.building AS building,
           facts ->> 'model' AS model, facts ->> 'checkEveryDays' AS everyDays
         FROM display_now JOIN room ON room.id = room_id ORDER BY room.name, display_now.name`,
      )
      .all() as Row[]
    const judged = store.prepare(
      `SELECT validation.at AS at, validation.verdict AS verdict, run_id AS runId FROM validation
         JOIN display ON display.id = validation.display_id AND display.active_slot = validation.slot
       WHERE validation.display_id = ? ORDER BY validation.at, validation.id`,
    )
    const agreed = store.prepare(
      `SELECT requested_at AS "from", verified_at AS readAt, state = 'withdrawn' AND id = MAX(id) OVER () AS withdrawn, profile_hash AS hash
       FROM placement WHERE display_id = ? AND workstation_id = ? ORDER BY requested_at, id`,
    )
    const found = store.prepare(
      `SELECT since, path, hash FROM found WHERE display_id = ? AND workstation_id = ? ORDER BY since, id`,
    )
    return displays.flatMap((d) => {
      const own = judged.all(d.id) as { at: number; verdict: JudgedVerdict; runId: number }[]
      const isStray = strayAt(
        agreed.all(d.id, d.workstationId) as AgreedThen[],
        found.all(d.id, d.workstationId) as FoundThen[],
      )
      const states = keptDays(own, d.everyDays, bounds, isStray)
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
function summed(rows: readonly KeptDisplay[], keyOf: (row: KeptDisplay) => string): Map<string, KeptDays> {
  const by = new Map<string, KeptDays>()
  for (const row of rows) {
    const known = by.get(keyOf(row)) ?? noDays()
    by.set(keyOf(row), known)
    for (const state of keptStates) known[state] += row.days[state]
  }
  return by
}

/** How well the displays were kept, by month, room and model. */
export const keptWell = (asked: KeptAsked): KeptWell => wellOf(keptByDisplay(asked))

/** The same as CSV: a line for each display and month, with the runs that it rests on. */
export const keptCsv = (asked: KeptAsked): string => csvOf(keptByDisplay(asked))

/** Days that the fleet's report looks back on. */
const reportedDays = 30

/** How well the displays were kept in the days before an instant, for the fleet's report. */
export function fleetKept({ file, now, zone }: Pick<KeptAsked, 'file' | 'now' | 'zone'>): FleetKept {
  const last = localDate(now, zone)
  const between = { first: daysAfter(last, 1 - reportedDays), last }
  const rows = keptByDisplay({ file, now, zone, months: 0, between })
  const all = summed(rows, () => '').get('') ?? noDays()
  return {
    days: reportedDays,
    share: keptShare(all),
    rest: restOf(all),
    rooms: leastFirst(summed(rows, (r) => r.room)).map(({ name, days }) => ({
      name,
      share: keptShare(days),
      rest: restOf(days),
    })),
  }
}

/** What was not proven within, in words. */
const restOf = (days: KeptDays): string =>
  keptStates
    .filter((s) => s !== 'within' && days[s])
    .map((s) => `${days[s]} ${s}`)
    .join(', ')

const leastFirst = (rooms: ReadonlyMap<string, KeptDays>) =>
  [...rooms].map(([name, days]) => ({ name, days })).sort((a, b) => (keptShare(a.days) ?? 0) - (keptShare(b.days) ?? 0))

/** One page for a head of department: the month before a day, its rooms the least kept first. */
export function keptMonth(asked: KeptAsked, first: LocalDate): string {
  const before = daysAfter(first, -1).slice(0, 7)
  const rows = keptByDisplay(asked).filter((r) => r.month === before)
  if (!rows.length) return `No display was there in ${before}.`
  const line = (name: string, days: KeptDays) => {
    const all = keptStates.reduce((sum, s) => sum + days[s], 0)
    const rest = restOf(days)
    return `${name}: ${percent(keptShare(days))} of ${all} display-days proven within limits${rest ? ` (the rest: ${rest})` : ''}`
  }
  const rooms = leastFirst(summed(rows, (r) => r.room))
  return [
    `${before}, all times in ${asked.zone}.`,
    '',
    line('All displays', summed(rows, () => '').get('')!),
    '',
    ...rooms.slice(0, mostRooms).map(({ name, days }) => line(name, days)),
    ...(rooms.length > mostRooms ? [`and ${rooms.length - mostRooms} rooms more, which were kept better`] : []),
  ].join('\n')
}

/** Rooms that one page names. */
const mostRooms = 30

const percent = (share: number | null) => (share === null ? 'none' : `${(100 * share).toFixed(1)} %`)

function wellOf(rows: readonly KeptDisplay[]): KeptWell {
  const months = [...new Set(rows.map((r) => r.month))].sort()
  const byMonth = (some: readonly KeptDisplay[]) => {
    const by = summed(some, (r) => r.month)
    return months.map((m) => by.get(m) ?? noDays())
  }
  const grouped = (keyOf: (r: KeptDisplay) => string, buildingOf: (r: KeptDisplay) => string | null): KeptRow[] => {
    const by = new Map<string, KeptDisplay[]>()
    for (const row of rows) {
      const own = by.get(keyOf(row)) ?? []
      own.push(row)
      by.set(keyOf(row), own)
    }
    return [...by].map(([name, own]) => ({
      name,
      building: buildingOf(own[0]),
      displays: new Set(own.map((r) => r.displayId)).size,
      months: byMonth(own),
    }))
  }
  return {
    months,
    total: byMonth(rows),
    rooms: grouped(
      (r) => r.room,
      (r) => r.building,
    ),
    models: grouped(
      (r) => r.model,
      () => null,
    ),
  }
}

/** A line for each display and month, with the runs that it rests on. What a program would take for a formula is quoted. */
function csvOf(rows: readonly KeptDisplay[]): string {
  return Papa.unparse(
    rows.map((r) => ({
      month: r.month,
      building: r.building ?? '',
      room: r.room,
      display: r.name,
      model: r.model,
      ...r.days,
      share: keptShare(r.days)?.toFixed(4) ?? '',
      runs: r.runs.join(' '),
    })),
    { newline: '\n', escapeFormulae: true },
  )
}
