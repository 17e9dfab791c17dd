import ical, { ICalCalendarMethod, ICalEventStatus } from 'ical-generator'
import type { DataSource } from 'typeorm'
import { runKinds } from '@bichroma/core/runs'
import { instrumentsQuery, peopleQuery, type InstrumentFacts, type PersonFacts } from './houseFacts'
import type { OpenLink } from './links'
import type { VisitRow } from './entities'

const day = 86_400_000
/** Days back that a calendar tells of, and visits at most. */
const [daysBack, mostVisits] = [30, 2000]

type FeedRow = Pick<
  VisitRow,
  'id' | 'kind' | 'label' | 'personId' | 'instrumentId' | 'state' | 'attended' | 'reason'
> & {
  at: number
  endsAt: number
  sequence: number
  changedAt: number
  madeAt: number
  display: string
  room: string
  workstation: string
}

const whose = {
  person: 'visit.person_id = ?',
  room: 'display_now.room_id = ?',
  instrument: 'visit.instrument_id = ?',
} as const

/**
 * The calendar of a person, a room or an instrument, as iCalendar (RFC 5545). Each visit keeps its UID; what becomes of it
 * raises its SEQUENCE, and one that is not made any more is cancelled and not left out.
 */
export async function feedOf(
  data: DataSource,
  { kind, subjectId }: OpenLink & { kind: keyof typeof whose },
  name: string,
  now: number,
): Promise<string> {
  const rows = await data.query<FeedRow[]>(
    `SELECT visit.id AS id, visit.kind AS kind, visit.label AS label, person_id AS personId, instrument_id AS instrumentId,
       visit.state AS state, attended, reason, at, ends_at AS endsAt, sequence, changed_at AS changedAt, made_at AS madeAt,
       display_now.name AS display, facts ->> 'room' AS room, facts ->> 'workstation' AS workstation
     FROM visit JOIN display_now ON display_now.display_id = visit.display_id
     WHERE at IS NOT NULL AND ends_at IS NOT NULL AND at > ? AND ${whose[kind]}
     ORDER BY at DESC LIMIT ${mostVisits}`,
    [now - daysBack * day, subjectId],
  )
  const people = new Map((await data.query<PersonFacts[]>(peopleQuery)).map((p) => [p.id, p.name]))
  const instruments = new Map((await data.query<InstrumentFacts[]>(instrumentsQuery)).map((i) => [i.id, i.name]))
  const calendar = ical({
    name: `Rounds of ${name}`,
    prodId: { company: 'Bichroma', product: 'rounds' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: 900,
  })
  for (const row of rows.reverse()) {
    const person = row.personId === null ? null : people.get(row.personId)
    const lies = row.state === 'planned' || row.state === 'begun' || row.state === 'done'
    calendar.createEvent({
      id: `visit-${row.id}@bichroma`,
      sequence: row.sequence,
      stamp: new Date(row.changedAt || row.madeAt),
      start: new Date(row.at),
      end: new Date(row.endsAt),
      summary: `${row.display}: ${runKinds[row.kind].label.toLowerCase()}`,
      location: `${row.room}, ${row.workstation}`,
      description: [
        `${runKinds[row.kind].label}${row.label ? ` of ${row.label}` : ''}.`,
        person ? `${person} comes${row.attended ? ' and stays' : ''}.` : 'Nobody comes: the instrument hangs there.',
        row.instrumentId === null ? '' : `With ${instruments.get(row.instrumentId) ?? 'an instrument'}.`,
        row.reason ?? '',
      ]
        .filter(Boolean)
        .join('\n'),
      status: lies ? ICalEventStatus.CONFIRMED : ICalEventStatus.CANCELLED,
    })
  }
  return calendar.toString()
}
