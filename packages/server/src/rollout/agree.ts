import type { DataSource, EntityManager } from 'typeorm'
import { insertion, written, type Take } from '../data/atomically'
import { newPlacement, placementEntity, type PlacementRow } from './entities'

/** What a placement is made of; the rest begins as it always does. */
export type NewPlacement = Pick<
  PlacementRow,
  | 'displayId'
  | 'workstationId'
  | 'action'
  | 'why'
  | 'runId'
  | 'slot'
  | 'profileHash'
  | 'fileName'
  | 'description'
  | 'scope'
  | 'requestedAt'
  | 'accountId'
> &
  Partial<Pick<PlacementRow, 'waveId' | 'restores'>>

/**
 * The statements by which something is agreed to for a display on a workstation, in place of whatever was before; gives its
 * number. What was still held back for it in a wave is left out there: whoever agrees last has the word.
 */
export function agree(take: Take, manager: EntityManager, placement: NewPlacement): number {
  const { displayId, workstationId } = placement
  const id = take(
    insertion(manager, placementEntity, {
      waveId: null,
      ...newPlacement,
      ...placement,
      state: 'queued',
      formerId: null,
    }),
  )
  take(
    written(
      `UPDATE placement SET former_id = (SELECT MAX(id) FROM placement AS former WHERE former.display_id = ?
         AND former.workstation_id = ? AND former.state <> 'withdrawn' AND former.id < placement.id) WHERE id = ?`,
      [displayId, workstationId, id],
    ),
  )
  take(
    written(
      `UPDATE placement SET state = 'withdrawn', message = 'Another profile took its place.'
       WHERE display_id = ? AND workstation_id = ? AND state <> 'withdrawn' AND id < ?`,
      [displayId, workstationId, id],
    ),
  )
  take(
    written(
      `UPDATE wave_item SET state = 'left out', says = 'Something else was agreed to for it meanwhile.'
       WHERE display_id = ? AND workstation_id = ? AND state = 'held back' AND wave_id IS NOT ?`,
      [displayId, workstationId, placement.waveId ?? null],
    ),
  )
  return id
}

/**
 * The statements by which a queued placement is taken back, and what was agreed to before it holds again. `unlessTried`: one
 * that was tried stays, for it may lie on the workstation.
 */
export function takeBack(take: Take, id: number, why: string, unlessTried: boolean): void {
  const untried = unlessTried ? 'AND tries = 0' : ''
  take(
    written(`UPDATE placement SET state = 'withdrawn', message = ? WHERE id = ? AND state = 'queued' ${untried}`, [
      why,
      id,
    ]),
  )
  take(
    written(
      `UPDATE placement SET state = 'sent', message = NULL WHERE state = 'withdrawn' AND placed_at IS NOT NULL
         AND id = (SELECT former_id FROM placement AS gone WHERE gone.id = ? AND gone.state = 'withdrawn')`,
      [id],
    ),
  )
}

/** Workstations that reach a display, each once. */
export async function workstationsReaching(data: DataSource, displayId: number): Promise<number[]> {
  const rows = await data.query<{ id: number }[]>(
    `SELECT workstation_id AS id FROM display WHERE id = ? UNION ALL
     SELECT workstation_id FROM display_link WHERE display_id = ? ORDER BY 1`,
    [displayId, displayId],
  )
  return [...new Set(rows.map((r) => r.id))]
}
