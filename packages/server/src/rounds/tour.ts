import type { DataSource } from 'typeorm'
import { dayStart, daysAfter, localDate } from '@bichroma/core/rounds'
import type { Account, Tour } from '@bichroma/contract'
import { Refusal } from '../http/problem'
import { toldVisits } from './entities'
import { instrumentsQuery, peopleQuery, personOf, type InstrumentFacts, type PersonFacts } from './houseFacts'
import { roundsSettings } from './settings'
import { visitsAsTold } from './week'

/** What somebody has before them on a day, in order of time, and what they did of it. */
export async function tourOf(
  data: DataSource,
  account: Pick<Account, 'id' | 'name'>,
  asked: { person?: string; date?: string },
  now: number,
): Promise<Tour> {
  const { hours } = await roundsSettings(data)
  const date = asked.date ?? localDate(now, hours.zone)
  const people = (await data.query<PersonFacts[]>(peopleQuery)).map(personOf).filter((p) => p.goes)
  const personId = asked.person === undefined ? account.id : Number(asked.person)
  const person = people.find((p) => p.id === personId)
  if (asked.person !== undefined && !person)
    throw new Refusal('not-found', 'Nobody of that number goes to displays.', 'person')
  const rows = await toldVisits(
    data,
    `visit.person_id = ? AND visit.at < ? AND visit.ends_at > ?
     AND visit.state IN ('planned', 'begun', 'done', 'blocked', 'missed')`,
    [personId, dayStart(daysAfter(date, 1), hours.zone), dayStart(date, hours.zone)],
  )
  const carried = new Set(rows.filter((v) => v.state === 'planned' || v.state === 'begun').map((v) => v.instrumentId))
  const instruments = await data.query<InstrumentFacts[]>(instrumentsQuery)
  return {
    person: { id: personId, name: person?.name ?? account.name },
    date,
    zone: hours.zone,
    now,
    visits: await visitsAsTold(data, rows, { now }),
    instruments: instruments.filter((i) => carried.has(i.id)).map(({ id, name }) => ({ id, name })),
    people: people.map(({ id, name }) => ({ id, name })),
  }
}
