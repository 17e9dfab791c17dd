import type { DataSource } from 'typeorm'
import { In, Not } from 'typeorm'
import type { RunState } from '@bichroma/core'
import type { JudgedSummary, RunSummary } from '@bichroma/contract'
import { accountEntity } from '../access/entities'
import { instrumentEntity } from '../register/entities'
import { readingEntity, runEntity, type RunRow } from './entities'

/** The columns that lists need; the metrics of hundreds of runs stay in the store. */
export const listColumns = [
  'id',
  'displayId',
  'slot',
  'kind',
  'label',
  'instrumentId',
  'accountId',
  'state',
  'stage',
  'message',
  'startedAt',
  'endedAt',
  'summary',
  'profileHash',
  'profileName',
  'overwrote',
  'imported',
  'restoring',
  'takenBackAt',
  'takenBackBy',
  'withdrawnAt',
  'withdrawnBy',
  'withdrawnReason',
] as const satisfies readonly (keyof RunRow)[]
export type ListedRun = Pick<RunRow, (typeof listColumns)[number]>

/** Runs for a list, newest first. */
export async function listRuns(
  data: DataSource,
  where: { displayId?: number; take?: number } = {},
): Promise<RunSummary[]> {
  const rows = await data.getRepository(runEntity).find({
    select: Object.fromEntries(listColumns.map((c) => [c, true])),
    where: { state: Not('importing'), ...(where.displayId !== undefined && { displayId: where.displayId }) },
    order: { startedAt: 'DESC', id: 'DESC' },
    take: where.take ?? 200,
  })
  return summarizeRuns(data, rows)
}

/** Adds names and counts to rows. */
export async function summarizeRuns(data: DataSource, rows: readonly ListedRun[]): Promise<RunSummary[]> {
  if (!rows.length) return []
  const accounts = new Map((await data.getRepository(accountEntity).find()).map((a) => [a.id, a.name]))
  const instruments = new Map(
    (await data.getRepository(instrumentEntity).find()).map((i) => [i.id, `${i.model} ${i.serial}`]),
  )
  const counts = await data
    .getRepository(readingEntity)
    .createQueryBuilder('reading')
    .select('reading.runId', 'runId')
    .addSelect('COUNT(*)', 'count')
    .where({ runId: In(rows.map((r) => r.id)) })
    .groupBy('reading.runId')
    .getRawMany<{ runId: number; count: number }>()
  const countOf = new Map(counts.map((c) => [c.runId, Number(c.count)]))
  return rows.map((run) => ({
    id: run.id,
    displayId: run.displayId,
    kind: run.kind,
    slot: run.slot,
    label: run.label,
    state: run.state as RunState,
    startedAt: run.startedAt,
    endedAt: run.endedAt,
    startedBy: accounts.get(run.accountId) ?? 'someone',
    instrument: run.imported?.instrument ?? instruments.get(run.instrumentId) ?? 'an instrument',
    readings: countOf.get(run.id) ?? 0,
    judged: run.state === 'done' ? (run.summary as JudgedSummary | null) : null,
    message: run.message,
    imported: run.imported,
    restoring: run.restoring,
    takenBack:
      run.takenBackAt !== null && run.takenBackBy !== null ? { at: run.takenBackAt, by: run.takenBackBy } : null,
    withdrawn:
      run.withdrawnAt !== null && run.withdrawnBy !== null && run.withdrawnReason !== null
        ? { at: run.withdrawnAt, by: run.withdrawnBy, reason: run.withdrawnReason }
        : null,
  }))
}
