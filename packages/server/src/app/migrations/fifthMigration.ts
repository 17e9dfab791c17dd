import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * What had been told by sentences only: that a run puts its display back, and who took one back; validations that were
 * withdrawn; slots whose trends are still to be worked out; what couriers left, and which workstation brought an
 * instrument. Times: UTC, ms since 1970. Sizes: bytes.
 */
export class FifthMigration1764300000000 implements MigrationInterface {
  name = 'FifthMigration1764300000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
    for (const { name, on } of indices) await runner.query(`CREATE INDEX ${name} ON ${on}`)
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const { name } of indices) await runner.query(`DROP INDEX ${name}`)
    await runner.query('DROP TABLE drift_due')
    await runner.query('DROP TABLE courier_content')
    await runner.query('ALTER TABLE instrument DROP COLUMN brought_by')
    for (const column of [
      'restoring',
      'taken_back_at',
      'taken_back_by',
      'withdrawn_at',
      'withdrawn_by',
      'withdrawn_reason',
    ])
      await runner.query(`ALTER TABLE run DROP COLUMN ${column}`)
  }
}

/** What large fleets are asked by: states of few rows, the newest runs, whose an instrument's or a profile's runs are. */
const indices = [
  { name: 'run_queued', on: `run(id) WHERE state = 'queued'` },
  { name: 'run_importing', on: `run(id) WHERE state = 'importing'` },
  { name: 'run_by_start', on: 'run(started_at, id)' },
  { name: 'run_by_instrument', on: 'run(instrument_id)' },
  { name: 'run_with_profile', on: 'run(display_id, started_at, id) WHERE profile_hash IS NOT NULL' },
  { name: 'run_that_wrote', on: `run(display_id, slot, id) WHERE kind IN ('full', 'refresh')` },
  { name: 'placement_open', on: `placement(display_id) WHERE state <> 'withdrawn'` },
  { name: 'placement_by_workstation', on: 'placement(workstation_id, state)' },
  { name: 'session_by_end', on: 'session(expires_at)' },
] as const

const statements = [
  'ALTER TABLE run ADD COLUMN restoring INTEGER NOT NULL DEFAULT 0',
  'ALTER TABLE run ADD COLUMN taken_back_at INTEGER',
  'ALTER TABLE run ADD COLUMN taken_back_by TEXT',
  'ALTER TABLE run ADD COLUMN withdrawn_at INTEGER',
  'ALTER TABLE run ADD COLUMN withdrawn_by TEXT',
  'ALTER TABLE run ADD COLUMN withdrawn_reason TEXT',
  // Rows of before, by the sentences that told it until now.
  `UPDATE run SET restoring = 1 WHERE state IN ('running', 'waiting', 'interrupted') AND message LIKE 'Putting the display back%'`,
  `UPDATE run SET taken_back_at = ended_at, taken_back_by = substr(message, 15, instr(message, '. ') - 15)
    WHERE state = 'done' AND kind IN ('full', 'refresh') AND message LIKE 'Taken back by %. %'`,
  // Slots of which a validation was added or taken away since their trends were worked out.
  `CREATE TABLE drift_due (display_id INTEGER NOT NULL REFERENCES display(id), slot INTEGER NOT NULL,
    asked INTEGER NOT NULL DEFAULT 1, PRIMARY KEY (display_id, slot)) WITHOUT ROWID`,
  // What each workstation's courier left, so that none can fill the disk.
  `CREATE TABLE courier_content (workstation_id INTEGER NOT NULL REFERENCES workstation(id), hash TEXT NOT NULL,
    size INTEGER NOT NULL, at INTEGER NOT NULL, PRIMARY KEY (workstation_id, hash)) WITHOUT ROWID`,
  'ALTER TABLE instrument ADD COLUMN brought_by INTEGER REFERENCES workstation(id)',
]
