import type Database from 'better-sqlite3'
import type { Request } from 'express'
import type { DataSource } from 'typeorm'
import { readFoundText } from '@bichroma/core/rollout'
import type { RoomAsked, RoomsAsked } from '../http/api'

const atWorkstation =
  'JOIN workstation ON workstation.id = display.workstation_id JOIN room ON room.id = workstation.room_id'

/** How the room of a thing is found. */
const roomQueries = {
  room: 'SELECT room.id, room.name FROM room WHERE room.id = ?',
  display: `SELECT room.id, room.name FROM display ${atWorkstation} WHERE display.id = ?`,
  run: `SELECT room.id, room.name FROM run JOIN display ON display.id = run.display_id ${atWorkstation} WHERE run.id = ?`,
  placement: `SELECT room.id, room.name FROM placement JOIN display ON display.id = placement.display_id ${atWorkstation}
    WHERE placement.id = ?`,
  visit: `SELECT room.id, room.name FROM visit JOIN display ON display.id = visit.display_id ${atWorkstation} WHERE visit.id = ?`,
  report: `SELECT room.id, room.name FROM desk_report JOIN display ON display.id = desk_report.display_id ${atWorkstation} WHERE desk_report.id = ?`,
  'peer set': `SELECT DISTINCT room.id, room.name FROM peer_member JOIN display ON display.id = display_id ${atWorkstation} WHERE set_id = ?`,
  host: 'SELECT room.id, room.name FROM workstation JOIN room ON room.id = room_id WHERE lower(workstation.name) = lower(?)',
}
type Thing = keyof typeof roomQueries

/** Whose room each of a technician's requests is about. */
export function roomsAskedIn(data: DataSource): RoomsAsked {
  const { databaseConnection: store } = data.driver as unknown as { databaseConnection: Database.Database }
  const roomsOf = (thing: Thing, id: unknown): RoomAsked[] => {
    const number = Number(id)
    return Number.isSafeInteger(number) ? (store.prepare(roomQueries[thing]).all(number) as RoomAsked[]) : []
  }
  const ofAddress = (thing: Thing) => (request: Request) => roomsOf(thing, request.params.id)
  const ofField = (thing: Thing, field: string) => (request: Request) =>
    roomsOf(thing, (request.body as Record<string, unknown> | undefined)?.[field])
  return {
    'POST /rooms/:id/light': ofAddress('room'),
    'POST /rooms/:id/watch': ofAddress('room'),
    'DELETE /rooms/:id/watch': ofAddress('room'),
    'POST /displays/:id/name': ofAddress('display'),
    'POST /displays/:id/validations': ofAddress('display'),
    'POST /corrections': ofField('display', 'displayId'),
    'POST /runs': ofField('display', 'displayId'),
    'POST /runs/:id/stop': ofAddress('run'),
    'POST /runs/:id/put-back': ofAddress('run'),
    'POST /runs/:id/resume': ofAddress('run'),
    'POST /runs/:id/profile': ofAddress('run'),
    // By the reader that takes it in, so that nobody names one room here and another there.
    'POST /rollout/found': (request) => {
      const text = (request.body as { text?: unknown } | undefined)?.text
      try {
        return store.prepare(roomQueries.host).all(readFoundText(String(text)).host) as RoomAsked[]
      } catch {
        return []
      }
    },
    'POST /desk-reports/:id/answer': ofAddress('report'),
    'POST /visits/:id/begin': ofAddress('visit'),
    'POST /visits/:id/block': ofAddress('visit'),
    'POST /peer-sets/:id/runs': ofAddress('peer set'),
    'POST /peer-sets/:id/match': ofAddress('peer set'),
    'POST /peer-sets/:id/matches': ofAddress('peer set'),
    'POST /placements': ofField('run', 'runId'),
    'POST /placements/:id/verify': ofAddress('placement'),
  }
}
