import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * A second factor and its recovery codes, rooms that a technician is limited to, tokens for programs. Displays that are
 * stored or retired, and what became of where a display stands. Times: UTC, ms since 1970.
 */
export class NinthMigration1764700000000 implements MigrationInterface {
  name = 'NinthMigration1764700000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE api_token')
    await runner.query('DROP TABLE recovery_code')
    for (const column of ['rooms', 'factor_secret', 'factor_offered', 'factor_step'])
      await runner.query(`ALTER TABLE account DROP COLUMN ${column}`)
  }
}

const statements = [
  // Rooms by number, as JSON; null for all of them.
  'ALTER TABLE account ADD COLUMN rooms text',
  // Secrets of time-based codes: the one in force, and one that is being set up.
  'ALTER TABLE account ADD COLUMN factor_secret text',
  'ALTER TABLE account ADD COLUMN factor_offered text',
  // The last half minute whose code was used: none is good twice.
  'ALTER TABLE account ADD COLUMN factor_step integer NOT NULL DEFAULT 0',
  `CREATE TABLE recovery_code (
    id integer PRIMARY KEY AUTOINCREMENT,
    account_id integer NOT NULL REFERENCES account(id) ON DELETE CASCADE,
    hash text NOT NULL UNIQUE
  )`,
  'CREATE INDEX recovery_code_of ON recovery_code(account_id)',
  `CREATE TABLE api_token (
    id integer PRIMARY KEY AUTOINCREMENT,
    account_id integer NOT NULL REFERENCES account(id) ON DELETE CASCADE,
    name text NOT NULL,
    role text NOT NULL,
    rooms text,
    hash text NOT NULL UNIQUE,
    made_at integer NOT NULL,
    expires_at integer NOT NULL,
    used_at integer
  )`,
  'CREATE INDEX api_token_of ON api_token(account_id)',
]
