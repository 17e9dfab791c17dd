import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * What had been told by names and sentences only: what a reading is of (the white that is put to the aim's, or any patch),
 * and what a run that waits asks of people.
 */
export class SeventhMigration1764500000000 implements MigrationInterface {
  name = 'SeventhMigration1764500000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE reading ADD COLUMN role text NOT NULL DEFAULT 'patch' CHECK (role IN ('white', 'patch'))`,
    )
    // As the names were given when this was written.
    await runner.query(
      `UPDATE reading SET role = 'white' WHERE name = 'White' OR name LIKE 'White at%' OR name LIKE 'White by hand%'
         OR name LIKE 'Grey 100 \\%%' ESCAPE '\\'`,
    )
    await runner.query('ALTER TABLE run ADD COLUMN asks text')
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE run DROP COLUMN asks')
    await runner.query('ALTER TABLE reading DROP COLUMN role')
  }
}
