import type { MigrationInterface, QueryRunner } from 'typeorm'
import { fourthLimits } from './fourthLimits'

/**
 * Validations by their figures, what the history of each slot comes to, and what happened to displays; which patches a
 * check reads, and where imported readings came from; sets of limits to begin with. Times: UTC, ms since 1970.
 */
export class FourthMigration1764200000000 implements MigrationInterface {
  name = 'FourthMigration1764200000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of statements) await runner.query(statement)
    for (const { name, limits } of fourthLimits)
      await runner.query('INSERT OR IGNORE INTO limits (name, limits, updated_at) VALUES (?, ?, 0)', [
        name,
        JSON.stringify(limits),
      ])
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE room DROP COLUMN light')
    for (const table of ['validation', 'slot_drift', 'display_event', 'room_light'])
      await runner.query(`DROP TABLE ${table}`)
    for (const column of ['patches', 'imported', 'firmware', 'check_every_days', 'tables_hash', 'uniformity'])
      await runner.query(`ALTER TABLE run DROP COLUMN ${column}`)
  }
}

const statements = [
  // Which patches a check run reads, and where readings came from that no run of ours took; JSON.
  'ALTER TABLE run ADD COLUMN patches TEXT',
  'ALTER TABLE run ADD COLUMN imported TEXT',
  // What the display was and held when the run proved it, so that its report says the same at any later time.
  'ALTER TABLE run ADD COLUMN firmware TEXT',
  'ALTER TABLE run ADD COLUMN check_every_days INTEGER',
  'ALTER TABLE run ADD COLUMN tables_hash TEXT',
  // How even the screen is, from a uniformity run; JSON.
  'ALTER TABLE run ADD COLUMN uniformity TEXT',
  // What a room's light is wanted to be, as JSON, and what was read of it: lx, K.
  'ALTER TABLE room ADD COLUMN light TEXT',
  `CREATE TABLE room_light (id INTEGER PRIMARY KEY AUTOINCREMENT, room_id INTEGER NOT NULL REFERENCES room(id),
    at INTEGER NOT NULL, illuminance_lux REAL NOT NULL, kelvin REAL, instrument_id INTEGER NOT NULL REFERENCES instrument(id),
    account_id INTEGER NOT NULL REFERENCES account(id))`,
  'CREATE INDEX room_light_by_room ON room_light(room_id, at)',
  // One row for each judged run: small, so that histories are read without the readings. Figures: JSON by key.
  `CREATE TABLE validation (id INTEGER PRIMARY KEY AUTOINCREMENT, run_id INTEGER NOT NULL UNIQUE REFERENCES run(id),
    display_id INTEGER NOT NULL REFERENCES display(id), slot INTEGER NOT NULL, label TEXT NOT NULL, at INTEGER NOT NULL,
    instrument_id INTEGER NOT NULL REFERENCES instrument(id), kind TEXT NOT NULL, calibrated INTEGER NOT NULL,
    imported INTEGER NOT NULL, verdict TEXT NOT NULL, figures TEXT NOT NULL)`,
  'CREATE INDEX validation_by_slot ON validation(display_id, slot, at)',
  // What the validations of a slot come to, brought up to date with each of them; trends, shifts, forecasts: JSON.
  `CREATE TABLE slot_drift (id INTEGER PRIMARY KEY AUTOINCREMENT, display_id INTEGER NOT NULL REFERENCES display(id),
    slot INTEGER NOT NULL, label TEXT NOT NULL, first_at INTEGER NOT NULL, at INTEGER NOT NULL, validations INTEGER NOT NULL,
    verdict TEXT NOT NULL, instrument_id INTEGER NOT NULL REFERENCES instrument(id), average_delta_e REAL NOT NULL,
    worst_delta_e REAL NOT NULL, luminance_off REAL NOT NULL, white_delta_uv REAL NOT NULL, drift TEXT NOT NULL,
    shifts TEXT NOT NULL, foretold TEXT, limits_id INTEGER NOT NULL, limits_updated_at INTEGER NOT NULL,
    UNIQUE(display_id, slot))`,
  `CREATE TABLE display_event (id INTEGER PRIMARY KEY AUTOINCREMENT, display_id INTEGER NOT NULL REFERENCES display(id),
    at INTEGER NOT NULL, kind TEXT NOT NULL, text TEXT NOT NULL)`,
  'CREATE INDEX display_event_by_display ON display_event(display_id, at)',
]
