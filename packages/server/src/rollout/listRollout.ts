import type { DataSource } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import type { OperatingSystem } from '@bichroma/core/register'
import { rolloutListSchema, type Page, type PlacementState, type RolloutRow, type yup } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { holds, pageOf, type Condition } from '../data/pageOf'

interface Row {
  displayId: number
  displayName: string
  workstationId: number
  workstationName: string
  operatingSystem: OperatingSystem
  id: number | null
  placedOn: number
  runId: number
  profileHash: string
  fileName: string
  description: string
  slot: number
  scope: 'machine' | 'user'
  state: PlacementState
  requestedAt: number
  requestedBy: string | null
  placedAt: number | null
  verifiedAt: number | null
  path: string | null
  message: string | null
  newestId: number | null
  newestHash: string
  newestSlot: number
  newestLabel: string
  filedAt: number
}

const columns = `display_now.display_id AS displayId, display_now.name AS displayName, display_now.workstation_id AS workstationId,
  facts ->> 'workstation' AS workstationName, facts ->> 'operatingSystem' AS operatingSystem,
  placement.id AS id, placement.workstation_id AS placedOn, placement.run_id AS runId, placement.profile_hash AS profileHash,
  file_name AS fileName, description, placement_slot AS slot, scope, placement.state AS state, requested_at AS requestedAt,
  account.name AS requestedBy, placed_at AS placedAt, verified_at AS verifiedAt, path, placement.message AS message,
  newest.id AS newestId, newest.profile_hash AS newestHash, newest.slot AS newestSlot, newest.label AS newestLabel,
  COALESCE(newest.summary ->> 'at', newest.started_at) AS filedAt`
const from = `display_now LEFT JOIN placement ON placement.id = placement_id
  LEFT JOIN account ON account.id = placement.account_id LEFT JOIN run AS newest ON newest.id = newest_run_id`

/** Displays with what rollout knows of them. */
export async function listRollout(
  data: DataSource,
  hub: CourierHub,
  asked: yup.InferType<typeof rolloutListSchema>,
): Promise<Page<RolloutRow>> {
  const by = {
    register: { by: 'display_now.display_id' },
    name: { by: 'folded(display_now.name)' },
    newest: { by: 'COALESCE(requested_at, 0)', down: true },
  }[asked.sort ?? 'register']
  const page = await pageOf<Row>(data, asked, {
    columns,
    from,
    countFrom: 'display_now',
    where: [
      holds('words', asked.search),
      asked.room !== undefined && { sql: 'room_id = ?', parameters: [Number(asked.room)] },
      asked.standing !== undefined && standing(asked.standing),
    ],
    ...by,
    id: 'display_now.display_id',
  })
  return { ...page, items: page.items.map((row) => shown(row, hub)) }
}

function standing(asked: string): Condition {
  if (asked === 'astray') return { sql: `placement_state IN ('overridden', 'missing')` }
  if (asked === 'newer') return { sql: 'newer' }
  if (asked === 'none') return { sql: 'placement_id IS NULL' }
  return { sql: 'placement_state = ?', parameters: [asked] }
}

/** Some displays (a few hundred at most) with what rollout knows of them. */
export const rolloutOf = async (data: DataSource, hub: CourierHub, ids: readonly number[]): Promise<RolloutRow[]> =>
  (
    await data.query<Row[]>(
      `SELECT ${columns} FROM ${from} WHERE display_now.display_id IN (SELECT value FROM json_each(?)) ORDER BY 1`,
      [JSON.stringify(ids)],
    )
  ).map((row) => shown(row, hub))

const shown = (r: Row, hub: CourierHub): RolloutRow => ({
  displayId: r.displayId,
  displayName: r.displayName,
  workstationId: r.workstationId,
  workstationName: r.workstationName,
  operatingSystem: r.operatingSystem,
  courierOnline: hub.helloOf(r.workstationId) !== null,
  newest:
    r.newestId === null
      ? null
      : {
          runId: r.newestId,
          profileHash: r.newestHash,
          slot: r.newestSlot,
          filedAt: r.filedAt,
          description: `${r.newestLabel}, slot ${r.newestSlot}, ${formatDate(r.filedAt)}`,
        },
  placement:
    r.id === null
      ? null
      : {
          id: r.id,
          displayId: r.displayId,
          workstationId: r.placedOn,
          runId: r.runId,
          profileHash: r.profileHash,
          fileName: r.fileName,
          description: r.description,
          slot: r.slot,
          scope: r.scope,
          state: r.state,
          requestedAt: r.requestedAt,
          requestedBy: r.requestedBy ?? 'someone',
          placedAt: r.placedAt,
          verifiedAt: r.verifiedAt,
          path: r.path,
          message: r.message,
        },
})
