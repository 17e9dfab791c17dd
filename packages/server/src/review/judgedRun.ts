import type { DataSource } from 'typeorm'
import { Refusal } from '../http/problem'
import { runEntity, type RunRow } from '../runs/entities'

/** A run that was judged. */
export type JudgedRun = RunRow & {
  metrics: NonNullable<RunRow['metrics']>
  judgement: NonNullable<RunRow['judgement']>
}

/** A judged run by its number. Throws Refusal for one that is not there or did not reach its end. */
export async function judgedRun(data: DataSource, id: number): Promise<JudgedRun> {
  const row = await data.getRepository(runEntity).findOneBy({ id })
  if (!row) throw new Refusal('not-found', `There is no run ${id}.`)
  if (row.state !== 'done' || !row.metrics || !row.judgement)
    throw new Refusal('conflict', 'This run has not been judged: it did not reach its end.')
  return row as JudgedRun
}
