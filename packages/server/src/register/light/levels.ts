import type { DataSource } from 'typeorm'
import { isSameLevel, levelChange, lightLevel, type LevelChange, type LightLevel } from '@bichroma/core/aims'
import { atomically, changesInAll, written } from '../../data/atomically'
import { patiently } from '../../data/patiently'
import type { Ledger, Who } from '../../ledger/ledger'
import { lightHours } from './keepReading'

/** When people work in the studio, in its zone. */
export interface WorkingHours {
  readonly zone: string
  /** The day of an instant (ms since 1970), as 2026-11-27. */
  readonly dateOf: (at: number) => string
  readonly counts: (at: number) => boolean
}

interface LevelServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly now: () => number
}

interface RoomLevel {
  name: string
  agreed: number | null
  allowed: string | null
  declined: number | null
  proposalId: number | null
  proposed: number | null
}

const fortnight = 14 * 86_400_000

/** What was agreed in a room, what was declined since, and what stands open. */
async function knownLevel(data: DataSource, roomId: number): Promise<RoomLevel | null> {
  const [row] = await data.query<RoomLevel[]>(
    `SELECT name, level_lux AS agreed, level_allowed AS allowed,
       (SELECT to_lux FROM light_proposal WHERE room_id = room.id AND state = 'declined' AND made_at >= COALESCE(level_since, 0)
        ORDER BY id DESC LIMIT 1) AS declined,
       open.id AS proposalId, open.to_lux AS proposed
     FROM room LEFT JOIN light_proposal AS open ON open.room_id = room.id AND open.state = 'open' WHERE room.id = ?`,
    [roomId],
  )
  return row ?? null
}

/** The level that a room's light has in working hours, and what it asks for. */
export async function levelOf(
  { data, now }: Pick<LevelServices, 'data' | 'now'>,
  roomId: number,
  { zone, counts }: WorkingHours,
): Promise<{ level: LightLevel | null; change: LevelChange | null; known: RoomLevel | null }> {
  const at = now()
  const level = lightLevel(await lightHours(data, roomId, at - fortnight, at), { now: at, zone, counts })
  const known = await knownLevel(data, roomId)
  if (!level || !known) return { level, change: null, known }
  const allowed = known.allowed === null ? null : (JSON.parse(known.allowed) as { from: number; to: number } | null)
  return { level, change: levelChange(level, { agreed: known.agreed, declined: known.declined, allowed }), known }
}

/** The statement that makes a level the one that aims follow. */
const levelling = (roomId: number, lux: number, at: number) =>
  written('UPDATE room SET level_lux = ?, level_since = ? WHERE id = ?', [lux, at, roomId])

const told = (roomId: number, name: string, from: number | null, to: number, proposal: number) => ({
  act: 'changed' as const,
  thing: 'room' as const,
  id: roomId,
  name,
  changes: [{ field: 'agreed light, lx', ...(from !== null && { from }), to }],
  evidence: { proposal },
})

/**
 * Looks at what a room's light asks for: makes the change where the administrator allowed it, else proposes it; what it asks
 * for no more lapses. True when the level is another now.
 */
export async function reviewLevel(services: LevelServices, roomId: number, working: WorkingHours): Promise<boolean> {
  const { data, ledger, now } = services
  const { level, change, known } = await levelOf(services, roomId, working)
  if (!level || !change || !known) return false
  // What stands open stays, rather than become a little other each day.
  const same = change.kind === 'propose' && known.proposed !== null && isSameLevel(known.proposed, change.lux)
  if (same || (change.kind !== 'propose' && change.kind !== 'make' && known.proposalId === null)) return false
  const at = now()
  return patiently(() =>
    atomically(data, (take) => {
      take(
        written(`UPDATE light_proposal SET state = 'lapsed', decided_at = ? WHERE room_id = ? AND state = 'open'`, [
          at,
          roomId,
        ]),
      )
      if (change.kind !== 'propose' && change.kind !== 'make') return false
      const makes = change.kind === 'make'
      const id = take(
        written(
          `INSERT INTO light_proposal (room_id, made_at, from_lux, to_lux, quartile_from, quartile_to, days, state, decided_at, decided_by)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
          [
            roomId,
            at,
            known.agreed ?? change.lux,
            change.lux,
            level.from,
            level.to,
            level.days,
            makes ? 'made' : 'open',
            makes ? at : null,
            makes ? 'Bichroma' : null,
          ],
        ),
      )
      if (!makes) return false
      take(levelling(roomId, change.lux, at))
      take(ledger.entry('Bichroma', told(roomId, known.name, known.agreed, change.lux, id)))
      return true
    }),
  )
}

/** Somebody decides on what is proposed for a room; false when it stands open no more. */
export function decideLevel(
  { data, ledger, now }: LevelServices,
  roomId: number,
  { proposalId, decision }: { proposalId: number; decision: 'accept' | 'decline' },
  who: Exclude<Who, 'Bichroma'>,
  row: { name: string; fromLux: number; toLux: number },
): boolean {
  const at = now()
  return atomically(data, (take) => {
    const before = changesInAll(data)
    take(
      written(
        `UPDATE light_proposal SET state = ?, decided_at = ?, decided_by = ? WHERE id = ? AND room_id = ? AND state = 'open'`,
        [decision === 'accept' ? 'accepted' : 'declined', at, who.name, proposalId, roomId],
      ),
    )
    if (changesInAll(data) === before) return false
    if (decision === 'accept') {
      take(levelling(roomId, row.toLux, at))
      take(ledger.entry(who, told(roomId, row.name, row.fromLux, row.toLux, proposalId)))
    } else
      take(
        ledger.entry(who, {
          act: 'declined',
          thing: 'room',
          id: roomId,
          name: row.name,
          evidence: { proposal: proposalId, lux: row.toLux },
        }),
      )
    return true
  })
}
