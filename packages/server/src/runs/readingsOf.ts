import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import type { Stage } from '@bichroma/core/runs'
import type { ReadingRole, RunReading } from '@bichroma/contract'

/** Readings that are taken from the store at a time, so that others are answered in between. */
const blockSize = 1000

type Row = [seq: number, stage: string, name: string, role: ReadingRole, ...numbers: number[]]

const readingOf = ([seq, stage, name, role, r, g, b, x, y, z, tookMs, at, deltaE]: Row): RunReading => ({
  seq,
  stage: stage as Stage,
  name,
  role,
  rgb: [r, g, b],
  xyz: [x, y, z],
  tookMs,
  at,
  deltaE: deltaE as number | null,
})

/** The readings of a run, in their order: rows as they lie in the store, of which an imported run has thousands. */
export async function readingsOf(data: DataSource, runId: number): Promise<RunReading[]> {
  const { databaseConnection: store } = data.driver as unknown as { databaseConnection: Database.Database }
  const block = store
    .prepare(
      `SELECT seq, stage, name, role, r, g, b, x, y, z, took_ms, at, delta_e FROM reading
       WHERE run_id = ? AND seq > ? ORDER BY seq LIMIT ${blockSize}`,
    )
    .raw()
  const readings: RunReading[] = []
  for (let last = -1; ;) {
    const rows = block.all(runId, last) as Row[]
    for (const row of rows) readings.push(readingOf(row))
    if (rows.length < blockSize) return readings
    last = rows[rows.length - 1][0]
    await new Promise((resolve) => setImmediate(resolve))
  }
}
