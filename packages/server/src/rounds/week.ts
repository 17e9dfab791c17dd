import type { DataSource } from 'typeorm'
import {
  dayStart,
  daysAfter,
  localDate,
  useSpans,
  workSpans,
  deskOn,
  ignoredVisits,
  atTime,
  type Span,
  type UseTime,
} from '@bichroma/core/rounds'
import type { PlanStanding, Visit, Week } from '@bichroma/contract'
import type { Verdict } from '@bichroma/core/aims'
import type { Chromaticity } from '@bichroma/core/color'
import { verdictAt } from '../aims/verdictAt'
import { isUntold, toldVisits, type ToldVisit, type VisitRow } from './entities'
import {
  instrumentsQuery,
  peopleQuery,
  personOf,
  roomsQuery,
  validUntil,
  walkQuery,
  type InstrumentFacts,
  type PersonFacts,
  type WalkRow,
} from './houseFacts'
import { newestPlan } from './planner'
import { UseTimes, useTimesQuery } from './hours'
import { roundsSettings } from './settings'

const daysShown = 7
/** Visits that are read at a time: a few milliseconds' worth. */
const atOnce = 200

interface ShownDisplay {
  id: number
  name: string
  room: string
  roomId: number
  workstation: string
  workstationId: number
  verdict: Verdict
  white: string | null
  aimWhite: string | null
}

/** Displays of some visits, for their rings. */
async function displaysOf(data: DataSource, ids: readonly number[], now: number): Promise<Map<number, ShownDisplay>> {
  const rows = await data.query<ShownDisplay[]>(
    `SELECT display_id AS id, name, facts ->> 'room' AS room, room_id AS roomId, facts ->> 'workstation' AS workstation,
       workstation_id AS workstationId, ${verdictAt} AS verdict, facts -> '$.judged.white' AS white,
       facts -> '$.judged.aimWhite' AS aimWhite
     FROM display_now WHERE display_id IN (SELECT value FROM json_each(?))`,
    [now, JSON.stringify(ids)],
  )
  return new Map(rows.map((r) => [r.id, r]))
}

/** Visits as they are told, each with its place among some sets of windows; those of displays that were put away are left out. */
export async function visitsAsTold(
  data: DataSource,
  rows: readonly ToldVisit[],
  {
    now,
    windowSet = () => 0,
    optionSet = () => 0,
  }: {
    now: number
    windowSet?: (of: { workstationId: number; roomId: number }) => number
    optionSet?: (text: string) => number
  },
): Promise<Visit[]> {
  const displays = await displaysOf(
    data,
    rows.map((r) => r.displayId),
    now,
  )
  const told: Visit[] = []
  for (const row of rows) {
    const shown = displays.get(row.displayId)
    if (!shown) continue
    const { id, name, room, roomId, workstation, workstationId, verdict, white, aimWhite } = shown
    const { displayId: _, toldPersonId, toldInstrumentId, toldAt, optionsText, ...visit } = row
    told.push({
      ...visit,
      roomId,
      display: { id, name, room, roomId, workstation, verdict, white: parsed(white), aimWhite: parsed(aimWhite) },
      windowSet: windowSet({ workstationId, roomId }),
      optionSet: optionSet(optionsText),
      told:
        toldAt === null || toldInstrumentId === null
          ? null
          : { personId: toldPersonId, instrumentId: toldInstrumentId, at: toldAt },
    })
  }
  return told
}

const parsed = (text: string | null) => (text === null ? null : (JSON.parse(text) as Chromaticity | null))

/** How the newest plan stands; null before there is one. */
export async function planStanding(data: DataSource, working: boolean, now: number): Promise<PlanStanding | null> {
  const plan = await newestPlan(data)
  if (!plan) return null
  const [counts] = await data.query<
    [{ planned: number; unplanned: number; late: number; overdue: number; untold: number }]
  >(
    `SELECT COUNT(*) FILTER (WHERE state = 'planned') AS planned, COUNT(*) FILTER (WHERE state = 'unplanned') AS unplanned,
       COUNT(*) FILTER (WHERE state = 'planned' AND why_then = 'late') AS late,
       COUNT(*) FILTER (WHERE state = 'planned' AND due_at < ?) AS overdue,
       COUNT(*) FILTER (WHERE state = 'planned' AND ${isUntold}) AS untold
     FROM visit WHERE state IN ('planned', 'unplanned')`,
    [plan.madeAt],
  )
  const ignored = await unanswered(data, now)
  const { id, madeAt, by, fromAt, untilAt, walk, load } = plan
  return { id, madeAt, by, from: fromAt, until: untilAt, walk, load, ...counts, ignored, working }
}

/** Days back in which a desk may have been told of what still lies ahead. */
const reminderDays = 10
/** Visits that are named at most. */
const mostIgnored = 50

/** Visits that nobody at the desk answered. */
async function unanswered(data: DataSource, now: number): Promise<{ id: number; display: string }[]> {
  const { hours } = await roundsSettings(data)
  const sent = await data.query<{ visits: string }[]>(
    `SELECT visits FROM reminder WHERE to_kind = 'desk' AND state = 'sent' AND date >= ?`,
    [daysAfter(localDate(now, hours.zone), -reminderDays)],
  )
  const told = sent.map((s) => ({ visits: JSON.parse(s.visits) as number[] }))
  const visits = await data.query<{ id: number; display: string; answered: number }[]>(
    `SELECT visit.id AS id, display.name AS display, answer IS NOT NULL AS answered
     FROM visit JOIN display ON display.id = visit.display_id
     WHERE visit.id IN (SELECT value FROM json_each(?)) AND visit.state = 'planned' ORDER BY at`,
    [JSON.stringify([...new Set(told.flatMap((t) => t.visits))])],
  )
  const asked = visits.map((v) => ({ ...v, answered: v.answered === 1 }))
  return ignoredVisits(asked, told)
    .slice(0, mostIgnored)
    .map(({ id, display }) => ({ id, display }))
}

/** Seven days from the one that an instant or a day lies in. */
export async function weekOf(
  data: DataSource,
  {
    now,
    from,
    visitId = 0,
    only,
    working = false,
  }: {
    /** A plan is being worked out. */
    working?: boolean
    now: number
    from: number | string | undefined
    /** A visit that is among them in any case. */
    visitId?: number
    /** Visits of one person or one instrument alone, without how the plan stands. */
    only?: { personId: number | null; instrumentId: number }
  },
): Promise<Week> {
  const { hours, minutes, walk } = await roundsSettings(data)
  const first = typeof from === 'string' ? from : localDate(from ?? now, hours.zone)
  const window = { first, days: daysShown }
  const [begins, ends] = [dayStart(first, hours.zone), dayStart(daysAfter(first, daysShown), hours.zone)]
  const people = (await data.query<PersonFacts[]>(peopleQuery)).map(personOf).filter((p) => p.goes)
  const instruments = await data.query<InstrumentFacts[]>(instrumentsQuery)
  const rooms = await data.query<{ id: number; name: string; building: string | null }[]>(roomsQuery)
  const between = await data.query<WalkRow[]>(walkQuery)
  const times = new UseTimes(await data.query(useTimesQuery))

  const windowSets: Span[][] = []
  const sets = new Map<string, number>()
  const windowSet = (of: { workstationId: number; roomId: number }) => {
    const own: readonly UseTime[] = times.of(of)
    const key = [...own].sort().join()
    if (!sets.has(key)) sets.set(key, windowSets.push(useSpans(own, hours, window)) - 1)
    return sets.get(key)!
  }
  const optionSets: VisitRow['options'][] = []
  const knownOptions = new Map<string, number>()
  const optionSet = (text: string) => {
    const known = knownOptions.get(text) ?? optionSets.push(JSON.parse(text) as VisitRow['options']) - 1
    knownOptions.set(text, known)
    return known
  }
  const found = await data.query<{ id: number }[]>(
    `SELECT id FROM visit WHERE ((visit.at < ? AND visit.ends_at > ? AND visit.state IN ('planned', 'begun', 'done', 'missed', 'blocked')) OR visit.id = ?)
     ${only ? 'AND (visit.person_id = ? OR visit.instrument_id = ? OR visit.id = ?)' : ''} ORDER BY visit.at, visit.id`,
    [ends, begins, visitId, ...(only ? [only.personId ?? 0, only.instrumentId, visitId] : [])],
  )
  const visits: Visit[] = []
  for (let start = 0; start < found.length; start += atOnce) {
    // Others are answered in between: a large studio has thousands.
    if (start) await new Promise((resolve) => setImmediate(resolve))
    const ids = found.slice(start, start + atOnce).map((f) => f.id)
    const rows = await toldVisits(data, 'visit.id IN (SELECT value FROM json_each(?))', [JSON.stringify(ids)])
    visits.push(...(await visitsAsTold(data, rows, { now, windowSet, optionSet })))
  }
  return {
    plan: only ? null : await planStanding(data, working, now),
    hours,
    minutes,
    now,
    days: Array.from({ length: daysShown }, (_, d) => daysAfter(first, d)).map((date) => {
      const desk = deskOn(hours, date)
      return {
        date,
        from: dayStart(date, hours.zone),
        to: dayStart(daysAfter(date, 1), hours.zone),
        desk: desk && { from: atTime(date, desk.from, hours.zone), to: atTime(date, desk.to, hours.zone) },
        closed: hours.closed.find((c) => c.date === date)?.name ?? null,
      }
    }),
    people: people.map(({ id, name, carries, week: own, off }) => ({
      id,
      name,
      carries,
      hours: workSpans(own, off, hours, window),
      off: Array.from({ length: daysShown }, (_, d) => daysAfter(first, d)).filter((date) =>
        off.some((o) => date >= o.from && date <= o.to),
      ),
    })),
    instruments: instruments.map(({ id, name, kind, certifiedAt, carrierId, hangsAt }) => ({
      id,
      name,
      kind,
      validUntil: validUntil(certifiedAt),
      carrierId,
      hangsAt,
    })),
    rooms,
    walk: { ...walk, between },
    windowSets,
    optionSets,
    visits,
  }
}
