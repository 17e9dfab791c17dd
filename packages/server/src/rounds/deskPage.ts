import type { DataSource } from 'typeorm'
import {
  dayStart,
  daysAfter,
  localDate,
  verdictNow,
  whatBreaks,
  weekHouse,
  type VisitMove,
} from '@bichroma/core/rounds'
import type { JudgedVerdict } from '@bichroma/core/aims'
import type { Desk, DeskDisplay } from '@bichroma/contract'
import { studioSettings } from '../studio/settings'
import { roundsSettings } from './settings'
import { openVisits, visitEntity, type VisitRow } from './entities'
import { lightAtDesk } from './lightAtDesk'
import { weekOf } from './week'

const minute = 60_000
const day = 24 * 60 * minute
/** Other times that are offered, how far apart, and how far ahead they are looked for. */
const [mostTimes, apart, aheadDays] = [5, 60 * minute, 7]

interface Row {
  id: number
  name: string
  verdict: JudgedVerdict | null
  judgedAt: number | null
  everyDays: number
  label: string | null
  dueAt: number | null
  lapsesAt: number | null
  slot: number
}

/** What whoever works at a desk may know: their displays, what is planned there, and what became of what they said. */
export async function deskOf(data: DataSource, workstationId: number, now: number): Promise<Desk | null> {
  const [place] = await data.query<{ workstation: string; room: string }[]>(
    `SELECT workstation.name AS workstation, room.name AS room FROM workstation JOIN room ON room.id = room_id
     WHERE workstation.id = ? AND workstation.retired_at IS NULL`,
    [workstationId],
  )
  if (!place) return null
  const rows = await data.query<Row[]>(
    `SELECT display_id AS id, name, verdict, judged_at AS judgedAt, facts ->> 'checkEveryDays' AS everyDays, label,
       due_at AS dueAt, lapses_at AS lapsesAt, slot FROM display_now WHERE workstation_id = ? ORDER BY display_id`,
    [workstationId],
  )
  const ids = JSON.stringify(rows.map((r) => r.id))
  const others = await data.query<
    { displayId: number; label: string; verdict: JudgedVerdict; at: number; number: number }[]
  >(
    `SELECT slot.display_id AS displayId, slot.label AS label, run.summary ->> 'verdict' AS verdict, run.summary ->> 'at' AS at,
       slot.number AS number
     FROM slot JOIN run ON run.id = slot.judged_run_id
     WHERE slot.display_id IN (SELECT value FROM json_each(?)) AND slot.label IS NOT NULL AND NOT slot.unsure
     ORDER BY slot.number`,
    [ids],
  )
  const visits = await data
    .getRepository(visitEntity)
    .createQueryBuilder('v')
    .where(`v.displayId IN (SELECT value FROM json_each(:ids)) AND v.state IN ${openVisits} AND v.at IS NOT NULL`, {
      ids,
    })
    .getMany()
  const reports = await data.query<
    { displayId: number; at: number; text: string; answer: string | null; answeredAt: number | null }[]
  >(
    `SELECT display_id AS displayId, at, text, answer, answered_at AS answeredAt FROM desk_report
     WHERE workstation_id = ? ORDER BY id DESC LIMIT 20`,
    [workstationId],
  )
  const displays: DeskDisplay[] = []
  for (const row of rows) {
    const verdict = verdictNow(
      row.judgedAt === null ? null : { at: row.judgedAt, verdict: row.verdict! },
      row.everyDays,
      now,
    )
    const visit = visits.find((v) => v.displayId === row.id)
    displays.push({
      id: row.id,
      name: row.name,
      verdict,
      shows: row.label,
      until: verdict === 'within' || verdict === 'near' ? row.lapsesAt : null,
      others: others
        .filter((o) => o.displayId === row.id && o.number !== row.slot)
        .map((o) => ({ label: o.label, verdict: verdictNow({ at: o.at, verdict: o.verdict }, row.everyDays, now) })),
      visit: visit
        ? {
            id: visit.id,
            state: visit.state === 'begun' ? 'begun' : 'planned',
            at: visit.at!,
            minutes: Math.round((visit.endsAt! - visit.at!) / minute),
            attended: visit.attended,
            answer: visit.answer,
            ...(visit.state === 'planned' ? await freeTimes(data, visit, row.dueAt, now) : { times: [], later: null }),
          }
        : null,
      reports: reports.filter((r) => r.displayId === row.id).map(({ displayId: _, ...r }) => r),
    })
  }
  return {
    studio: (await studioSettings(data)).studioName,
    ...place,
    zone: (await roundsSettings(data)).hours.zone,
    now,
    light: (await lightAtDesk(data, workstationId, now))?.text ?? null,
    displays,
  }
}

/** Other times at which the same person can come with the same instrument and nobody makes way; and the last before it is late. */
export async function freeTimes(
  data: DataSource,
  visit: VisitRow,
  dueAt: number | null,
  now: number,
): Promise<{ times: number[]; later: number | null }> {
  if (visit.instrumentId === null) return { times: [], later: null }
  const week = await weekOf(data, {
    now,
    from: now,
    visitId: visit.id,
    only: { personId: visit.personId, instrumentId: visit.instrumentId },
  })
  const house = weekHouse(week)
  const known = house.visits.find((v) => v.id === visit.id)
  if (!known) return { times: [], later: null }
  const { zone } = week.hours
  const until = dayStart(daysAfter(localDate(now, zone), aheadDays), zone)
  // What is overdue is put off by a day at most.
  const slack = Math.min(until, Math.max(dueAt ?? now, now + day))
  const times: number[] = []
  let later: number | null = null
  const step = 15 * minute
  for (let at = Math.ceil((now + week.minutes.warm * minute) / step) * step; at < slack; at += step) {
    const move: VisitMove = { personId: visit.personId, instrumentId: visit.instrumentId, at }
    if (Math.abs(at - visit.at!) < step) continue
    const { bar, displaced } = whatBreaks(house, known, move)
    if (bar || displaced.length) continue
    if (times.length < mostTimes && (times.length === 0 || at - times[times.length - 1] >= apart)) times.push(at)
    if (at > visit.at!) later = at
  }
  return { times, later }
}
