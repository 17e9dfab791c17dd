import type { DataSource } from 'typeorm'
import {
  followLight,
  hourOf,
  isOutTooLong,
  roomLightProblem,
  type LightExcursion,
  type RoomLightAt,
  type RoomLightRange,
} from '@bichroma/core/aims'
import { written, type Take } from '../../data/atomically'

/** A reading of a room's light, and who took it; null for an instrument that was left there. */
export interface RoomReading extends RoomLightAt {
  readonly roomId: number
  readonly instrumentId: number
  readonly accountId: number | null
}

/** Keeps a reading and adds it to its hour; gives its number. In a transaction of the caller's. */
export function keepReading(take: Take, reading: RoomReading, range: RoomLightRange | null): number {
  const { roomId, at, illuminanceLux: lux, kelvin, instrumentId, accountId } = reading
  const id = take(
    written(
      `INSERT INTO room_light (room_id, at, illuminance_lux, kelvin, instrument_id, account_id) VALUES (?, ?, ?, ?, ?, ?)`,
      [roomId, at, lux, kelvin, instrumentId, accountId],
    ),
  )
  const outside = range && roomLightProblem(reading, range) !== null ? 1 : 0
  take(
    written(
      `INSERT INTO light_hour (room_id, at, readings, lux_sum, least, most, mired_sum, coloured, outside)
       VALUES (?, ?, 1, ?, ?, ?, ?, ?, ?)
       ON CONFLICT (room_id, at) DO UPDATE SET readings = readings + 1, lux_sum = lux_sum + excluded.lux_sum,
         least = MIN(least, excluded.least), most = MAX(most, excluded.most), mired_sum = mired_sum + excluded.mired_sum,
         coloured = coloured + excluded.coloured, outside = outside + excluded.outside`,
      [roomId, hourOf(at), lux, lux, lux, kelvin === null ? 0 : 1e6 / kelvin, kelvin === null ? 0 : 1, outside],
    ),
  )
  return id
}

/** What a watch knows of the light that it follows. */
export interface Followed {
  readonly roomId: number
  readonly range: RoomLightRange | null
  readonly allowMinutes: number
  readonly readAt: number | null
  readonly outSince: number | null
  readonly backSince: number | null
  readonly worstLux: number | null
  readonly worstKelvin: number | null
  readonly toldAt: number | null
  /** The last day on which the desks were told, and whether they are told of what goes on now. */
  readonly deskDay: string | null
  readonly atDesk: number
}

const excursionOf = ({ outSince, backSince, worstLux, worstKelvin }: Followed): LightExcursion | null =>
  outSince === null ? null : { from: outSince, backSince, worst: { illuminanceLux: worstLux!, kelvin: worstKelvin } }

/**
 * Follows a watched room by a reading, and tells of it once its light is out for longer than it may be: to the desks there
 * once a day, whatever the light does. In the transaction that keeps the reading. `today`: the reading's day in the studio.
 */
export function followReading(take: Take, watch: Followed, reading: RoomLightAt, today: string): void {
  const { excursion, ended } = followLight(excursionOf(watch), reading, watch.range, watch.readAt)
  if (ended)
    take(
      written(
        `INSERT INTO light_time (room_id, from_at, until_at, worst_lux, worst_kelvin, told_at) VALUES (?, ?, ?, ?, ?, ?)`,
        [watch.roomId, ended.from, ended.until, ended.worst.illuminanceLux, ended.worst.kelvin, watch.toldAt],
      ),
    )
  const told = ended || !excursion ? null : watch.toldAt
  const tells =
    told === null && excursion !== null && isOutTooLong(excursion, reading.at, watch.allowMinutes) ? reading.at : null
  const atDesk = tells !== null && watch.deskDay !== today
  take(
    written(
      `UPDATE light_watch SET read_at = ?, out_since = ?, back_since = ?, worst_lux = ?, worst_kelvin = ?, told_at = ?,
         desk_day = ?, at_desk = ? WHERE room_id = ?`,
      [
        reading.at,
        excursion?.from ?? null,
        excursion?.backSince ?? null,
        excursion?.worst.illuminanceLux ?? null,
        excursion?.worst.kelvin ?? null,
        told ?? tells,
        atDesk ? today : watch.deskDay,
        atDesk || (told !== null && watch.atDesk === 1) ? 1 : 0,
        watch.roomId,
      ],
    ),
  )
}

export interface HourRow {
  at: number
  readings: number
  lux: number
  least: number
  most: number
  kelvin: number | null
  outside: number
}

/** What each hour of a room's light was, oldest first. Parameters: the room, from when, until when. */
export const hoursQuery = `SELECT at, readings, lux_sum / readings AS lux, least, most,
    CASE WHEN coloured > 0 THEN 1e6 * coloured / mired_sum END AS kelvin, outside
  FROM light_hour WHERE room_id = ? AND at >= ? AND at < ? ORDER BY at`

/** The same, of a room between two instants, ms since 1970. */
export const lightHours = (data: DataSource, roomId: number, from: number, until: number): Promise<HourRow[]> =>
  data.query<HourRow[]>(hoursQuery, [roomId, from, until])
