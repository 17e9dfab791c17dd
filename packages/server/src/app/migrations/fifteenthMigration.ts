import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Room light, watched: what reads it, what each hour was, when it was not as it is wanted, and the level that aims which
 * follow a room are told. Times: UTC, ms since 1970.
 */
export class FifteenthMigration1765300000000 implements MigrationInterface {
  name = 'FifteenthMigration1765300000000'

  async up(runner: QueryRunner): Promise<void> {
    const statements = [...rooms, ...roomLight('integer REFERENCES account(id)'), watchedOnes, ...tables]
    for (const statement of statements) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['light_proposal', 'light_time', 'light_watch', 'light_hour'])
      await runner.query(`DROP TABLE ${table}`)
    await runner.query('ALTER TABLE visit DROP COLUMN woken_at')
    await runner.query('ALTER TABLE correction DROP COLUMN lights')
    // What nobody read by hand has no place there.
    await runner.query('DELETE FROM room_light WHERE account_id IS NULL')
    for (const statement of roomLight('integer NOT NULL REFERENCES account(id)')) await runner.query(statement)
    for (const column of ['allow_minutes', 'holds_runs', 'level_lux', 'level_since', 'level_allowed'])
      await runner.query(`ALTER TABLE room DROP COLUMN ${column}`)
  }
}

const rooms = [
  'ALTER TABLE room ADD COLUMN allow_minutes integer NOT NULL DEFAULT 15',
  `ALTER TABLE room ADD COLUMN holds_runs text NOT NULL DEFAULT 'needed'`,
  // The light that aims which follow the room are as bright as paper under, lx; within what it may follow by itself.
  'ALTER TABLE room ADD COLUMN level_lux real',
  'ALTER TABLE room ADD COLUMN level_since integer',
  'ALTER TABLE room ADD COLUMN level_allowed text',
]

/** The readings in a new table: what is read by itself is nobody's. */
const roomLight = (account: string) => [
  `CREATE TABLE room_light_new (
    id integer PRIMARY KEY AUTOINCREMENT,
    room_id integer NOT NULL REFERENCES room(id),
    at integer NOT NULL,
    illuminance_lux real NOT NULL,
    kelvin real,
    instrument_id integer NOT NULL REFERENCES instrument(id),
    account_id ${account}
  )`,
  `INSERT INTO room_light_new SELECT id, room_id, at, illuminance_lux, kelvin, instrument_id, account_id FROM room_light`,
  'DROP TABLE room_light',
  'ALTER TABLE room_light_new RENAME TO room_light',
  'CREATE INDEX room_light_by_room ON room_light(room_id, at)',
]
/** What is thinned out, by age. */
const watchedOnes = 'CREATE INDEX room_light_watched ON room_light(at) WHERE account_id IS NULL'

const tables = [
  // What corrects a colorimeter on a display with a white subpixel, in place of the matrix.
  'ALTER TABLE correction ADD COLUMN lights text',
  // When a visit's display was woken.
  'ALTER TABLE visit ADD COLUMN woken_at integer',
  `CREATE TABLE light_hour (
    room_id integer NOT NULL REFERENCES room(id),
    -- The full hour, UTC.
    at integer NOT NULL,
    readings integer NOT NULL,
    lux_sum real NOT NULL,
    least real NOT NULL,
    most real NOT NULL,
    -- 1e6 ÷ K of those that have a temperature, and how many they are.
    mired_sum real NOT NULL,
    coloured integer NOT NULL,
    outside integer NOT NULL,
    PRIMARY KEY (room_id, at)
  ) WITHOUT ROWID`,
  // Hours of what was read by hand until now. Whether it was as wanted then, nobody knows any more.
  `INSERT INTO light_hour
   SELECT room_id, at - at % 3600000, COUNT(*), SUM(illuminance_lux), MIN(illuminance_lux), MAX(illuminance_lux),
     COALESCE(SUM(1e6 / kelvin), 0), COUNT(kelvin), 0
   FROM room_light GROUP BY room_id, at - at % 3600000`,
  `CREATE TABLE light_watch (
    room_id integer PRIMARY KEY REFERENCES room(id),
    instrument_id integer NOT NULL UNIQUE REFERENCES instrument(id),
    since integer NOT NULL,
    set_by text NOT NULL,
    state text NOT NULL CHECK (state IN ('reading', 'in a run', 'elsewhere', 'away', 'refused')),
    state_since integer NOT NULL,
    says text,
    read_at integer,
    out_since integer,
    back_since integer,
    worst_lux real,
    worst_kelvin real,
    -- Since when it is told that the light is out for longer than the room allows; at the desks once a day at most.
    told_at integer,
    desk_day text,
    at_desk integer NOT NULL DEFAULT 0
  )`,
  `CREATE TABLE light_time (
    id integer PRIMARY KEY AUTOINCREMENT,
    room_id integer NOT NULL REFERENCES room(id),
    from_at integer NOT NULL,
    until_at integer NOT NULL,
    worst_lux real NOT NULL,
    worst_kelvin real,
    told_at integer
  )`,
  'CREATE INDEX light_time_by_room ON light_time(room_id, from_at)',
  `CREATE TABLE light_proposal (
    id integer PRIMARY KEY AUTOINCREMENT,
    room_id integer NOT NULL REFERENCES room(id),
    made_at integer NOT NULL,
    from_lux real NOT NULL,
    to_lux real NOT NULL,
    quartile_from real NOT NULL,
    quartile_to real NOT NULL,
    days integer NOT NULL,
    state text NOT NULL CHECK (state IN ('open', 'accepted', 'declined', 'made', 'lapsed')),
    decided_at integer,
    decided_by text
  )`,
  `CREATE UNIQUE INDEX light_proposal_open ON light_proposal(room_id) WHERE state = 'open'`,
  'CREATE INDEX light_proposal_by_room ON light_proposal(room_id, id)',
]
