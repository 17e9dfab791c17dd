import type { DataSource } from 'typeorm'
import type { StartWave } from '@bichroma/contract'
import { atomically, insertion, written, type Take } from '../../data/atomically'
import { patiently } from '../../data/patiently'
import type { Ledger, Who } from '../../ledger/ledger'
import { waveEntity } from '../entities'
import type { PlannedRow } from './preview'

interface BeginServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly now: () => number
}

const day = 86_400_000
/** Displays of a wave that are stored in one go. */
const madeAtOnce = 300

/**
 * The wave with its displays and its entry, as one; the displays of a large one are stored some at a time before it
 * begins, and one that was not made whole is forgotten.
 */
export async function beginWave(
  services: BeginServices,
  input: Omit<StartWave, 'digest'>,
  does: readonly PlannedRow[],
  who: Who,
): Promise<number> {
  const first = firstFew(does, input.first)
  const make = (take: Take) => makeWave(services, take, input, does.length, first.size, who)
  const letBegin = (take: Take, id: number) => letItBegin(services, take, id, input, does.length, first.size, who)
  if (does.length <= madeAtOnce)
    return atomically(services.data, (take) => {
      const id = make(take)
      fill(take, id, does, first)
      letBegin(take, id)
      return id
    })
  const id = atomically(services.data, make)
  try {
    for (let i = 0; i < does.length; i += madeAtOnce) {
      const some = does.slice(i, i + madeAtOnce)
      await patiently(() => atomically(services.data, (take) => fill(take, id, some, first)))
      await new Promise((resolve) => setImmediate(resolve))
    }
    atomically(services.data, (take) => letBegin(take, id))
    return id
  } catch (error) {
    await forget(services.data, id).catch(() => {})
    throw error
  }
}

function makeWave(
  { data, now }: BeginServices,
  take: Take,
  input: Omit<StartWave, 'digest'>,
  displays: number,
  first: number,
  who: Who,
): number {
  const at = now()
  return take(
    insertion(data.manager, waveEntity, {
      name: input.name,
      selection: input.selection,
      state: 'preparing',
      first,
      gate: input.gate,
      stopShare: input.stopShare,
      // All at once needs no gate.
      word: first === displays,
      excused: 0,
      startedAt: at,
      accountId: who === 'Bichroma' ? null : who.id,
      expiresAt: at + input.days * day,
      endedAt: null,
    }),
  )
}

function fill(take: Take, id: number, does: readonly PlannedRow[], first: ReadonlySet<PlannedRow>): void {
  const rows = does.map((r) => [
    r.displayId,
    r.workstationId,
    first.has(r) ? 1 : 2,
    r.action,
    r.runId,
    r.slot,
    r.profileHash,
    r.fileName,
    r.scope,
  ])
  take(
    written(
      `INSERT INTO wave_item (wave_id, display_id, workstation_id, step, action, run_id, slot, profile_hash, file_name, scope, state)
       SELECT ?, value ->> 0, value ->> 1, value ->> 2, value ->> 3, value ->> 4, value ->> 5, value ->> 6, value ->> 7, value ->> 8, 'held back'
       FROM json_each(?)`,
      [id, JSON.stringify(rows)],
    ),
  )
}

/** It begins, with its entry; displays that other waves hold back are its own now. */
function letItBegin(
  { ledger }: BeginServices,
  take: Take,
  id: number,
  input: Omit<StartWave, 'digest'>,
  displays: number,
  first: number,
  who: Who,
): void {
  take(
    written(
      `UPDATE wave_item SET state = 'left out', says = 'Another wave took it over.' WHERE state = 'held back' AND wave_id <> ?
         AND EXISTS (SELECT 1 FROM wave_item AS own WHERE own.wave_id = ? AND own.display_id = wave_item.display_id
           AND own.workstation_id = wave_item.workstation_id)`,
      [id, id],
    ),
  )
  take(written(`UPDATE wave SET state = 'under way' WHERE id = ?`, [id]))
  take(
    ledger.entry(who, {
      act: 'started',
      thing: 'wave',
      id,
      name: input.name,
      evidence: { displays, first, gate: input.gate },
    }),
  )
}

async function forget(data: DataSource, id: number): Promise<void> {
  await data.query('DELETE FROM wave_item WHERE wave_id = ?', [id])
  await data.query('DELETE FROM wave WHERE id = ?', [id])
}

/** Forgets waves that were not made whole when the server went. */
export async function forgetHalfMade(data: DataSource): Promise<void> {
  await data.query(`DELETE FROM wave_item WHERE wave_id IN (SELECT id FROM wave WHERE state = 'preparing')`)
  await data.query(`DELETE FROM wave WHERE state = 'preparing'`)
}

/** The first few: those whose couriers are there, one of each system before a second of any. */
function firstFew(rows: readonly PlannedRow[], most: number): Set<PlannedRow> {
  if (most === 0) return new Set(rows)
  const there = rows.filter((r) => !r.waits.includes('courier'))
  const queues = new Map<string, PlannedRow[]>()
  for (const row of there.length ? there : rows)
    queues.set(row.operatingSystem, [...(queues.get(row.operatingSystem) ?? []), row])
  const first = new Set<PlannedRow>()
  while (first.size < most && [...queues.values()].some((q) => q.length))
    for (const queue of queues.values()) {
      const row = queue.shift()
      if (row && first.size < most) first.add(row)
    }
  return first
}
