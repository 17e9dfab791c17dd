import type { DataSource } from 'typeorm'
import type { Binding, CommandResult } from '@bichroma/contract'
import { atomically, insertion, written, type Take } from '../data/atomically'
import { patiently } from '../data/patiently'
import { isHeld } from '../runs/heldByRuns'
import { runEntity } from '../runs/entities'
import { foundEntity, programFoundEntity, type FoundRow } from './entities'

/** What a courier, or a person in its place, read back. */
export type ReadBack = CommandResult<'host.readBack'>

/** A display that is looked for on a workstation. */
export interface SoughtDisplay {
  readonly id: number
  readonly serial: string
  readonly activeSlot: number
  readonly curves: string | null
}

/** Changes that are kept of a display on a workstation. */
const mostKept = 200
const forgotten = (displayId: number, workstationId: number) =>
  written(
    `DELETE FROM found WHERE display_id = ? AND workstation_id = ? AND id <= (SELECT id FROM found
       WHERE display_id = ? AND workstation_id = ? ORDER BY id DESC LIMIT 1 OFFSET ${mostKept})`,
    [displayId, workstationId, displayId, workstationId],
  )

const nothing = { machine: [], user: [], perUser: false }

/** What of a display's found row tells one state from another. */
const stateOf = (f: Pick<FoundRow, 'path' | 'hash' | 'scope' | 'waitsFor' | 'associations'>) =>
  JSON.stringify([f.path, f.hash, f.scope, f.waitsFor, f.associations])

/** The newest found of displays on a workstation, by display. */
export async function foundNow(
  data: DataSource,
  workstationId: number,
  displayIds: readonly number[],
): Promise<Map<number, FoundRow>> {
  const rows = await data
    .getRepository(foundEntity)
    .createQueryBuilder('f')
    .where(
      `f.id IN (SELECT MAX(id) FROM found WHERE workstation_id = :workstationId
         AND display_id IN (SELECT value FROM json_each(:ids)) GROUP BY display_id)`,
      { workstationId, ids: JSON.stringify(displayIds) },
    )
    .getMany()
  return new Map(rows.map((r) => [r.displayId, r]))
}

/** Displays of a workstation that something may be found of: its own, those that it reaches too, and those that left something. */
export const displaysSought = (data: DataSource, workstationId: number): Promise<SoughtDisplay[]> =>
  data.query(
    `SELECT id, serial, active_slot AS activeSlot, curves FROM display WHERE id IN (
       SELECT id FROM display WHERE workstation_id = ? AND kept = 'in use'
       UNION SELECT display_id FROM display_link WHERE workstation_id = ?
       UNION SELECT display_id FROM placement WHERE workstation_id = ? AND (state <> 'withdrawn'
         OR (run_id IS NOT NULL AND tries > 0 AND removed_at IS NULL))) ORDER BY id`,
    [workstationId, workstationId, workstationId],
  )

/**
 * Stores what was read back of a workstation: a row where it is another than before, else only when it was read. Slots on
 * show are taken over too, unless a run has the display; so are loaders and programs. All as one. Gives whether anything
 * is another than before.
 */
export async function recordFound(
  data: DataSource,
  workstationId: number,
  sought: readonly SoughtDisplay[],
  read: ReadBack,
  at: number,
  told: FoundRow['told'] = 'courier',
  /** What is stored with it. */
  also: (take: Take) => void = () => {},
): Promise<boolean> {
  const bySerial = new Map(read.bindings.map((b): [string, Binding] => [b.serial, b]))
  const slots = new Map(read.slots.map((s) => [s.serial, s.slot]))
  const loaders = new Map(read.loaders.map((l) => [l.serial, l.state]))
  const former = await foundNow(
    data,
    workstationId,
    sought.map((d) => d.id),
  )
  const programs = new Map(
    (await data.getRepository(programFoundEntity).findBy({ workstationId })).map((p) => [p.name, p]),
  )
  const held = new Set(
    (
      await data.getRepository(runEntity).find({
        select: { id: true, displayId: true },
        where: sought.map(({ id }) => ({ displayId: id, state: isHeld() })),
      })
    ).map((r) => r.displayId),
  )
  let changed = false
  await patiently(() =>
    atomically(data, (take) => {
      for (const { id: displayId, serial, activeSlot, curves } of sought) {
        const bound = bySerial.get(serial)
        const found = {
          displayId,
          workstationId,
          path: bound?.path ?? null,
          hash: bound?.hash ?? null,
          scope: bound?.scope ?? null,
          waitsFor: bound?.waitsFor ?? null,
          associations: bound?.associations ?? nothing,
          by: bound?.by ?? null,
          told,
          since: at,
          readAt: at,
        }
        const was = former.get(displayId)
        if (was && stateOf(was) === stateOf(found))
          take(written('UPDATE found SET read_at = ? WHERE id = ?', [at, was.id]))
        else {
          changed = true
          take(insertion(data.manager, foundEntity, found))
          take(forgotten(displayId, workstationId))
        }
        const slot = slots.get(serial)
        if (slot !== undefined && slot !== activeSlot && !held.has(displayId)) {
          changed = true
          take(written('UPDATE display SET active_slot = ? WHERE id = ? AND slots >= ?', [slot, displayId, slot]))
        }
        const loader = loaders.get(serial)
        if (loader !== undefined && loader !== curves) {
          changed = true
          take(written('UPDATE display SET curves = ?, curves_since = ? WHERE id = ?', [loader, at, displayId]))
        }
      }
      // What was sent and is read back is judged by what was found from now on.
      take(
        written(
          `UPDATE placement SET verified_at = ? WHERE workstation_id = ? AND state = 'sent' AND verified_at IS NULL
             AND display_id IN (SELECT value FROM json_each(?))`,
          [at, workstationId, JSON.stringify(sought.map((d) => d.id))],
        ),
      )
      also(take)
      if (told === 'hand') return
      for (const { name, kind, colorManagement, version4, settable } of read.programs) {
        const was = programs.get(name)
        if (was?.colorManagement === colorManagement && was.version4 === version4 && was.settable === settable) continue
        changed = true
        take(
          written(
            `INSERT INTO program_found (workstation_id, name, kind, color_management, version4, settable, since)
             VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT (workstation_id, name) DO UPDATE SET kind = excluded.kind,
               color_management = excluded.color_management, version4 = excluded.version4, settable = excluded.settable,
               since = excluded.since`,
            [
              workstationId,
              name,
              kind,
              colorManagement,
              version4 === null ? null : Number(version4),
              Number(settable),
              at,
            ],
          ),
        )
      }
      const names = new Set(read.programs.map((p) => p.name))
      for (const { id, name } of programs.values()) {
        if (names.has(name)) continue
        changed = true
        take(written('DELETE FROM program_found WHERE id = ?', [id]))
      }
    }),
  )
  return changed
}
