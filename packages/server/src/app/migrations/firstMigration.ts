import type { MigrationInterface, QueryRunner } from 'typeorm'

/** The store as the first version lays it. Times: UTC, ms since 1970. Luminance and XYZ: cd/m². Signals: 0–1. */
export class FirstMigration1764000000000 implements MigrationInterface {
  name = 'FirstMigration1764000000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of tables) await runner.query(`DROP TABLE "${table}"`)
  }
}

const tables = [
  'placement',
  'reading',
  'run_stage',
  'run_step',
  'run',
  'slot',
  'instrument',
  'display',
  'workstation',
  'room',
  'limits',
  'aim',
  'content',
  'session',
  'account',
]

const statements = [
  `CREATE TABLE account (id INTEGER PRIMARY KEY AUTOINCREMENT, login TEXT NOT NULL UNIQUE, name TEXT NOT NULL,
    role TEXT NOT NULL, password_hash TEXT NOT NULL)`,
  `CREATE TABLE session (sid TEXT PRIMARY KEY, data TEXT NOT NULL, expires_at INTEGER NOT NULL)`,
  `CREATE TABLE content (hash TEXT PRIMARY KEY, bytes BLOB NOT NULL, created_at INTEGER NOT NULL)`,
  `CREATE TABLE aim (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE, aim TEXT NOT NULL, updated_at INTEGER NOT NULL)`,
  `CREATE TABLE limits (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE, limits TEXT NOT NULL, updated_at INTEGER NOT NULL)`,
  `CREATE TABLE room (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE)`,
  `CREATE TABLE workstation (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE,
    room_id INTEGER NOT NULL REFERENCES room(id), operating_system TEXT NOT NULL, system_version TEXT NOT NULL,
    courier_key_hash TEXT UNIQUE, courier_seen_at INTEGER)`,
  `CREATE TABLE display (id INTEGER PRIMARY KEY AUTOINCREMENT, name TEXT NOT NULL UNIQUE, maker TEXT NOT NULL, model TEXT NOT NULL,
    serial TEXT NOT NULL UNIQUE, firmware TEXT NOT NULL, panel_kind TEXT NOT NULL,
    workstation_id INTEGER NOT NULL REFERENCES workstation(id), limits_id INTEGER NOT NULL REFERENCES limits(id),
    check_every_days INTEGER NOT NULL, slots INTEGER NOT NULL, active_slot INTEGER NOT NULL)`,
  `CREATE TABLE instrument (id INTEGER PRIMARY KEY AUTOINCREMENT, maker TEXT NOT NULL, model TEXT NOT NULL,
    serial TEXT NOT NULL UNIQUE, kind TEXT NOT NULL)`,
  `CREATE TABLE run (id INTEGER PRIMARY KEY AUTOINCREMENT, display_id INTEGER NOT NULL REFERENCES display(id), slot INTEGER NOT NULL,
    kind TEXT NOT NULL, label TEXT NOT NULL, aim TEXT NOT NULL, limits TEXT NOT NULL,
    instrument_id INTEGER NOT NULL REFERENCES instrument(id), account_id INTEGER NOT NULL REFERENCES account(id),
    state TEXT NOT NULL, stage TEXT NOT NULL, message TEXT, started_at INTEGER NOT NULL, ended_at INTEGER, overwrote TEXT,
    resolved_aim TEXT, baseline TEXT, metrics TEXT, judgement TEXT, summary TEXT,
    profile_hash TEXT REFERENCES content(hash), profile_name TEXT, report_hash TEXT REFERENCES content(hash))`,
  `CREATE INDEX run_by_display ON run(display_id, started_at)`,
  // A display and an instrument serve one run at a time; the store itself holds that, whatever the code does.
  `CREATE UNIQUE INDEX run_holds_display ON run(display_id) WHERE state IN ('running', 'waiting', 'interrupted')`,
  `CREATE UNIQUE INDEX run_holds_instrument ON run(instrument_id) WHERE state IN ('running', 'waiting', 'interrupted')`,
  `CREATE TABLE slot (id INTEGER PRIMARY KEY AUTOINCREMENT, display_id INTEGER NOT NULL REFERENCES display(id), number INTEGER NOT NULL,
    label TEXT, aim TEXT, resolved_aim TEXT, written_at INTEGER, tables_hash TEXT REFERENCES content(hash),
    judged_run_id INTEGER REFERENCES run(id), UNIQUE(display_id, number))`,
  `CREATE TABLE run_step (id INTEGER PRIMARY KEY AUTOINCREMENT, run_id INTEGER NOT NULL REFERENCES run(id), seq INTEGER NOT NULL,
    key TEXT NOT NULL, result TEXT, asked_at INTEGER NOT NULL, done_at INTEGER, UNIQUE(run_id, seq))`,
  `CREATE TABLE run_stage (id INTEGER PRIMARY KEY AUTOINCREMENT, run_id INTEGER NOT NULL REFERENCES run(id), stage TEXT NOT NULL,
    started_at INTEGER NOT NULL, ended_at INTEGER, took_ms REAL NOT NULL, evidence TEXT NOT NULL, conditions TEXT, rounds TEXT,
    UNIQUE(run_id, stage))`,
  `CREATE TABLE reading (id INTEGER PRIMARY KEY AUTOINCREMENT, run_id INTEGER NOT NULL REFERENCES run(id), seq INTEGER NOT NULL,
    stage TEXT NOT NULL, name TEXT NOT NULL, r REAL NOT NULL, g REAL NOT NULL, b REAL NOT NULL,
    x REAL NOT NULL, y REAL NOT NULL, z REAL NOT NULL, took_ms REAL NOT NULL, at INTEGER NOT NULL, delta_e REAL,
    UNIQUE(run_id, seq))`,
  `CREATE TABLE placement (id INTEGER PRIMARY KEY AUTOINCREMENT, display_id INTEGER NOT NULL REFERENCES display(id),
    workstation_id INTEGER NOT NULL REFERENCES workstation(id), run_id INTEGER NOT NULL REFERENCES run(id),
    profile_hash TEXT NOT NULL REFERENCES content(hash), file_name TEXT NOT NULL, description TEXT NOT NULL, scope TEXT NOT NULL,
    state TEXT NOT NULL, requested_at INTEGER NOT NULL, account_id INTEGER NOT NULL REFERENCES account(id),
    placed_at INTEGER, verified_at INTEGER, path TEXT, message TEXT)`,
  `CREATE INDEX placement_by_display ON placement(display_id, requested_at)`,
]
