import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Corrections know of light on the screen that is not the display's own. */
export class SixteenthMigration1765400000000 implements MigrationInterface {
  name = 'SixteenthMigration1765400000000'

  async up(runner: QueryRunner): Promise<void> {
    // X, Y and Z in cd/m²; nothing for corrections that have none.
    await runner.query('ALTER TABLE correction ADD COLUMN "offset" text')
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE correction DROP COLUMN "offset"')
  }
}
