import type { DataSource } from 'typeorm'
import { lightStanding, roomLightProblem, type RoomLightRange } from '@bichroma/core/aims'
import type { HoldsRuns, Room, WatchState } from '@bichroma/contract'

interface Row {
  id: number
  name: string
  building: string | null
  light: string | null
  allowMinutes: number
  holdsRuns: HoldsRuns
  levelLux: number | null
  levelSince: number | null
  levelAllowed: string | null
  lightId: number | null
  at: number
  illuminanceLux: number
  kelvin: number | null
  readWith: string
  readBy: string | null
  instrumentId: number | null
  instrument: string
  since: number
  setBy: string
  state: WatchState
  stateSince: number
  says: string | null
  readAt: number | null
  outSince: number | null
  toldAt: number | null
  worstLux: number | null
  worstKelvin: number | null
  proposalId: number | null
  madeAt: number
  fromLux: number
  toLux: number
  quartileFrom: number
  quartileTo: number
  days: number
}

const roomsQuery = `SELECT room.id AS id, room.name AS name, building, light, allow_minutes AS allowMinutes, holds_runs AS holdsRuns,
    level_lux AS levelLux, level_since AS levelSince, level_allowed AS levelAllowed,
    newest.id AS lightId, newest.at AS at, newest.illuminance_lux AS illuminanceLux, newest.kelvin AS kelvin,
    reader.model || ' ' || reader.serial AS readWith, account.name AS readBy,
    watch.instrument_id AS instrumentId, watching.model || ' ' || watching.serial AS instrument, watch.since AS since,
    watch.set_by AS setBy, watch.state AS state, state_since AS stateSince, says, read_at AS readAt, out_since AS outSince, told_at AS toldAt,
    worst_lux AS worstLux, worst_kelvin AS worstKelvin,
    proposal.id AS proposalId, made_at AS madeAt, from_lux AS fromLux, to_lux AS toLux, quartile_from AS quartileFrom,
    quartile_to AS quartileTo, days
  FROM room
    LEFT JOIN room_light AS newest ON newest.id = (SELECT id FROM room_light WHERE room_id = room.id ORDER BY at DESC, id DESC LIMIT 1)
    LEFT JOIN instrument AS reader ON reader.id = newest.instrument_id LEFT JOIN account ON account.id = newest.account_id
    LEFT JOIN light_watch AS watch ON watch.room_id = room.id
    LEFT JOIN instrument AS watching ON watching.id = watch.instrument_id
    LEFT JOIN light_proposal AS proposal ON proposal.room_id = room.id AND proposal.state = 'open'`

/** What a reading that nobody took by hand is told as. */
export const readByItself = 'its watch'

function roomOfRow(row: Row, now: number): Room {
  const range = row.light === null ? null : (JSON.parse(row.light) as RoomLightRange | null)
  const out = row.instrumentId === null || row.outSince === null || !range ? null : row.outSince
  return {
    id: row.id,
    name: row.name,
    building: row.building,
    light: range,
    allowMinutes: row.allowMinutes,
    holdsRuns: row.holdsRuns,
    level:
      row.levelLux === null
        ? null
        : {
            lux: row.levelLux,
            since: row.levelSince!,
            allowed: row.levelAllowed === null ? null : (JSON.parse(row.levelAllowed) as { from: number; to: number }),
          },
    newestLight:
      row.lightId === null
        ? null
        : {
            id: row.lightId,
            at: row.at,
            illuminanceLux: row.illuminanceLux,
            kelvin: row.kelvin,
            instrument: row.readWith,
            by: row.readBy ?? readByItself,
          },
    watch:
      row.instrumentId === null
        ? null
        : {
            instrumentId: row.instrumentId,
            instrument: row.instrument,
            since: row.since,
            by: row.setBy,
            state: row.state,
            stateSince: row.stateSince,
            says: row.says,
            readAt: row.readAt,
            standing: lightStanding(row, now),
            out:
              out === null
                ? null
                : {
                    since: out,
                    problem:
                      roomLightProblem({ illuminanceLux: row.worstLux!, kelvin: row.worstKelvin }, range!) ??
                      'out of what was wanted then',
                  },
          },
    proposal:
      row.proposalId === null
        ? null
        : {
            id: row.proposalId,
            madeAt: row.madeAt,
            fromLux: row.fromLux,
            toLux: row.toLux,
            quartiles: { from: row.quartileFrom, to: row.quartileTo },
            days: row.days,
          },
  }
}

/** All rooms, with their light as it was last read and what watches it. */
export const listRooms = async (data: DataSource, now: number): Promise<Room[]> =>
  (await data.query<Row[]>(`${roomsQuery} WHERE retired_at IS NULL ORDER BY room.id`)).map((r) => roomOfRow(r, now))

/** One room, be it there no more. Throws RangeError for one that never was. */
export async function roomOf(data: DataSource, id: number, now: number): Promise<Room> {
  const [row] = await data.query<Row[]>(`${roomsQuery} WHERE room.id = ?`, [id])
  if (!row) throw new RangeError(`There is no room ${id}.`)
  return roomOfRow(row, now)
}
