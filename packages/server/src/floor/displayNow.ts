import type { DataSource } from 'typeorm'
import {
  dueState,
  verdictNames,
  type AimWhite,
  type OperatingSystem,
  type PanelKind,
  type Verdict,
} from '@bichroma/core'
import {
  displayListSchema,
  type DisplayListing,
  type DisplaySort,
  type JudgedSummary,
  type Page,
  type PlacementState,
  type yup,
} from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { holds, pageOf, type Condition } from '../data/pageOf'

// What lists of displays show is kept in display_now, one row each, by the store's own triggers (see the sixth migration):
// nothing that changes a display can forget it, and nothing is told before what it tells of is stored.

/** A row of display_now. */
export interface DisplayNowRow {
  seq: number
  display_id: number
  name: string
  room_id: number
  workstation_id: number
  slot: number
  label: string | null
  verdict: Verdict | null
  judged_at: number | null
  due_at: number | null
  lapses_at: number | null
  average_delta_e: number | null
  run_id: number | null
  placement_id: number | null
  placement_state: PlacementState | null
  placement_slot: number | null
  newest_run_id: number | null
  newer: number
  /** JSON of {@link DisplayFacts}. */
  facts: string
}

interface DisplayFacts {
  maker: string
  model: string
  serial: string
  firmware: string
  panelKind: PanelKind
  checkEveryDays: number
  room: string
  workstation: string
  operatingSystem: OperatingSystem
  systemVersion: string
  unsure: number | null
  luminance: number | null
  white: AimWhite | null
  judged: JudgedSummary | null
}

/** What is said of a row at a time (one parameter), as core’s verdictNow says it. */
export const verdictAt = `CASE WHEN judged_at IS NULL THEN 'unproven' WHEN ? > lapses_at THEN 'lapsed' ELSE verdict END`
/** Its place among verdicts, the worst first; one parameter. */
export const worstness = `CASE ${verdictAt} WHEN 'outside' THEN 0 WHEN 'lapsed' THEN 1 WHEN 'unproven' THEN 2 WHEN 'near' THEN 3 ELSE 4 END`
const week = 7 * 86_400_000

export const rowColumns = `seq, display_id, name, room_id, workstation_id, slot, label, verdict, judged_at, due_at, lapses_at,
  average_delta_e, run_id, placement_id, placement_state, placement_slot, newest_run_id, newer, facts`

/** A row as lists show it. */
export function listingOf(row: DisplayNowRow, hub: CourierHub, now: number): DisplayListing {
  const { judged, unsure, ...facts } = JSON.parse(row.facts) as DisplayFacts
  return {
    ...facts,
    id: row.display_id,
    name: row.name,
    roomId: row.room_id,
    workstationId: row.workstation_id,
    slot: row.slot,
    label: row.label,
    unsure: Boolean(unsure),
    judged: judged && {
      runId: judged.runId,
      at: judged.at,
      sentence: judged.sentence,
      averageDeltaE: judged.averageDeltaE,
      luminance: judged.luminance,
      white: judged.white,
      aimWhite: judged.aimWhite,
      whiteTemperature: judged.whiteTemperature,
    },
    verdict: verdictOf(row, now),
    dueAt: row.due_at,
    dueState: dueState(row.due_at, now),
    live: hub.displayOf(row.workstation_id, facts.serial) !== null,
    runId: row.run_id,
  }
}

const verdictOf = ({ judged_at, lapses_at, verdict }: DisplayNowRow, now: number): Verdict =>
  judged_at === null ? 'unproven' : now > lapses_at! ? 'lapsed' : verdict!

/** Displays for a list; by default in the order of the register. */
export async function listDisplays(
  data: DataSource,
  hub: CourierHub,
  asked: yup.InferType<typeof displayListSchema>,
  now: number,
): Promise<Page<DisplayListing>> {
  const { by, parameters = [] } = sorts[asked.sort ?? 'register'](now)
  const due: Readonly<Record<NonNullable<typeof asked.due>, Condition>> = {
    overdue: { sql: 'due_at IS NULL OR due_at <= ?', parameters: [now] },
    'this week': { sql: 'due_at > ? AND due_at <= ?', parameters: [now, now + week] },
    later: { sql: 'due_at > ?', parameters: [now + week] },
  }
  const page = await pageOf<DisplayNowRow>(data, asked, {
    columns: rowColumns,
    from: 'display_now',
    where: [
      holds('words', asked.search),
      asked.room !== undefined && { sql: 'room_id = ?', parameters: [Number(asked.room)] },
      asked.verdict !== undefined && { sql: `${verdictAt} = ?`, parameters: [now, asked.verdict] },
      asked.due !== undefined && due[asked.due],
    ],
    by,
    byParameters: parameters,
    id: 'display_id',
  })
  return { ...page, items: page.items.map((row) => listingOf(row, hub, now)) }
}

const sorts: Readonly<Record<DisplaySort, (now: number) => { by: string; parameters?: readonly unknown[] }>> = {
  register: () => ({ by: 'display_id' }),
  name: () => ({ by: 'folded(name)' }),
  room: () => ({ by: `folded(facts ->> 'room')` }),
  verdict: (now) => ({ by: worstness, parameters: [now] }),
  due: () => ({ by: 'COALESCE(due_at, 0)' }),
  deltaE: () => ({ by: '-COALESCE(average_delta_e, 1e9)' }),
}

/** No display at any verdict: what counts begin with. */
export const noVerdicts = (): Record<Verdict, number> =>
  Object.fromEntries(verdictNames.map((v) => [v, 0])) as Record<Verdict, number>

/** Writes every row anew from what it tells of. */
export async function rebuildDisplays(data: DataSource): Promise<number> {
  await data.query(
    `INSERT OR REPLACE INTO display_now (${sourceColumns}) SELECT ${sourceColumns} FROM display_now_source ORDER BY display_id`,
  )
  await data.query('DELETE FROM display_now WHERE display_id NOT IN (SELECT id FROM display)')
  const [{ rows }] = await data.query<{ rows: number }[]>('SELECT COUNT(*) AS rows FROM display_now')
  return rows
}

/** Displays whose row says something else than what it tells of: none, as long as the triggers keep it. */
export async function strayDisplays(data: DataSource): Promise<number[]> {
  const rows = await data.query<{ id: number }[]>(
    `SELECT DISTINCT display_id AS id FROM (
       SELECT * FROM (SELECT ${sourceColumns} FROM display_now EXCEPT SELECT ${sourceColumns} FROM display_now_source)
       UNION ALL
       SELECT * FROM (SELECT ${sourceColumns} FROM display_now_source EXCEPT SELECT ${sourceColumns} FROM display_now))`,
  )
  return rows.map((r) => r.id)
}

const sourceColumns = `display_id, name, words, room_id, workstation_id, slot, label, verdict, judged_at, due_at, lapses_at,
  average_delta_e, run_id, placement_id, placement_state, placement_slot, newest_run_id, newer, facts`
