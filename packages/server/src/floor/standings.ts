import type { DataSource } from 'typeorm'
import { verdictNames, type Verdict } from '@bichroma/core/aims'
import type { Chromaticity } from '@bichroma/core/color'
import type { FloorSummary, RoomStanding, WorstDisplay } from '@bichroma/contract'
import { verdictAt, worstness } from '../aims/verdictAt'
import { noVerdicts } from './displayNow'
import { firstNeeds } from './needs'

const week = 7 * 86_400_000
/** Displays of a room that are shown as its worst. */
const worstOfRoom = 3

/** Rooms by their displays, in the order of the register. */
async function roomStandings(data: DataSource, now: number, only: readonly number[]): Promise<RoomStanding[]> {
  const among = (column: string) => `${column} IN (SELECT value FROM json_each(?))`
  const ids = JSON.stringify(only)
  const rooms = new Map(
    (
      await data.query<{ id: number; name: string; building: string | null }[]>(
        `SELECT id, name, building FROM room WHERE retired_at IS NULL AND ${among('id')} ORDER BY id`,
        [ids],
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
    [now, now, now, ids],
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
    [now, now, ids],
  ))
    rooms.get(roomId)!.worst.push({ ...display, white: pointOf(white), aimWhite: pointOf(aimWhite) })
  return [...rooms.values()]
}

/** A chromaticity to the digits that a small ring shows. */
function pointOf(text: string | null): Chromaticity | null {
  const point = text === null ? null : (JSON.parse(text) as Chromaticity | null)
  return point && { x: Number(point.x.toFixed(5)), y: Number(point.y.toFixed(5)) }
}

/** Time after which every room is looked at again, although nothing was written: verdicts lapse, and due lines pass. */
const lookAgainMs = 60_000
/** Rooms that are looked at in one go. */
const roomsAtOnce = 40

/** What the floor tells beside its rooms: displays that fall due within a week, and what needs someone. */
type Beside = Pick<FloorSummary, 'dueThisWeek' | 'needs'>

async function besideRooms(data: DataSource, now: number): Promise<Beside> {
  const [{ soon }] = await data.query<{ soon: number }[]>(
    'SELECT COUNT(*) AS soon FROM display_now WHERE due_at > ? AND due_at <= ?',
    [now, now + week],
  )
  return { dueThisWeek: soon, needs: await firstNeeds(data, now) }
}

/** What was looked at last. */
interface Kept {
  /** When all rooms were, ms since 1970. */
  readonly at: number
  /** The newest change that is in it. */
  readonly seq: number
  readonly rooms: ReadonlyMap<number, RoomStanding>
  readonly beside: Beside
}

/**
 * How the floor stands, kept from one question to the next: only rooms of which something was written are looked at again,
 * and all that displays need where anything was.
 */
export class Standings {
  private kept: Kept | null = null
  /** How often all of it was forgotten. */
  private forgotten = 0
  private looking: Promise<unknown> = Promise.resolve()

  constructor(private readonly data: DataSource) {}

  /** Rooms came, or were named anew, or displays moved between them. */
  forget(): void {
    this.kept = null
    this.forgotten++
  }

  /** One question after another. What is forgotten while it is looked at is answered, and not kept. */
  private look(now: number): Promise<Kept> {
    const looked = this.looking.then(async () => {
      const before = this.forgotten
      const kept = await this.lookFrom(this.kept, now)
      if (this.forgotten === before) this.kept = kept
      return kept
    })
    this.looking = looked.catch(() => {})
    return looked
  }

  private async lookFrom(kept: Kept | null, now: number): Promise<Kept> {
    const [{ newest }] = await this.data.query<{ newest: number }[]>(
      'SELECT COALESCE(MAX(seq), 0) AS newest FROM display_now',
    )
    if (!kept || now < kept.at || now - kept.at > lookAgainMs) {
      const rooms = new Map<number, RoomStanding>()
      const ids = await this.data.query<{ id: number }[]>('SELECT id FROM room ORDER BY id')
      for (let i = 0; i < ids.length; i += roomsAtOnce) {
        const some = ids.slice(i, i + roomsAtOnce).map((r) => r.id)
        for (const room of await roomStandings(this.data, now, some)) rooms.set(room.id, room)
        // Nobody waits for a whole fleet to be looked through.
        await new Promise((resolve) => setImmediate(resolve))
      }
      return { at: now, seq: newest, rooms, beside: await besideRooms(this.data, now) }
    }
    if (newest <= kept.seq) return kept
    const changed = await this.data.query<{ id: number }[]>(
      'SELECT DISTINCT room_id AS id FROM display_now WHERE seq > ?',
      [kept.seq],
    )
    const rooms = new Map(kept.rooms)
    for (const room of await roomStandings(
      this.data,
      now,
      changed.map((r) => r.id),
    ))
      rooms.set(room.id, room)
    return { at: kept.at, seq: newest, rooms, beside: await besideRooms(this.data, now) }
  }

  /** The floor with its rooms, in the order of the register. */
  async floor(now: number): Promise<FloorSummary> {
    const { rooms: byId, beside } = await this.look(now)
    const rooms = [...byId.values()]
    const verdicts = noVerdicts()
    for (const room of rooms) for (const name of verdictNames) verdicts[name] += room.verdicts[name]
    return {
      displays: rooms.reduce((sum, r) => sum + r.displays, 0),
      verdicts,
      overdue: rooms.reduce((sum, r) => sum + r.overdue, 0),
      ...beside,
      rooms,
    }
  }
}
