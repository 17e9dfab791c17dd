import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * A second factor and its recovery codes, rooms that a technician is limited to, tokens for programs. Displays that are
 * stored or retired, and what became of where a display stands. Times: UTC, ms since 1970.
 */
export class NinthMigration1764700000000 implements MigrationInterface {
  name = 'NinthMigration1764700000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
    for (const statement of keeping) await runner.query(statement)
    // What is stored or retired is on no list of what is in use. The trigger is the one of the sixth migration, and looks
    // at one column more.
    await this.remake(runner, 'display_now_source', (sql) => `${sql} WHERE display.kept = 'in use'`)
    await this.remake(runner, 'display_now_2', (sql) =>
      sql.replace('OLD.active_slot IS NOT NEW.active_slot', (one) => `${one} OR ${keptChanged}`),
    )
  }

  /** Makes a view or a trigger anew, with other words. */
  private async remake(runner: QueryRunner, name: string, change: (sql: string) => string): Promise<void> {
    const [{ sql, type }] = (await runner.query('SELECT sql, type FROM sqlite_master WHERE name = ?', [name])) as {
      sql: string
      type: string
    }[]
    await runner.query(`DROP ${type} ${name}`)
    await runner.query(change(sql))
  }

  async down(runner: QueryRunner): Promise<void> {
    await this.remake(runner, 'display_now_2', (sql) => sql.replace(` OR ${keptChanged}`, ''))
    await this.remake(runner, 'display_now_source', (sql) => sql.replace(` WHERE display.kept = 'in use'`, ''))
    await runner.query('DROP INDEX display_put_away')
    for (const table of ['display', 'instrument'])
      for (const column of ['kept', 'kept_since', 'kept_why'])
        await runner.query(`ALTER TABLE ${table} DROP COLUMN ${column}`)
    for (const table of ['room', 'workstation']) await runner.query(`ALTER TABLE ${table} DROP COLUMN retired_at`)
    await runner.query('DROP TABLE api_token')
    await runner.query('DROP TABLE recovery_code')
    for (const column of ['rooms', 'factor_secret', 'factor_offered', 'factor_step'])
      await runner.query(`ALTER TABLE account DROP COLUMN ${column}`)
  }
}

const keptChanged = 'OLD.kept IS NOT NEW.kept'

const keeping = [
  ...['display', 'instrument'].flatMap((table) => [
    `ALTER TABLE ${table} ADD COLUMN kept text NOT NULL DEFAULT 'in use' CHECK (kept IN ('in use', 'stored', 'retired'))`,
    `ALTER TABLE ${table} ADD COLUMN kept_since integer`,
    `ALTER TABLE ${table} ADD COLUMN kept_why text`,
  ]),
  `CREATE INDEX display_put_away ON display(id) WHERE kept <> 'in use'`,
  'ALTER TABLE room ADD COLUMN retired_at integer',
  'ALTER TABLE workstation ADD COLUMN retired_at integer',
]

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
