import type { DataSource } from 'typeorm'
import type { UseTime } from '@bichroma/core/rounds'
import type { RoundsHouse } from '@bichroma/contract'
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
import { roundsSettings } from './settings'

/** All that rounds know of the studio: hours, people, instruments, ways, and when workstations may be used. */
export async function readHouse(data: DataSource, now: number): Promise<RoundsHouse> {
  const people = await data.query<PersonFacts[]>(peopleQuery)
  const instruments = await data.query<InstrumentFacts[]>(instrumentsQuery)
  const times = await data.query<
    { level: RoundsHouse['times'][number]['level']; of: number; name: string; times: string }[]
  >(
    `SELECT level, subject_id AS of, times, CASE level
       WHEN 'room' THEN (SELECT name FROM room WHERE id = subject_id AND retired_at IS NULL)
       WHEN 'workstation' THEN (SELECT name FROM workstation WHERE id = subject_id AND retired_at IS NULL)
       ELSE 'the studio' END AS name
     FROM use_times ORDER BY CASE level WHEN 'studio' THEN 0 WHEN 'room' THEN 1 ELSE 2 END, name`,
  )
  return {
    now,
    ...(await roundsSettings(data)),
    people: people.map(personOf),
    instruments: instruments.map(({ id, name, kind, certifiedAt, roomId, carrierId, hangsAt, hangs }) => ({
      id,
      name,
      kind,
      validUntil: validUntil(certifiedAt),
      roomId,
      carrierId,
      hangsAt,
      hangs,
    })),
    between: await data.query<WalkRow[]>(walkQuery),
    times: times.filter((t) => t.name !== null).map((t) => ({ ...t, times: JSON.parse(t.times) as UseTime[] })),
    rooms: await data.query<RoundsHouse['rooms']>(roomsQuery),
  }
}
