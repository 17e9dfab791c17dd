import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Peer sets: displays that must look alike, and what runs saw of displays' raw light. What changes a set's standing is
 * counted by the store itself, so that nothing that changes it can forget to say so. Times: UTC, ms since 1970.
 */
export class SeventeenthMigration1765500000000 implements MigrationInterface {
  name = 'SeventeenthMigration1765500000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of [...tables, ...triggers]) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of triggerNames) await runner.query(`DROP TRIGGER ${name}`)
    for (const table of ['ring_step', 'ring', 'peer_look_run', 'peer_look', 'peer_member', 'peer_set', 'run_light'])
      await runner.query(`DROP TABLE ${table}`)
    await runner.query('ALTER TABLE run DROP COLUMN only_with')
  }
}

const tables = [
  // It waits in the queue for its instrument and takes no other in its place.
  'ALTER TABLE run ADD COLUMN only_with integer NOT NULL DEFAULT 0',
  `CREATE TABLE run_light (
    id integer PRIMARY KEY AUTOINCREMENT,
    run_id integer NOT NULL UNIQUE REFERENCES run(id),
    display_id integer NOT NULL REFERENCES display(id),
    at integer NOT NULL,
    seen text NOT NULL
  )`,
  'CREATE INDEX run_light_by_display ON run_light(display_id, id)',
  `CREATE TABLE peer_set (
    id integer PRIMARY KEY AUTOINCREMENT,
    name text NOT NULL UNIQUE,
    reference_id integer REFERENCES display(id),
    white text NOT NULL,
    tone_response text NOT NULL,
    standard text,
    share real NOT NULL,
    headroom real NOT NULL,
    black text NOT NULL CHECK (black IN ('own', 'common')),
    limits text NOT NULL,
    created_at integer NOT NULL,
    created_by text NOT NULL,
    aim_id integer REFERENCES aim(id) ON DELETE SET NULL,
    adopted text,
    adopted_at integer,
    adopted_by text,
    due integer NOT NULL,
    standing text,
    worked_out_at integer,
    verdict text CHECK (verdict IN ('within', 'near', 'untold', 'outside')),
    judged_at integer,
    furthest text,
    moved text NOT NULL,
    luminance real
  )`,
  'CREATE INDEX peer_set_due ON peer_set(id) WHERE due > 0',
  'CREATE INDEX peer_set_worked_out ON peer_set(worked_out_at)',
  'CREATE INDEX peer_set_aim ON peer_set(aim_id)',
  'CREATE INDEX peer_set_reference ON peer_set(reference_id)',
  `CREATE TABLE peer_member (
    id integer PRIMARY KEY AUTOINCREMENT,
    set_id integer NOT NULL REFERENCES peer_set(id) ON DELETE CASCADE,
    display_id integer NOT NULL REFERENCES display(id),
    slot integer NOT NULL,
    place integer NOT NULL,
    UNIQUE (set_id, display_id)
  )`,
  'CREATE INDEX peer_member_by_display ON peer_member(display_id)',
  `CREATE TABLE peer_look (
    id integer PRIMARY KEY AUTOINCREMENT,
    set_id integer NOT NULL REFERENCES peer_set(id) ON DELETE CASCADE,
    kind text NOT NULL CHECK (kind IN ('full', 'check', 'baseline')),
    started_at integer NOT NULL,
    by text NOT NULL,
    state text NOT NULL CHECK (state IN ('under way', 'judged', 'broken off')),
    ended_at integer,
    verdict text,
    furthest text
  )`,
  'CREATE INDEX peer_look_by_set ON peer_look(set_id, id)',
  // One at a time.
  `CREATE UNIQUE INDEX peer_look_open ON peer_look(set_id) WHERE state = 'under way'`,
  `CREATE TABLE peer_look_run (
    id integer PRIMARY KEY AUTOINCREMENT,
    look_id integer NOT NULL REFERENCES peer_look(id) ON DELETE CASCADE,
    run_id integer NOT NULL UNIQUE REFERENCES run(id)
  )`,
  'CREATE INDEX peer_look_run_by_look ON peer_look_run(look_id)',
  // Instruments that read the same displays, and what that told of them.
  `CREATE TABLE ring (
    id integer PRIMARY KEY AUTOINCREMENT,
    reference_id integer REFERENCES instrument(id),
    -- Standard uncertainty that was asked for, and the one that the plan has, as shares.
    wanted real NOT NULL,
    uncertainty real NOT NULL,
    started_at integer NOT NULL,
    by text NOT NULL,
    state text NOT NULL CHECK (state IN ('under way', 'done', 'broken off')),
    ended_at integer,
    says text,
    result text
  )`,
  `CREATE UNIQUE INDEX ring_open ON ring(state) WHERE state = 'under way'`,
  `CREATE TABLE ring_step (
    id integer PRIMARY KEY AUTOINCREMENT,
    ring_id integer NOT NULL REFERENCES ring(id),
    seq integer NOT NULL,
    display_id integer NOT NULL REFERENCES display(id),
    instrument_id integer NOT NULL REFERENCES instrument(id),
    run_id integer UNIQUE REFERENCES run(id),
    UNIQUE (ring_id, seq)
  )`,
]

const countFor = (display: string) =>
  `UPDATE peer_set SET due = due + 1 WHERE id IN (SELECT set_id FROM peer_member WHERE display_id = ${display})`

const triggers = [
  `CREATE TRIGGER peer_light_seen AFTER INSERT ON run_light BEGIN ${countFor('NEW.display_id')}; END`,
  `CREATE TRIGGER peer_slot_changed AFTER UPDATE OF judged_run_id, label ON slot
   WHEN OLD.judged_run_id IS NOT NEW.judged_run_id OR OLD.label IS NOT NEW.label
   BEGIN ${countFor('NEW.display_id')}; END`,
  `CREATE TRIGGER peer_display_changed AFTER UPDATE OF kept, panel_kind ON display
   WHEN OLD.kept IS NOT NEW.kept OR OLD.panel_kind IS NOT NEW.panel_kind
   BEGIN ${countFor('NEW.id')}; END`,
  // How fast a display fades.
  `CREATE TRIGGER peer_drift_changed AFTER INSERT ON slot_drift BEGIN ${countFor('NEW.display_id')}; END`,
]
const triggerNames = ['peer_light_seen', 'peer_slot_changed', 'peer_display_changed', 'peer_drift_changed']
