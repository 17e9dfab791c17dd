import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * The ledger: who did what, chained by hashes, and nothing in it can be changed. Accounts that are invited, locked and
 * reset; sessions that tell when they were used. Times: UTC, ms since 1970.
 */
export class EighthMigration1764600000000 implements MigrationInterface {
  name = 'EighthMigration1764600000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE ledger')
    await runner.query('DROP TABLE account_token')
    for (const column of ['locked_at', 'signed_in_at']) await runner.query(`ALTER TABLE account DROP COLUMN ${column}`)
    await runner.query('DROP INDEX session_of_account')
    for (const column of ['account_id', 'started_at', 'seen_at', 'browser'])
      await runner.query(`ALTER TABLE session DROP COLUMN ${column}`)
  }
}

const statements = [
  `CREATE TABLE ledger (
    id integer PRIMARY KEY AUTOINCREMENT,
    at integer NOT NULL,
    account_id integer,
    by text NOT NULL,
    act text NOT NULL,
    thing text NOT NULL,
    thing_id integer,
    name text NOT NULL,
    told text NOT NULL,
    previous text NOT NULL,
    hash text NOT NULL
  )`,
  'CREATE INDEX ledger_of_thing ON ledger(thing, thing_id, id)',
  'CREATE INDEX ledger_by ON ledger(by, id)',
  'CREATE INDEX ledger_at ON ledger(at, id)',
  `CREATE TRIGGER ledger_unchanged BEFORE UPDATE ON ledger
    BEGIN SELECT RAISE(ABORT, 'Entries of the ledger stay as they are.'); END`,
  `CREATE TRIGGER ledger_whole BEFORE DELETE ON ledger
    BEGIN SELECT RAISE(ABORT, 'Entries of the ledger stay as they are.'); END`,
  'ALTER TABLE account ADD COLUMN locked_at integer',
  'ALTER TABLE account ADD COLUMN signed_in_at integer',
  // One-time links: of a token only its hash is kept.
  `CREATE TABLE account_token (
    id integer PRIMARY KEY AUTOINCREMENT,
    account_id integer NOT NULL REFERENCES account(id) ON DELETE CASCADE,
    hash text NOT NULL UNIQUE,
    made_at integer NOT NULL,
    expires_at integer NOT NULL
  )`,
  'CREATE INDEX account_token_of ON account_token(account_id)',
  'ALTER TABLE session ADD COLUMN account_id integer',
  'ALTER TABLE session ADD COLUMN started_at integer NOT NULL DEFAULT 0',
  'ALTER TABLE session ADD COLUMN seen_at integer NOT NULL DEFAULT 0',
  `ALTER TABLE session ADD COLUMN browser text NOT NULL DEFAULT ''`,
  'CREATE INDEX session_of_account ON session(account_id)',
  // Sessions of before do not tell whose they are: everybody signs in once more.
  'DELETE FROM session',
]
