import type { DataSource } from 'typeorm'
import { In } from 'typeorm'
import type { RunState } from '@bichroma/core/runs'
import type { JudgedAnew, JudgedSummary, RunSummary } from '@bichroma/contract'
import { accountNames } from '../access/names'
import { displayEntity, instrumentEntity } from '../register/entities'
import { readingEntity, runEntity, type RunRow } from './entities'

/** The columns that lists need; the metrics of hundreds of runs stay in the store. */
const listColumns = [
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

/** Runs by their numbers (a few hundred at most), newest first. */
export const runsByIds = async (data: DataSource, ids: readonly number[]): Promise<RunSummary[]> =>
  summarizeRuns(
    data,
    await data.getRepository(runEntity).find({
      select: Object.fromEntries(listColumns.map((c) => [c, true])),
      where: { id: In([...ids]) },
      order: { startedAt: 'DESC', id: 'DESC' },
    }),
  )

/** Adds names and counts to rows. */
export async function summarizeRuns(data: DataSource, rows: readonly ListedRun[]): Promise<RunSummary[]> {
  if (!rows.length) return []
  const among = (of: (run: ListedRun) => number) => ({ id: In([...new Set(rows.map(of))]) })
  const accounts = await accountNames(data)
  const displays = new Map(
    (
      await data
        .getRepository(displayEntity)
        .find({ select: { id: true, name: true }, where: among((r) => r.displayId) })
    ).map((d) => [d.id, d.name]),
  )
  const instruments = new Map(
    (await data.getRepository(instrumentEntity).findBy(among((r) => r.instrumentId))).map((i) => [
      i.id,
      `${i.model} ${i.serial}`,
    ]),
  )
  const counts = await data
    .getRepository(readingEntity)
    .createQueryBuilder('reading')
    .select('reading.runId', 'runId')
    .addSelect('COUNT(*)', 'count')
    .where({ runId: In(rows.map((r) => r.id)) })
    .groupBy('reading.runId')
    .getRawMany<{ runId: number; count: number }>()
  const anew = await judgedAnew(
    data,
    rows.map((r) => r.id),
  )
  const countOf = new Map(counts.map((c) => [c.runId, Number(c.count)]))
  return rows.map((run) => ({
    id: run.id,
    displayId: run.displayId,
    displayName: displays.get(run.displayId)!,
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
    anew: anew.get(run.id) ?? null,
  }))
}

/** What runs came to as they were read, by their numbers: those that were judged anew since. */
export async function judgedAnew(data: DataSource, ids: readonly number[]): Promise<ReadonlyMap<number, JudgedAnew>> {
  const rows = await data.query<(JudgedAnew & { runId: number })[]>(
    `SELECT run_id AS runId, offset_id AS offsetId, luminance, since, taken_by AS "by", taken_at AS at, was AS verdict,
       summary ->> '$.averageDeltaE' AS averageDeltaE
     FROM run_anew JOIN instrument_offset ON instrument_offset.id = offset_id
     WHERE swapped AND run_id IN (${ids.map(() => '?').join(', ')})`,
    ids as number[],
  )
  return new Map(rows.map(({ runId, ...told }) => [runId, told]))
}
