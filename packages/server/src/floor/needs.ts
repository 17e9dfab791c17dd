import type { DataSource } from 'typeorm'
import { needKinds, type Need, type NeedKind, type Page, type PlacementState } from '@bichroma/contract'
import { pageOf, type Asked } from '../data/pageOf'
import { placementSentence } from '../rollout/sentences'
import { verdictAt } from '../aims/verdictAt'

/** Needs that the floor shows at once. */
const firstRows = 12

/** When a row of display_now has a need, in which order among its like, and what was found, in a sentence. */
const needs: Readonly<Record<NeedKind, { when: string; order: string; found: (row: NeedRow) => string | null }>> = {
  outside: {
    when: `verdict_now = 'outside' AND run_id IS NULL`,
    order: '-COALESCE(average_delta_e, 0)',
    found: (row) => row.sentence,
  },
  untold: {
    when: `verdict_now = 'untold' AND run_id IS NULL`,
    order: 'judged_at',
    found: (row) => row.sentence,
  },
  profile: {
    when: `placement_state IN ('overridden', 'missing')`,
    order: '0',
    found: (row) =>
      placementSentence({
        state: row.placementState!,
        message: null,
        foundPath: row.path,
        placedPath: row.placedPath,
        by: row.by,
        waitsFor: null,
        slot: row.placementSlot,
        shownSlot: row.slot,
        leftAlone: row.leftAloneAt !== null,
        courierOnline: true,
      }),
  },
  slot: {
    when: `placement_state = 'out of step' AND run_id IS NULL`,
    order: '0',
    found: () => null,
  },
  lapsed: { when: `verdict_now = 'lapsed' AND run_id IS NULL`, order: 'judged_at', found: () => null },
  due: {
    when: `verdict_now IN ('within', 'near', 'untold') AND due_at <= now AND run_id IS NULL`,
    order: 'due_at',
    found: () => null,
  },
  unproven: { when: `verdict_now = 'unproven' AND run_id IS NULL`, order: '0', found: () => null },
}

/** Each need a row, by the pressure of its kind (0 first) and its order within. One parameter: the time. */
const needRows = `(WITH told AS (SELECT display_id, slot, judged_at, due_at, average_delta_e, run_id, placement_state,
    placement_slot, now, ${verdictAt.replace('?', 'now')} AS verdict_now FROM display_now, (SELECT ? AS now))
  ${needKinds
    .map(
      (kind, pressure) =>
        `SELECT ${pressure} AS pressure, ${needs[kind].order} AS place, display_id FROM told WHERE ${needs[kind].when}`,
    )
    .join(' UNION ALL ')})`

interface NeedRow {
  id: number
  name: string
  slot: number
  judgedAt: number | null
  checkEveryDays: number
  sentence: string | null
  placementState: PlacementState | null
  placementSlot: number | null
  path: string | null
  placedPath: string | null
  by: string | null
  leftAloneAt: number | null
}

/** What needs someone, most pressing first. */
export async function listNeeds(data: DataSource, asked: Asked, now: number): Promise<Page<Need>> {
  const page = await pageOf<{ pressure: number; display_id: number }>(data, asked, {
    columns: 'pressure, display_id',
    from: needRows,
    fromParameters: [now],
    where: [],
    // One number sorts both: places are below a day of the year 5000 in ms.
    by: 'pressure * 1e15 + place',
    id: 'display_id',
  })
  const rows = await data.query<NeedRow[]>(
    `SELECT display_now.display_id AS id, name, display_now.slot AS slot, judged_at AS judgedAt, facts ->> 'checkEveryDays' AS checkEveryDays,
       facts ->> '$.judged.sentence' AS sentence, placement_state AS placementState, placement_slot AS placementSlot,
       found.path AS path, placement.path AS placedPath, found.by AS by, left_alone_at AS leftAloneAt
     FROM display_now LEFT JOIN placement ON placement.id = placement_id LEFT JOIN found ON found.id = found_id
     WHERE display_now.display_id IN (SELECT value FROM json_each(?))`,
    [JSON.stringify(page.items.map((n) => n.display_id))],
  )
  const byId = new Map(rows.map((r) => [r.id, r]))
  return { ...page, items: page.items.map((n) => needOf(needKinds[n.pressure], byId.get(n.display_id)!)) }
}

const needOf = (kind: NeedKind, row: NeedRow): Need => ({
  kind,
  displayId: row.id,
  displayName: row.name,
  slot: row.slot,
  found: needs[kind].found(row),
  judgedAt: row.judgedAt,
  checkEveryDays: row.checkEveryDays,
  placement:
    row.placementState !== null && row.placementSlot !== null
      ? { state: row.placementState, slot: row.placementSlot }
      : null,
})

/** How many needs there are, and the first of them. */
export async function firstNeeds(data: DataSource, now: number): Promise<{ count: number; first: Need[] }> {
  const { items, total } = await listNeeds(data, { limit: String(firstRows) }, now)
  return { count: total, first: items }
}
