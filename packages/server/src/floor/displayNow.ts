import type { DataSource } from 'typeorm'
import { verdictNames, type AimWhite, type JudgedVerdict, type Verdict } from '@bichroma/core/aims'
import type { OperatingSystem, PanelKind } from '@bichroma/core/register'
import { dueLine, dueState, verdictNow, type Rest } from '@bichroma/core/rounds'
import {
  displayListSchema,
  type DaysFrom,
  type DisplayListing,
  type DisplaySort,
  type JudgedSummary,
  type Page,
  type PlacementState,
  type yup,
} from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { verdictAt, worstness } from '../aims/verdictAt'
import { holds, pageOf, type Condition } from '../data/pageOf'

// What lists of displays show is kept in display_now, one row each, by the store's own triggers (see the sixth migration):
// nothing that changes a display can forget it, and nothing is told before what it tells of is stored.

/** What of a row of display_now lists are made from. */
interface DisplayNowRow {
  display_id: number
  name: string
  room_id: number
  workstation_id: number
  slot: number
  label: string | null
  verdict: JudgedVerdict | null
  judged_at: number | null
  due_at: number | null
  run_id: number | null
  placement_state: PlacementState | null
  /** JSON of {@link DisplayFacts}. */
  facts: string
}

interface DueFacts {
  forecastAt: number | null
  daysFrom: DaysFrom | null
  rests: Rest['kind'] | null
  restsWhy: string | null
  restsUntil: string | null
  mattersAt: number | null
  mattersName: string | null
}

interface DisplayFacts extends DueFacts {
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

const week = 7 * 86_400_000

const rowColumns = `display_id, name, room_id, workstation_id, slot, label, verdict, judged_at, due_at, run_id, placement_state, facts`

/** Later than every other due line: that of a display that rests; see the thirteenth migration. */
const restsAt = 8_640_000_000_000_000

/** What is told of a display's due line, apart from the rest of its facts. */
function dueOf<F extends DueFacts>(told: F, dueAt: number | null) {
  const { daysFrom, rests, restsWhy, restsUntil, mattersAt, mattersName, forecastAt, ...facts } = told
  return {
    facts,
    due: {
      dueAt: rests === null ? dueAt : null,
      forecastAt,
      daysFrom,
      rests: rests && { kind: rests, why: restsWhy ?? '', until: restsUntil },
      mattersAt,
      mattersName: mattersAt === null ? null : mattersName,
    },
  }
}

/** What is told of the due line of a display that is in use. */
export async function dueOfDisplay(data: DataSource, id: number) {
  const [row] = await data.query<Pick<DisplayNowRow, 'due_at' | 'facts'>[]>(
    'SELECT due_at, facts FROM display_now WHERE display_id = ?',
    [id],
  )
  return row ? dueOf(JSON.parse(row.facts) as DisplayFacts, row.due_at).due : null
}

/** A row as lists show it. */
function listingOf(row: DisplayNowRow, hub: CourierHub, now: number): DisplayListing {
  const { judged, unsure, ...told } = JSON.parse(row.facts) as DisplayFacts
  const { due, facts } = dueOf(told, row.due_at)
  const last = row.judged_at === null ? null : { at: row.judged_at, verdict: row.verdict! }
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
    verdict: verdictNow(last, facts.checkEveryDays, now),
    ...due,
    dueState: dueState(due.dueAt, now, due.rests !== null),
    calendarAt: dueLine(last, facts.checkEveryDays),
    live: hub.displayOf(row.workstation_id, facts.serial) !== null,
    runId: row.run_id,
    astray:
      row.placement_state === 'overridden' || row.placement_state === 'missing' || row.placement_state === 'out of step'
        ? row.placement_state
        : null,
  }
}

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
    later: { sql: `due_at > ? AND due_at < ${restsAt}`, parameters: [now + week] },
    rests: { sql: `due_at >= ${restsAt}` },
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

/** Displays that were written since a change, or that belong to some workstations; at most so many. */
export async function displaysSince(
  data: DataSource,
  hub: CourierHub,
  { seq, workstations, most }: { seq: number; workstations: readonly number[]; most: number },
  now: number,
): Promise<DisplayListing[]> {
  const rows = await data.query<DisplayNowRow[]>(
    `SELECT ${rowColumns} FROM display_now
     WHERE seq > ? OR workstation_id IN (SELECT value FROM json_each(?)) LIMIT ${most}`,
    [seq, JSON.stringify(workstations)],
  )
  return rows.map((row) => listingOf(row, hub, now))
}

/** The number of the newest change of a display. */
export async function newestChange(data: DataSource): Promise<number> {
  const [{ seq }] = await data.query<{ seq: number }[]>('SELECT COALESCE(MAX(seq), 0) AS seq FROM display_now')
  return seq
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
