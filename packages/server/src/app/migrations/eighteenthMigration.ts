import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Members of peer sets that were matched by eye, and offsets of instruments that are taken into account. Times: UTC, ms since
 * 1970.
 */
export class EighteenthMigration1765600000000 implements MigrationInterface {
  name = 'EighteenthMigration1765600000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of tables) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TRIGGER peer_run_anew')
    await runner.query('DROP INDEX validation_by_instrument')
    for (const table of ['run_anew', 'instrument_offset', 'peer_match']) await runner.query(`DROP TABLE ${table}`)
    await runner.query('ALTER TABLE run DROP COLUMN reads_more')
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
  // What was taken out of a run's readings as they were taken: what its instrument reads more.
  'ALTER TABLE run ADD COLUMN reads_more text',
  `CREATE TABLE instrument_offset (
    id integer PRIMARY KEY AUTOINCREMENT,
    instrument_id integer NOT NULL REFERENCES instrument(id),
    source text NOT NULL CHECK (source IN ('ring', 'checks')),
    ring_id integer REFERENCES ring(id),
    since integer NOT NULL,
    -- Shares, and u′v′; half of the intervals that hold them 95 times of 100.
    luminance real NOT NULL,
    u real NOT NULL,
    v real NOT NULL,
    within real NOT NULL,
    within_uv real NOT NULL,
    at integer NOT NULL,
    by text NOT NULL,
    state text NOT NULL CHECK (state IN ('weighing', 'weighed', 'taking', 'taken', 'ending', 'ended')),
    taken_at integer,
    taken_by text,
    ended_at integer,
    ended_by text
  )`,
  `CREATE UNIQUE INDEX instrument_offset_open ON instrument_offset(instrument_id) WHERE state <> 'ended'`,
  'CREATE INDEX instrument_offset_ring ON instrument_offset(ring_id)',
  // What a run comes to the other way: with the offset until it is taken, and as it was read from then on.
  `CREATE TABLE run_anew (
    id integer PRIMARY KEY AUTOINCREMENT,
    run_id integer NOT NULL UNIQUE REFERENCES run(id),
    offset_id integer NOT NULL REFERENCES instrument_offset(id),
    swapped integer NOT NULL,
    was text NOT NULL,
    becomes text NOT NULL,
    metrics text NOT NULL,
    judgement text NOT NULL,
    summary text NOT NULL,
    figures text NOT NULL,
    -- What changes places, while it does.
    other text
  )`,
  'CREATE INDEX run_anew_by_offset ON run_anew(offset_id, swapped, was, becomes)',
  'CREATE INDEX validation_by_instrument ON validation(instrument_id, at)',
  // A run that is judged anew changes what its display is to its neighbours.
  `CREATE TRIGGER peer_run_anew AFTER UPDATE OF swapped ON run_anew BEGIN
     UPDATE peer_set SET due = due + 1 WHERE id IN (SELECT set_id FROM peer_member WHERE display_id =
       (SELECT display_id FROM run WHERE run.id = NEW.run_id)); END`,
]
