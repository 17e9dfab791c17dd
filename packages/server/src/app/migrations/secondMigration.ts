import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * What a run reads with and how much (sampling, correction, the display's delay), when instruments were certified, and
 * corrections made on displays. Times: UTC, ms since 1970. Residual: Δu′v′.
 */
export class SecondMigration1764050000000 implements MigrationInterface {
  name = 'SecondMigration1764050000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE correction')
    await runner.query('ALTER TABLE run DROP COLUMN sampling')
    await runner.query('ALTER TABLE run DROP COLUMN correction')
    await runner.query('ALTER TABLE slot DROP COLUMN unsure')
    await runner.query('ALTER TABLE display DROP COLUMN delay_ms')
    await runner.query('ALTER TABLE instrument DROP COLUMN certified_at')
  }
}

const statements = [
  `ALTER TABLE run ADD COLUMN sampling TEXT NOT NULL DEFAULT 'usual'`,
  `ALTER TABLE run ADD COLUMN correction TEXT`,
  // A slot whose write was begun and not yet read back: nobody knows what it holds.
  `ALTER TABLE slot ADD COLUMN unsure INTEGER NOT NULL DEFAULT 0`,
  // How long the display's light takes to follow a patch, as the last full run measured it.
  `ALTER TABLE display ADD COLUMN delay_ms INTEGER`,
  `ALTER TABLE instrument ADD COLUMN certified_at INTEGER`,
  `CREATE TABLE correction (id INTEGER PRIMARY KEY AUTOINCREMENT, display_id INTEGER NOT NULL REFERENCES display(id),
    instrument_id INTEGER NOT NULL REFERENCES instrument(id), reference_id INTEGER NOT NULL REFERENCES instrument(id),
    made_at INTEGER NOT NULL, account_id INTEGER NOT NULL REFERENCES account(id), matrix TEXT NOT NULL, residual REAL NOT NULL)`,
  `CREATE INDEX correction_by_display ON correction(display_id, instrument_id, made_at)`,
]
