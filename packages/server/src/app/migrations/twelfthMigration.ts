import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Rounds: who goes to displays and when, where instruments lie, when workstations may be used, how far it is; the plan and
 * its visits. Times: UTC, ms since 1970; days: as 2026-11-27, in the studio's zone.
 */
export class TwelfthMigration1765000000000 implements MigrationInterface {
  name = 'TwelfthMigration1765000000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of tables) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of [
      'visit',
      'round_plan',
      'use_times',
      'walk',
      'round_instrument',
      'instrument_seen',
      'round_person',
    ])
      await runner.query(`DROP TABLE ${table}`)
  }
}

const tables = [
  `CREATE TABLE round_person (
    account_id integer PRIMARY KEY REFERENCES account(id),
    goes boolean NOT NULL,
    room_id integer REFERENCES room(id),
    carries integer NOT NULL,
    -- Their own week, Monday first; none for the studio's desk hours.
    week text,
    off text NOT NULL,
    -- Where their tour is sent in the morning.
    mail text
  )`,
  // What couriers said of an instrument last: so that a plan does not depend on who is connected at this moment.
  `CREATE TABLE instrument_seen (
    instrument_id integer PRIMARY KEY REFERENCES instrument(id) ON DELETE CASCADE,
    workstation_id integer NOT NULL REFERENCES workstation(id),
    -- Kinds of panel that it holds a correction for.
    corrections text NOT NULL
  )`,
  `INSERT INTO instrument_seen SELECT id, brought_by, (SELECT json_group_array(DISTINCT correction ->> 'panelKind') FROM run
     WHERE run.instrument_id = instrument.id AND correction ->> 'kind' = 'own') FROM instrument WHERE brought_by IS NOT NULL`,
  `CREATE TABLE round_instrument (
    instrument_id integer PRIMARY KEY REFERENCES instrument(id),
    room_id integer REFERENCES room(id),
    carrier_id integer REFERENCES account(id),
    hangs_at integer REFERENCES display(id),
    CHECK (carrier_id IS NULL OR hangs_at IS NULL)
  )`,
  `CREATE TABLE walk (
    kind text NOT NULL CHECK (kind IN ('room', 'building')),
    a text NOT NULL,
    b text NOT NULL,
    minutes integer NOT NULL,
    PRIMARY KEY (kind, a, b),
    CHECK (a < b)
  )`,
  `CREATE TABLE use_times (
    level text NOT NULL CHECK (level IN ('studio', 'room', 'workstation')),
    -- 0 for the studio.
    subject_id integer NOT NULL,
    times text NOT NULL,
    PRIMARY KEY (level, subject_id)
  )`,
  `CREATE TABLE round_plan (
    id integer PRIMARY KEY AUTOINCREMENT,
    made_at integer NOT NULL,
    by text NOT NULL,
    first text NOT NULL,
    days integer NOT NULL,
    from_at integer NOT NULL,
    until_at integer NOT NULL,
    walk integer NOT NULL,
    load text NOT NULL
  )`,
  `CREATE TABLE visit (
    id integer PRIMARY KEY AUTOINCREMENT,
    display_id integer NOT NULL REFERENCES display(id),
    kind text NOT NULL,
    slot integer NOT NULL,
    label text NOT NULL,
    state text NOT NULL CHECK (state IN ('planned', 'unplanned', 'begun', 'done', 'missed', 'blocked', 'dropped')),
    due_at integer NOT NULL,
    due_by text NOT NULL,
    person_id integer REFERENCES account(id),
    instrument_id integer REFERENCES instrument(id),
    wake_at integer,
    at integer,
    ready_at integer,
    take_down_at integer,
    ends_at integer,
    attended boolean NOT NULL,
    -- Instruments that fit, with the minutes of a run by each.
    options text NOT NULL,
    pinned boolean NOT NULL DEFAULT 0,
    not_before integer,
    told_person_id integer,
    told_instrument_id integer,
    told_at integer,
    why_then text,
    why_instrument text,
    besides integer NOT NULL DEFAULT 0,
    sharing integer NOT NULL DEFAULT 0,
    late real NOT NULL DEFAULT 0,
    why_not text,
    reliefs text NOT NULL DEFAULT '[]',
    run_id integer REFERENCES run(id),
    reason text,
    made_at integer NOT NULL,
    ended_at integer,
    CHECK (state <> 'planned' OR (at IS NOT NULL AND instrument_id IS NOT NULL))
  )`,
  // A display has one visit before it.
  `CREATE UNIQUE INDEX visit_open ON visit(display_id) WHERE state IN ('planned', 'unplanned', 'begun')`,
  `CREATE INDEX visit_by_time ON visit(at) WHERE at IS NOT NULL`,
  `CREATE INDEX visit_of_person ON visit(person_id, at) WHERE at IS NOT NULL`,
  `CREATE INDEX visit_of_run ON visit(run_id) WHERE run_id IS NOT NULL`,
]
