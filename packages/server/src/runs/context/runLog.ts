import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import type { RunReading } from '@bichroma/contract'

/** What a step has come to, as it is stored. */
export interface StepResult {
  readonly value: unknown
}

/**
 * The two tables that grow with every reading, `run_step` and `reading`, by statements that are prepared once: they run
 * hundreds of times a run. A reading and the step that took it are stored as one.
 */
export class RunLog {
  private readonly ask: Database.Statement
  private readonly keep: Database.Statement
  private readonly done: Database.Statement
  private readonly both: (reading: RunReading & { runId: number }, step: [string, number, number, number]) => void

  constructor(data: DataSource) {
    const { databaseConnection: store } = data.driver as unknown as { databaseConnection: Database.Database }
    this.ask = store.prepare(
      'INSERT INTO run_step (run_id, seq, key, result, asked_at, done_at) VALUES (?, ?, ?, NULL, ?, NULL)',
    )
    this.done = store.prepare('UPDATE run_step SET result = ?, done_at = ? WHERE run_id = ? AND seq = ?')
    this.keep = store.prepare(
      `INSERT INTO reading (run_id, seq, stage, name, role, r, g, b, x, y, z, took_ms, at, delta_e)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
       ON CONFLICT (run_id, seq) DO UPDATE SET stage = excluded.stage, name = excluded.name, role = excluded.role, r = excluded.r, g = excluded.g,
         b = excluded.b, x = excluded.x, y = excluded.y, z = excluded.z, took_ms = excluded.took_ms, at = excluded.at,
         delta_e = excluded.delta_e`,
    )
    this.both = store.transaction((reading: RunReading & { runId: number }, step: [string, number, number, number]) => {
      const { runId, seq, stage, name, role, rgb, xyz, tookMs, at, deltaE } = reading
      this.keep.run(runId, seq, stage, name, role, ...rgb, ...xyz, tookMs, at, deltaE)
      this.done.run(...step)
    })
  }

  /** A step is about to be taken. */
  asked(runId: number, seq: number, key: string, at: number): void {
    this.ask.run(runId, seq, key, at)
  }

  /** A step has been taken; with it the reading that it took, if any. */
  taken(runId: number, seq: number, result: StepResult, at: number, reading: RunReading | null): void {
    const step: [string, number, number, number] = [JSON.stringify(result), at, runId, seq]
    if (reading) this.both({ ...reading, runId }, step)
    else this.done.run(...step)
  }
}
