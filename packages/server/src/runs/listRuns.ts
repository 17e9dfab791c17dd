import type { DataSource } from 'typeorm'
import type { RunState } from '@bichroma/core/runs'
import { runListSchema, type Page, type RunSummary, type yup } from '@bichroma/contract'
import { holds, pageOf, type Condition } from '../data/pageOf'
import { runsByIds } from './summaries'

/** Runs after which nobody counts further. */
const countUpTo = 1000
/** Displays up to which their runs are gathered one display after another, instead of looking at every run there is. */
const fewDisplays = 300

/** Runs for a list, newest first. */
export async function listRuns(
  data: DataSource,
  asked: yup.InferType<typeof runListSchema>,
): Promise<Page<RunSummary>> {
  const page = await pageOf<{ id: number }>(data, asked, {
    columns: 'run.id AS id',
    from: 'run',
    where: [
      asked.of === 'judged'
        ? { sql: `summary IS NOT NULL AND +state = 'done'` }
        : asked.of === 'work'
          ? { sql: `imported IS NULL AND +state <> 'importing'` }
          : { sql: `+state <> 'importing'` },
      asked.kind !== undefined && { sql: 'kind = ?', parameters: [asked.kind] },
      asked.state !== undefined && inState(asked.state),
      asked.verdict !== undefined && { sql: `summary ->> 'verdict' = ?`, parameters: [asked.verdict] },
      asked.display !== undefined && { sql: 'display_id = ?', parameters: [Number(asked.display)] },
      await ofDisplays(data, asked),
    ],
    by: 'started_at',
    down: true,
    id: 'run.id',
    countUpTo,
  })
  return {
    ...page,
    items: await runsByIds(
      data,
      page.items.map((r) => r.id),
    ),
  }
}

/** Most runs are done: those are found by the newest of all, the others by an index of just them. */
const inState = (state: RunState): Condition => ({
  sql: state === 'done' ? '+state = ?' : `state <> 'done' AND state = ?`,
  parameters: [state],
})

/**
 * Runs of displays that are searched for, or of a room. Of few displays they are gathered by the index of each; of many, the
 * newest are soon found by looking at the newest of all: the plus keeps the store from gathering them.
 */
async function ofDisplays(
  data: DataSource,
  { search, room }: { search?: string; room?: string },
): Promise<Condition | null> {
  const wanted = [
    holds(
      `display.name || ' ' || maker || ' ' || model || ' ' || serial || ' ' || room.name || ' ' || workstation.name`,
      search,
    ),
    room === undefined ? null : { sql: 'room_id = ?', parameters: [Number(room)] },
  ].filter((c) => c !== null)
  if (!wanted.length) return null
  const rows = await data.query<{ id: number }[]>(
    `SELECT display.id AS id FROM display JOIN workstation ON workstation.id = display.workstation_id
       JOIN room ON room.id = workstation.room_id WHERE ${wanted.map((c) => `(${c.sql})`).join(' AND ')}`,
    wanted.flatMap((c) => [...(c.parameters ?? [])]),
  )
  return {
    sql: `${rows.length > fewDisplays ? '+' : ''}display_id IN (SELECT value FROM json_each(?))`,
    parameters: [JSON.stringify(rows.map((r) => r.id))],
  }
}
