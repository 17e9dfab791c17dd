import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Members of peer sets that were matched by eye. Times: UTC, ms since 1970. */
export class EighteenthMigration1765600000000 implements MigrationInterface {
  name = 'EighteenthMigration1765600000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of tables) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE peer_match')
  }
}

const tables = [
  `CREATE TABLE peer_match (
    id integer PRIMARY KEY AUTOINCREMENT,
    set_id integer NOT NULL REFERENCES peer_set(id) ON DELETE CASCADE,
    display_id integer NOT NULL REFERENCES display(id),
    beside_id integer NOT NULL REFERENCES display(id),
    at integer NOT NULL,
    by text NOT NULL,
    repeats text NOT NULL,
    settled text NOT NULL,
    -- How far its white has to measure from the other one's to look like it, in u′v′.
    u real NOT NULL,
    v real NOT NULL,
    state text NOT NULL CHECK (state IN ('in force', 'ended')),
    aim_id integer REFERENCES aim(id) ON DELETE SET NULL
  )`,
  `CREATE UNIQUE INDEX peer_match_in_force ON peer_match(set_id, display_id) WHERE state = 'in force'`,
  'CREATE INDEX peer_match_by_set ON peer_match(set_id, id)',
  'CREATE INDEX peer_match_aim ON peer_match(aim_id)',
  'CREATE INDEX peer_match_display ON peer_match(display_id)',
  'CREATE INDEX peer_match_beside ON peer_match(beside_id)',
]
