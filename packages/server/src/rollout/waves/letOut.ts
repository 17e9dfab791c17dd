import type { DataSource } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import { atomically, written, type Take } from '../../data/atomically'
import { patiently } from '../../data/patiently'
import { agree } from '../agree'
import type { WaveItemRow, WaveRow } from '../entities'
import type { WaveServices } from './waves'

/** Displays that are let out in one transaction, so that others are answered in between. */
const blockOf = 8

/** A display whose turn has come. */
interface HeldItem extends WaveItemRow {
  /** It is still wanted there. */
  readonly now: number
  readonly label: string | null
  readonly filedAt: number | null
}

/** Lets a step out, some at a time; what somebody decided in between counts from the next block on. */
export async function letOut(
  { data, now, tend }: WaveServices,
  wave: WaveRow,
  step: 1 | 2,
  isClosed: () => boolean,
): Promise<void> {
  for (;;) {
    const items = await data.query<HeldItem[]>(
      `SELECT item.id AS id, item.display_id AS displayId, item.workstation_id AS workstationId, action, item.run_id AS runId,
         item.slot AS slot, item.profile_hash AS profileHash, file_name AS fileName, scope,
         run.label AS label, COALESCE(run.summary ->> 'at', run.started_at) AS filedAt,
         EXISTS (SELECT 1 FROM display_now JOIN wanted ON wanted.id = wanted_id WHERE display_now.display_id = item.display_id
           AND wanted.profile_hash IS item.profile_hash AND wanted.kind = CASE action WHEN 'place' THEN 'profile' ELSE 'none' END
           AND (display_now.workstation_id = item.workstation_id OR EXISTS (SELECT 1 FROM display_link
             WHERE display_link.display_id = item.display_id AND display_link.workstation_id = item.workstation_id))) AS now
       FROM wave_item AS item LEFT JOIN run ON run.id = item.run_id
       WHERE wave_id = ? AND step = ? AND item.state = 'held back' ORDER BY item.id LIMIT ${blockOf}`,
      [wave.id, step],
    )
    if (!items.length) return
    const at = now()
    await patiently(() =>
      atomically(data, (take) => {
        if (stateNow(data, wave.id).state !== 'under way') return
        for (const item of items) letOutOne(data, take, wave, item, at)
      }),
    )
    if (isClosed() || stateNow(data, wave.id).state !== 'under way') return
    tend(items.map((i) => i.workstationId))
    await new Promise((resolve) => setImmediate(resolve))
  }
}

/** Whether a wave is still under way, asked within a transaction. */
function stateNow(data: DataSource, id: number): { state: string } {
  const { databaseConnection } = data.driver as unknown as {
    databaseConnection: { prepare(sql: string): { get(...parameters: unknown[]): unknown } }
  }
  return databaseConnection.prepare('SELECT state FROM wave WHERE id = ?').get(id) as { state: string }
}

function letOutOne(data: DataSource, take: Take, wave: WaveRow, item: HeldItem, at: number): void {
  if (!item.now) {
    take(
      written(
        `UPDATE wave_item SET state = 'left out', says = 'What is wanted on it changed since this wave was agreed to.'
         WHERE id = ? AND state = 'held back'`,
        [item.id],
      ),
    )
    return
  }
  const placementId = agree(take, data.manager, {
    displayId: item.displayId,
    workstationId: item.workstationId,
    action: item.action,
    why: 'wave',
    runId: item.runId,
    slot: item.slot,
    profileHash: item.profileHash,
    fileName: item.fileName,
    description:
      item.label === null || item.filedAt === null
        ? 'no profile of ours'
        : `${item.label}, slot ${item.slot}, ${formatDate(item.filedAt)}`,
    scope: item.scope,
    requestedAt: at,
    accountId: wave.accountId,
    waveId: wave.id,
  })
  take(
    written(`UPDATE wave_item SET state = 'out', placement_id = ?, out_at = ? WHERE id = ? AND state = 'held back'`, [
      placementId,
      at,
      item.id,
    ]),
  )
}
