import { written, type Take } from '../../data/atomically'

/** Ends the watch over a room, or that of an instrument: what goes on is over as far as anybody knows. In a transaction of the caller's. */
export function endWatch(take: Take, which: { readonly roomId: number } | { readonly instrumentId: number }): void {
  const [column, id] = 'roomId' in which ? ['room_id', which.roomId] : ['instrument_id', which.instrumentId]
  take(
    written(
      `INSERT INTO light_time (room_id, from_at, until_at, worst_lux, worst_kelvin, told_at)
       SELECT room_id, out_since, COALESCE(back_since, read_at), worst_lux, worst_kelvin, told_at FROM light_watch
       WHERE ${column} = ? AND out_since IS NOT NULL`,
      [id],
    ),
  )
  take(written(`DELETE FROM light_watch WHERE ${column} = ?`, [id]))
}
