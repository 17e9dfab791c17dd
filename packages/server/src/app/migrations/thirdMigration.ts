import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * What runs learn of a panel and start from, when they start, and who confirmed what; the profile that a rebuild made; the
 * studio's settings. Hashes: SHA-256 of contents.
 */
export class ThirdMigration1764140000000 implements MigrationInterface {
  name = 'ThirdMigration1764140000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE setting')
    for (const column of ['warm_up', 'gauge']) await runner.query(`ALTER TABLE run_stage DROP COLUMN ${column}`)
    for (const column of ['memory_hash', 'recalls', 'begins', 'profile', 'budget'])
      await runner.query(`ALTER TABLE run DROP COLUMN ${column}`)
  }
}

const statements = [
  // What Shape learned of the panel, as JSON among the contents, and the one that a refresh starts from.
  'ALTER TABLE run ADD COLUMN memory_hash TEXT',
  'ALTER TABLE run ADD COLUMN recalls TEXT',
  // When it begins: at once, in its turn, or at night.
  `ALTER TABLE run ADD COLUMN begins TEXT NOT NULL DEFAULT 'now'`,
  // What a full run may take at most, in readings or minutes; JSON, null where the sampling decides.
  'ALTER TABLE run ADD COLUMN budget TEXT',
  // What its profile is to be: version, kind, black; JSON.
  'ALTER TABLE run ADD COLUMN profile TEXT',
  // How the light settled while the run waited for it, and what hands turned at the display; JSON.
  'ALTER TABLE run_stage ADD COLUMN warm_up TEXT',
  'ALTER TABLE run_stage ADD COLUMN gauge TEXT',
  'CREATE TABLE setting (name TEXT PRIMARY KEY, value TEXT NOT NULL)',
]
