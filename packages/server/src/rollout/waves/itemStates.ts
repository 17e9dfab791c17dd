import type { DataSource } from 'typeorm'
import { noItems, type WaveItemState, type WaveStanding } from '@bichroma/core/rollout'
import { newestFound, standingSql } from '../standingSql'

/** Tables that a wave’s displays are told from. */
export const itemFrom = `wave_item AS item JOIN display ON display.id = item.display_id
  LEFT JOIN placement ON placement.id = item.placement_id
  LEFT JOIN placement AS undo ON undo.id = item.undo_id
  LEFT JOIN found ON found.id = ${newestFound('item.display_id', 'item.workstation_id')}`

/** How what undoes an item stands: done once it was read back. */
const undone = `undo.verified_at IS NOT NULL AND (undo.state = 'withdrawn' OR (undo.state = 'sent' AND found.hash IS undo.profile_hash))`

/** How a display of a wave stands; see core’s waveItemStates. */
export const itemState = `CASE item.state WHEN 'held back' THEN 'held back' WHEN 'left out' THEN 'left out'
  WHEN 'undone' THEN 'undone' ELSE
    CASE WHEN undo.id IS NOT NULL THEN CASE WHEN ${undone} THEN 'undone' WHEN undo.state = 'withdrawn' THEN 'left out' ELSE 'undoing' END
      WHEN placement.state = 'withdrawn' THEN CASE WHEN placement.verified_at IS NULL THEN 'left out' ELSE 'there' END
      WHEN placement.state = 'queued' AND placement.fault IS NOT NULL THEN 'failed'
      ELSE CASE ${standingSql} WHEN 'overridden' THEN 'failed' WHEN 'missing' THEN 'failed' WHEN 'in force' THEN 'there'
        WHEN 'waiting' THEN 'there' WHEN 'out of step' THEN 'there' ELSE 'under way' END END END`

/** Displays of a wave by how they stand. */
export async function standingOfWave(data: DataSource, waveId: number): Promise<WaveStanding> {
  const rows = await data.query<{ step: 1 | 2; state: WaveItemState; count: number; unchecked: number }[]>(
    `SELECT item.step AS step, ${itemState} AS state, COUNT(*) AS count,
       SUM(NOT EXISTS (SELECT 1 FROM run WHERE run.display_id = item.display_id AND run.kind = 'check' AND run.state = 'done'
         AND run.started_at >= item.out_at AND run.summary ->> 'verdict' IN ('within', 'near'))) AS unchecked
     FROM ${itemFrom} WHERE item.wave_id = ? GROUP BY 1, 2`,
    [waveId],
  )
  const first = noItems()
  const rest = noItems()
  let unchecked = 0
  for (const row of rows) {
    const counts = row.step === 1 ? first : rest
    counts[row.state] = row.count
    if (row.step === 1 && row.state === 'there') unchecked = row.unchecked
  }
  return { first, rest, unchecked }
}
