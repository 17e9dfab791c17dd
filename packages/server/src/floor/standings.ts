import type { DataSource } from 'typeorm'
import type { Chromaticity, Verdict } from '@bichroma/core'
import type { FloorNow, FloorSummary, RoomStanding, VerdictCounts, WorstDisplay } from '@bichroma/contract'
import { noVerdicts, verdictAt, worstness } from './displayNow'
import { firstNeeds } from './needs'

const week = 7 * 86_400_000
/** Displays of a room that are shown as its worst. */
const worstOfRoom = 3

/** What the whole floor comes to. */
export async function floorNow(data: DataSource, now: number): Promise<FloorNow> {
  const verdicts = noVerdicts()
  for (const { verdict, displays } of await data.query<{ verdict: Verdict; displays: number }[]>(
    `SELECT ${verdictAt} AS verdict, COUNT(*) AS displays FROM display_now GROUP BY 1`,
    [now],
  ))
    verdicts[verdict] = displays
  const [{ overdue, soon }] = await data.query<{ overdue: number; soon: number }[]>(
    `SELECT (SELECT COUNT(*) FROM display_now WHERE due_at IS NULL) + (SELECT COUNT(*) FROM display_now WHERE due_at <= ?) AS overdue,
       (SELECT COUNT(*) FROM display_now WHERE due_at > ? AND due_at <= ?) AS soon`,
    [now, now, now + week],
  )
  return {
    displays: sumOf(verdicts),
    verdicts,
    overdue,
    dueThisWeek: soon,
    needs: await firstNeeds(data, now),
  }
}

const sumOf = (counts: VerdictCounts) => Object.values(counts).reduce((a, b) => a + b, 0)

/** Rooms by their displays, in the order of the register: all of them, or those given. */
export async function roomStandings(data: DataSource, now: number, only?: readonly number[]): Promise<RoomStanding[]> {
  const among = (column: string) => (only ? `${column} IN (SELECT value FROM json_each(?))` : 'TRUE')
  const ids = only ? [JSON.stringify(only)] : []
  const rooms = new Map(
    (
      await data.query<{ id: number; name: string; building: string | null }[]>(
        `SELECT id, name, building FROM room WHERE ${among('id')} ORDER BY id`,
        ids,
      )
    ).map((r): [number, RoomStanding] => [
      r.id,
      { ...r, displays: 0, verdicts: noVerdicts(), overdue: 0, nextDueAt: null, worst: [] },
    ]),
  )
  for (const row of await data.query<
    { roomId: number; verdict: Verdict; displays: number; overdue: number; nextDueAt: number | null }[]
  >(
    `SELECT room_id AS roomId, ${verdictAt} AS verdict, COUNT(*) AS displays,
       SUM(due_at IS NULL OR due_at <= ?) AS overdue, MIN(CASE WHEN due_at > ? THEN due_at END) AS nextDueAt
     FROM display_now WHERE ${among('room_id')} GROUP BY 1, 2`,
    [now, now, now, ...ids],
  )) {
    const room = rooms.get(row.roomId)!
    room.displays += row.displays
    room.verdicts[row.verdict] = row.displays
    room.overdue += row.overdue
    if (row.nextDueAt !== null) room.nextDueAt = Math.min(room.nextDueAt ?? Infinity, row.nextDueAt)
  }
  for (const { roomId, white, aimWhite, ...display } of await data.query<
    (Omit<WorstDisplay, 'white' | 'aimWhite'> & { roomId: number; white: string | null; aimWhite: string | null })[]
  >(
    `SELECT roomId, id, name, worst.verdict AS verdict,
       facts -> '$.judged.white' AS white, facts -> '$.judged.aimWhite' AS aimWhite
     FROM (
       SELECT room_id AS roomId, display_id AS id, ${verdictAt} AS verdict,
         ROW_NUMBER() OVER (PARTITION BY room_id ORDER BY ${worstness}, average_delta_e DESC, display_id) AS place
       FROM display_now WHERE ${among('room_id')}) AS worst
     JOIN display_now ON display_id = id WHERE place <= ${worstOfRoom} ORDER BY roomId, place`,
    [now, now, ...ids],
  ))
    rooms.get(roomId)!.worst.push({ ...display, white: pointOf(white), aimWhite: pointOf(aimWhite) })
  return [...rooms.values()]
}

/** A chromaticity to the digits that a small ring shows. */
function pointOf(text: string | null): Chromaticity | null {
  const point = text === null ? null : (JSON.parse(text) as Chromaticity | null)
  return point && { x: Number(point.x.toFixed(5)), y: Number(point.y.toFixed(5)) }
}

/** The floor with its rooms. */
export const floorSummary = async (data: DataSource, now: number): Promise<FloorSummary> => ({
  ...(await floorNow(data, now)),
  rooms: await roomStandings(data, now),
})
