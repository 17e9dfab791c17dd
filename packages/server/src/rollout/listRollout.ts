import type { DataSource } from 'typeorm'
import { mendOf, type Mend, type PlacementState, type RuleOrigin } from '@bichroma/core/rollout'
import type { OperatingSystem } from '@bichroma/core/register'
import {
  rolloutListSchema,
  type FoundProfile,
  type Page,
  type Placement,
  type RolloutRow,
  type RolloutSummary,
  type WantedProfile,
  type yup,
} from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { holds, pageOf, type Condition } from '../data/pageOf'
import type { FoundRow, PlacementRow, WantedRow } from './entities'
import { placementSentence } from './sentences'

/** Columns of a placement as JSON, so that one row of a list holds it whole. */
const placementJson = `json_object('id', placement.id, 'displayId', placement.display_id, 'workstationId', placement.workstation_id,
  'runId', placement.run_id, 'profileHash', placement.profile_hash, 'fileName', placement.file_name,
  'description', placement.description, 'slot', placement.slot, 'scope', placement.scope, 'why', placement.why,
  'waveId', placement.wave_id, 'requestedAt', placement.requested_at, 'placedAt', placement.placed_at,
  'verifiedAt', placement.verified_at, 'path', placement.path, 'putBacks', json(placement.put_backs),
  'leftAloneAt', placement.left_alone_at, 'fault', placement.fault, 'message', placement.message)`
const foundJson = `json_object('path', found.path, 'hash', found.hash, 'scope', found.scope, 'waitsFor', found.waits_for,
  'by', found.by, 'told', found.told, 'since', found.since, 'readAt', found.read_at,
  'ours', found.hash IS NOT NULL AND EXISTS (SELECT 1 FROM placement AS mine WHERE mine.display_id = found.display_id
    AND mine.profile_hash = found.hash AND mine.run_id IS NOT NULL))`
const wantedJson = `json_object('kind', wanted.kind, 'slot', wanted.slot, 'runId', wanted.run_id, 'profileHash', wanted.profile_hash,
  'since', wanted.since, 'origin', wanted.origins ->> 'profile',
  'label', (SELECT label FROM run WHERE run.id = wanted.run_id),
  'at', (SELECT COALESCE(summary ->> 'at', started_at) FROM run WHERE run.id = wanted.run_id))`

type PlacementJson = Pick<
  PlacementRow,
  | 'id'
  | 'displayId'
  | 'workstationId'
  | 'runId'
  | 'profileHash'
  | 'fileName'
  | 'description'
  | 'slot'
  | 'scope'
  | 'why'
  | 'waveId'
  | 'requestedAt'
  | 'placedAt'
  | 'verifiedAt'
  | 'path'
  | 'putBacks'
  | 'leftAloneAt'
  | 'fault'
  | 'message'
>
type FoundJson = Pick<FoundRow, 'path' | 'hash' | 'scope' | 'waitsFor' | 'by' | 'told' | 'since' | 'readAt'> & {
  ours: number
}
type WantedJson = Pick<WantedRow, 'kind' | 'slot' | 'runId' | 'profileHash' | 'since'> & {
  origin: RuleOrigin
  label: string | null
  at: number | null
}

interface Row {
  displayId: number
  displayName: string
  roomName: string
  workstationId: number
  workstationName: string
  operatingSystem: OperatingSystem
  shownSlot: number
  state: PlacementState | null
  differs: number
  lacksProfile: number
  inWave: number
  requestedBy: string | null
  placement: string | null
  found: string | null
  wanted: string | null
}

const inWave = `EXISTS (SELECT 1 FROM wave_item WHERE wave_item.display_id = display_now.display_id
  AND wave_item.workstation_id = display_now.workstation_id AND wave_item.state = 'held back')`

const columns = `display_now.display_id AS displayId, display_now.name AS displayName, facts ->> 'room' AS roomName,
  display_now.workstation_id AS workstationId, facts ->> 'workstation' AS workstationName, facts ->> 'operatingSystem' AS operatingSystem,
  display_now.slot AS shownSlot, placement_state AS state, differs, lacks_profile AS lacksProfile, ${inWave} AS inWave,
  account.name AS requestedBy, CASE WHEN placement.id IS NOT NULL THEN ${placementJson} END AS placement,
  CASE WHEN found.id IS NOT NULL THEN ${foundJson} END AS found, CASE WHEN wanted.id IS NOT NULL THEN ${wantedJson} END AS wanted`
const from = `display_now LEFT JOIN placement ON placement.id = placement_id
  LEFT JOIN account ON account.id = placement.account_id LEFT JOIN found ON found.id = found_id
  LEFT JOIN wanted ON wanted.id = wanted_id`

/** What mends a difference, as core’s mendOf says it; one parameter: workstations whose couriers are there, as JSON. */
const mendSql = `CASE WHEN placement_state IN ('queued', 'placed') THEN
    CASE WHEN display_now.workstation_id NOT IN (SELECT value FROM json_each(?)) THEN 'courier'
      ELSE (SELECT CASE WHEN fault IS NULL THEN 'moment' WHEN fault = 'privilege' THEN 'right' WHEN fault = 'disk-full' THEN 'room'
        WHEN fault = 'no-display' THEN 'cable' ELSE 'decision' END FROM placement WHERE placement.id = placement_id) END
  WHEN NOT differs AND NOT lacks_profile AND placement_state IS NOT 'overridden' AND placement_state IS NOT 'missing'
    AND placement_state IS NOT 'out of step' THEN NULL
  WHEN ${inWave} THEN 'wave'
  WHEN placement_state IN ('overridden', 'missing', 'out of step') THEN 'decision'
  WHEN placement_state = 'waiting' AND differs AND EXISTS (SELECT 1 FROM placement JOIN wanted ON wanted.id = wanted_id
    WHERE placement.id = placement_id AND placement.profile_hash IS wanted.profile_hash)
    THEN (SELECT COALESCE(waits_for, 'sign-out') FROM found WHERE found.id = found_id)
  WHEN differs THEN 'decision'
  WHEN lacks_profile THEN 'run' END`

/** Displays with what rollout knows of them. */
export async function listRollout(
  data: DataSource,
  hub: CourierHub,
  asked: yup.InferType<typeof rolloutListSchema>,
): Promise<Page<RolloutRow>> {
  const by = {
    register: { by: 'display_now.display_id' },
    name: { by: 'folded(display_now.name)' },
    newest: { by: 'COALESCE((SELECT requested_at FROM placement WHERE placement.id = placement_id), 0)', down: true },
  }[asked.sort ?? 'register']
  const page = await pageOf<Row>(data, asked, {
    columns,
    from,
    countFrom: 'display_now',
    where: [
      holds('words', asked.search),
      asked.room !== undefined && { sql: 'room_id = ?', parameters: [Number(asked.room)] },
      asked.standing !== undefined && standing(asked.standing),
      asked.mend !== undefined && {
        sql: `(differs OR lacks_profile OR placement_state IS NOT 'in force') AND ${mendSql} = ?`,
        parameters: [JSON.stringify(hub.online()), asked.mend],
      },
    ],
    ...by,
    id: 'display_now.display_id',
  })
  return { ...page, items: page.items.map((row) => shown(row, hub)) }
}

function standing(asked: string): Condition {
  if (asked === 'differs') return { sql: 'differs' }
  if (asked === 'astray') return { sql: `placement_state IN ('overridden', 'missing', 'out of step')` }
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

/** Whether every workstation shows what it should, for the whole floor. */
export async function summarizeRollout(data: DataSource, hub: CourierHub): Promise<RolloutSummary> {
  const [counts] = await data.query<{ displays: number; asWanted: number; noProfile: number }[]>(
    `SELECT COUNT(*) AS displays, SUM(NOT differs AND NOT lacks_profile) AS asWanted, SUM(lacks_profile) AS noProfile FROM display_now`,
  )
  const mends = await data.query<{ mend: Mend; count: number }[]>(
    `SELECT ${mendSql} AS mend, COUNT(*) AS count FROM display_now
     WHERE differs OR placement_state IN ('queued', 'placed', 'overridden', 'missing', 'out of step') GROUP BY 1 HAVING mend IS NOT NULL`,
    [JSON.stringify(hub.online())],
  )
  return {
    displays: counts.displays,
    asWanted: counts.asWanted ?? 0,
    noProfile: counts.noProfile ?? 0,
    mends: Object.fromEntries(mends.map((m) => [m.mend, m.count])),
    waves: await data.query(
      `SELECT id, name, state FROM wave WHERE state NOT IN ('done', 'undone', 'preparing') ORDER BY id DESC LIMIT 20`,
    ),
  }
}

/** A placement as it is told. */
export function placementShown(
  p: PlacementJson,
  state: PlacementState,
  requestedBy: string | null,
  found: Pick<FoundProfile, 'path' | 'by' | 'waitsFor'> | null,
  at: { readonly shownSlot: number; readonly courierOnline: boolean },
): Placement {
  const { leftAloneAt, message, ...rest } = p
  return {
    ...rest,
    state,
    requestedBy: requestedBy ?? 'Bichroma',
    leftAlone: leftAloneAt !== null,
    message: placementSentence({
      state,
      message,
      foundPath: found?.path ?? null,
      placedPath: p.path,
      by: found?.by ?? null,
      waitsFor: found?.waitsFor ?? null,
      slot: p.slot,
      leftAlone: leftAloneAt !== null,
      ...at,
    }),
  }
}

export const wantedShown = ({ label, at, ...wanted }: WantedJson): WantedProfile => ({
  ...wanted,
  description: label === null ? null : `${label}, slot ${wanted.slot}`,
  filedAt: at,
})

export const foundShown = ({ ours, ...found }: FoundJson): FoundProfile => ({ ...found, ours: Boolean(ours) })

function shown(r: Row, hub: CourierHub): RolloutRow {
  const courierOnline = hub.helloOf(r.workstationId) !== null
  const { state, shownSlot } = r
  const found = r.found === null ? null : foundShown(JSON.parse(r.found) as FoundJson)
  const wanted = r.wanted === null ? null : wantedShown(JSON.parse(r.wanted) as WantedJson)
  const placed = r.placement === null ? null : (JSON.parse(r.placement) as PlacementJson)
  return {
    displayId: r.displayId,
    displayName: r.displayName,
    roomName: r.roomName,
    workstationId: r.workstationId,
    workstationName: r.workstationName,
    operatingSystem: r.operatingSystem,
    shownSlot,
    wanted,
    found,
    placement: placed && placementShown(placed, state!, r.requestedBy, found, { shownSlot, courierOnline }),
    differs: Boolean(r.differs),
    mend: mendOf({
      state,
      differs: Boolean(r.differs) && !(state === 'waiting' && placed?.profileHash === wanted?.profileHash),
      lacksProfile: Boolean(r.lacksProfile),
      waitsFor: found?.waitsFor ?? null,
      fault: placed?.fault ?? null,
      courierOnline,
      inWave: Boolean(r.inWave),
    }),
    courierOnline,
  }
}

export { foundJson, placementJson, wantedJson, type FoundJson, type PlacementJson, type WantedJson }
