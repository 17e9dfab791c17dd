import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * What people are given and say without an account: links to calendars and to the page of a desk, answers to visits, and
 * what looks wrong there. Times: UTC, ms since 1970.
 */
export class FourteenthMigration1765200000000 implements MigrationInterface {
  name = 'FourteenthMigration1765200000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of tables) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TRIGGER visit_changed')
    await runner.query('DROP TABLE reminder')
    await runner.query('DROP TABLE desk_report')
    await runner.query('DROP TABLE open_link')
    for (const column of ['sequence', 'changed_at', 'answer', 'answered_at'])
      await runner.query(`ALTER TABLE visit DROP COLUMN ${column}`)
  }
}

const tables = [
  `CREATE TABLE open_link (
    id integer PRIMARY KEY AUTOINCREMENT,
    kind text NOT NULL CHECK (kind IN ('person', 'room', 'instrument', 'desk')),
    subject_id integer NOT NULL,
    -- SHA-256 of its token, hexadecimal.
    hash text NOT NULL UNIQUE,
    made_at integer NOT NULL,
    made_by text NOT NULL,
    ended_at integer
  )`,
  `CREATE UNIQUE INDEX open_link_desk ON open_link(subject_id) WHERE kind = 'desk' AND ended_at IS NULL`,
  // How often a visit was told otherwise, as calendars count it (RFC 5545, SEQUENCE).
  'ALTER TABLE visit ADD COLUMN sequence integer NOT NULL DEFAULT 0',
  'ALTER TABLE visit ADD COLUMN changed_at integer NOT NULL DEFAULT 0',
  // What was said of it at the desk.
  `ALTER TABLE visit ADD COLUMN answer text CHECK (answer IN ('suits', 'another time', 'later'))`,
  'ALTER TABLE visit ADD COLUMN answered_at integer',
  `CREATE TRIGGER visit_changed AFTER UPDATE OF at, ends_at, person_id, instrument_id, state ON visit
   WHEN OLD.at IS NOT NEW.at OR OLD.ends_at IS NOT NEW.ends_at OR OLD.person_id IS NOT NEW.person_id
     OR OLD.instrument_id IS NOT NEW.instrument_id OR OLD.state IS NOT NEW.state
   BEGIN UPDATE visit SET sequence = sequence + 1, changed_at = unixepoch() * 1000,
     -- What was said of one time is not said of another.
     answer = CASE WHEN OLD.at IS NEW.at THEN answer END WHERE id = NEW.id; END`,
  `CREATE TABLE desk_report (
    id integer PRIMARY KEY AUTOINCREMENT,
    workstation_id integer NOT NULL REFERENCES workstation(id),
    display_id integer NOT NULL REFERENCES display(id),
    at integer NOT NULL,
    text text NOT NULL,
    picture_hash text,
    picture_type text,
    state text NOT NULL CHECK (state IN ('open', 'answered')),
    answer text,
    answered_at integer,
    answered_by text
  )`,
  `CREATE TABLE reminder (
    id integer PRIMARY KEY AUTOINCREMENT,
    to_kind text NOT NULL CHECK (to_kind IN ('desk', 'person', 'head')),
    -- The workstation or the account; 0 where an address alone says it.
    to_id integer NOT NULL,
    address text NOT NULL,
    -- The day in the studio's zone: nobody is told twice on one.
    date text NOT NULL,
    step integer NOT NULL,
    visits text NOT NULL,
    subject text NOT NULL,
    text text NOT NULL,
    state text NOT NULL CHECK (state IN ('due', 'sent', 'failed')),
    sent_at integer,
    tries integer NOT NULL DEFAULT 0,
    fault text,
    UNIQUE (to_kind, to_id, address, date)
  )`,
  `CREATE INDEX reminder_by_date ON reminder(to_kind, date)`,
  `CREATE INDEX reminder_due ON reminder(id) WHERE state = 'due'`,
  `CREATE INDEX desk_report_open ON desk_report(display_id) WHERE state = 'open'`,
  `CREATE INDEX desk_report_by_time ON desk_report(at, id)`,
]
