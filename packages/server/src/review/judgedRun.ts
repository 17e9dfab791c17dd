import type { DataSource } from 'typeorm'
import { Refusal } from '../http/problem'
import { runEntity, runFacts, type RunFacts } from '../runs/entities'

/** A run that was judged. Its metrics stay the text that is stored: they are sent on, and read in a thread. */
export type JudgedRun = RunFacts & {
  judgement: NonNullable<RunFacts['judgement']>
  /** A Metrics as JSON. */
  metricsText: string
}

/** A judged run by its number. Throws Refusal for one that is not there or did not reach its end. */
export async function judgedRun(data: DataSource, id: number): Promise<JudgedRun> {
  const row: RunFacts | null = await data.getRepository(runEntity).findOne({ select: runFacts, where: { id } })
  if (!row) throw new Refusal('not-found', `There is no run ${id}.`)
  const metricsText = await metricsTextOf(data, id)
  if (row.state !== 'done' || metricsText === null || !row.judgement)
    throw new Refusal('conflict', 'This run has not been judged: it did not reach its end.')
  return { ...row, judgement: row.judgement, metricsText }
}

/** What a run's readings came to, as JSON; null when it was not judged. */
export async function metricsTextOf(data: DataSource, id: number): Promise<string | null> {
  const [found] = await data.query<{ metrics: string | null }[]>('SELECT metrics FROM run WHERE id = ?', [id])
  return found?.metrics ?? null
}
