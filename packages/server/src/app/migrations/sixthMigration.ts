import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Buildings, and what lists of displays show, one narrow row each: written by the store itself, in the same transaction as
 * what it tells (see docs/architecture.md). Times: UTC, ms since 1970.
 *
 * Whoever changes a column that display_now_source or a trigger names has to drop and make them anew.
 */
export class SixthMigration1764400000000 implements MigrationInterface {
  name = 'SixthMigration1764400000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE room ADD COLUMN building TEXT')
    await runner.query(
      `ALTER TABLE slot_drift ADD COLUMN leaves_order REAL GENERATED ALWAYS AS (${leavesOrder}) VIRTUAL`,
    )
    for (const statement of validationsDue) await runner.query(statement)
    await runner.query(table)
    await runner.query(source)
    await runner.query(
      `INSERT INTO display_now (${columns}) SELECT ${columns} FROM display_now_source ORDER BY display_id`,
    )
    for (const { name, on } of indices) await runner.query(`CREATE INDEX ${name} ON ${on}`)
    for (const [n, { when, displays }] of triggers.entries())
      await runner.query(
        // Not “or replace”: a statement that says “or ignore” would make that of it.
        `CREATE TRIGGER display_now_${n + 1} AFTER ${when} BEGIN
           DELETE FROM display_now WHERE display_id IN (${displays});
           INSERT INTO display_now (${columns})
           SELECT ${columns} FROM display_now_source WHERE display_id IN (${displays});
         END`,
      )
    await runner.query(
      'CREATE TRIGGER display_now_gone AFTER DELETE ON display BEGIN DELETE FROM display_now WHERE display_id = OLD.id; END',
    )
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TRIGGER display_now_gone')
    for (const n of triggers.keys()) await runner.query(`DROP TRIGGER display_now_${n + 1}`)
    for (const name of ['validation_due_run', 'validation_due_new', 'validation_due_filed', 'validation_due_lost'])
      await runner.query(`DROP TRIGGER ${name}`)
    await runner.query('DROP TABLE validation_due')
    await runner.query('DROP VIEW display_now_source')
    await runner.query('DROP TABLE display_now')
    for (const { name } of indices) await runner.query(`DROP INDEX IF EXISTS ${name}`)
    await runner.query('ALTER TABLE slot_drift DROP COLUMN leaves_order')
    await runner.query('ALTER TABLE room DROP COLUMN building')
  }
}

/** The soonest to leave its limits first: past, by the day it crosses, steady, not enough history, no rule that decides. */
const leavesOrder = `CASE foretold ->> '$.forecast.kind' WHEN 'past' THEN 0 WHEN 'crosses' THEN foretold ->> '$.forecast.at'
  WHEN 'steady' THEN 1e16 WHEN 'not enough history' THEN 1e17 ELSE 1e18 END`

const columns = [
  'display_id',
  'name',
  'words',
  'room_id',
  'workstation_id',
  'slot',
  'label',
  'verdict',
  'judged_at',
  'due_at',
  'lapses_at',
  'average_delta_e',
  'run_id',
  'placement_id',
  'placement_state',
  'placement_slot',
  'newest_run_id',
  'newer',
  'facts',
].join(', ')

export const table = `CREATE TABLE display_now (
  -- Counts changes: a row that is written anew gets the next number.
  seq INTEGER PRIMARY KEY AUTOINCREMENT,
  display_id INTEGER NOT NULL UNIQUE, name TEXT NOT NULL,
  -- What it is found by.
  words TEXT NOT NULL,
  room_id INTEGER NOT NULL, workstation_id INTEGER NOT NULL,
  -- The slot that is shown, and the last judgement of what it holds.
  slot INTEGER NOT NULL, label TEXT, verdict TEXT, judged_at INTEGER, due_at INTEGER, lapses_at INTEGER, average_delta_e REAL,
  -- The run that holds it.
  run_id INTEGER,
  -- The profile that was placed last, and whether a newer one was filed since.
  placement_id INTEGER, placement_state TEXT, placement_slot INTEGER, newest_run_id INTEGER, newer INTEGER NOT NULL,
  -- The rest of what lists show, as JSON.
  facts TEXT NOT NULL)`

const day = 86_400_000
const graceDays = 7

// Every part is looked up by an index, so that one row is made in well under a millisecond. The pluses keep the store from
// looking for the many runs that are done.
export const source = `CREATE VIEW display_now_source AS
  SELECT display.id AS display_id, display.name AS name,
    display.name || ' ' || maker || ' ' || model || ' ' || serial || ' ' || room.name || ' ' || workstation.name || ' '
      || COALESCE(slot.label, '') AS words,
    room.id AS room_id, workstation.id AS workstation_id, display.active_slot AS slot, slot.label AS label,
    judged.summary ->> 'verdict' AS verdict, judged.summary ->> 'at' AS judged_at,
    (judged.summary ->> 'at') + display.check_every_days * ${day} AS due_at,
    (judged.summary ->> 'at') + (display.check_every_days + ${graceDays}) * ${day} AS lapses_at,
    judged.summary ->> 'averageDeltaE' AS average_delta_e,
    (SELECT id FROM run WHERE run.display_id = display.id AND run.state IN ('running', 'waiting', 'interrupted')) AS run_id,
    placement.id AS placement_id, placement.state AS placement_state,
    (SELECT run.slot FROM run WHERE run.id = placement.run_id) AS placement_slot,
    newest.id AS newest_run_id,
    newest.id IS NOT NULL AND newest.id IS NOT placement.run_id
      AND COALESCE(newest.summary ->> 'at', newest.started_at) > COALESCE(placement.requested_at, 0) AS newer,
    json_object('maker', maker, 'model', model, 'serial', serial, 'firmware', display.firmware, 'panelKind', panel_kind,
      'checkEveryDays', display.check_every_days, 'room', room.name, 'workstation', workstation.name,
      'operatingSystem', operating_system, 'systemVersion', system_version, 'unsure', slot.unsure,
      'luminance', slot.aim -> '$.luminance', 'white', slot.aim -> '$.white',
      'judged', json(judged.summary)) AS facts
  FROM display JOIN workstation ON workstation.id = display.workstation_id JOIN room ON room.id = workstation.room_id
    LEFT JOIN slot ON slot.display_id = display.id AND slot.number = display.active_slot
    LEFT JOIN run AS judged ON judged.id = slot.judged_run_id AND NOT slot.unsure AND judged.summary IS NOT NULL
    LEFT JOIN placement ON placement.id =
      (SELECT MAX(id) FROM placement AS open WHERE open.display_id = display.id AND open.state <> 'withdrawn')
    LEFT JOIN run AS newest ON newest.id =
      (SELECT id FROM run AS filed WHERE filed.display_id = display.id AND profile_hash IS NOT NULL AND +state = 'done'
         AND withdrawn_at IS NULL ORDER BY started_at DESC, id DESC LIMIT 1)`

const changed = (...names: string[]) => names.map((name) => `OLD.${name} IS NOT NEW.${name}`).join(' OR ')

/** Whatever a row tells of, and whose rows it is. */
export const triggers = [
  { when: 'INSERT ON display', displays: 'NEW.id' },
  {
    when: `UPDATE ON display WHEN ${changed('name', 'maker', 'model', 'serial', 'firmware', 'panel_kind', 'workstation_id', 'check_every_days', 'active_slot')}`,
    displays: 'NEW.id',
  },
  { when: 'INSERT ON slot', displays: 'NEW.display_id' },
  {
    when: `UPDATE ON slot WHEN ${changed('label', 'aim', 'judged_run_id', 'unsure')}`,
    displays: 'NEW.display_id',
  },
  { when: 'DELETE ON slot', displays: 'OLD.display_id' },
  {
    when: `UPDATE ON workstation WHEN ${changed('name', 'room_id', 'operating_system', 'system_version')}`,
    displays: 'SELECT id FROM display WHERE workstation_id = NEW.id',
  },
  {
    when: `UPDATE ON room WHEN ${changed('name')}`,
    displays:
      'SELECT display.id FROM display JOIN workstation ON workstation.id = display.workstation_id WHERE room_id = NEW.id',
  },
  {
    when: `INSERT ON run WHEN NEW.state IN ('running', 'waiting', 'interrupted') OR NEW.profile_hash IS NOT NULL`,
    displays: 'NEW.display_id',
  },
  {
    when: `UPDATE ON run WHEN ${changed('state', 'summary', 'profile_hash', 'withdrawn_at')}`,
    displays: 'NEW.display_id',
  },
  { when: 'DELETE ON run', displays: 'OLD.display_id' },
  { when: 'INSERT ON placement', displays: 'NEW.display_id' },
  { when: `UPDATE ON placement WHEN ${changed('state', 'run_id', 'requested_at')}`, displays: 'NEW.display_id' },
  { when: 'DELETE ON placement', displays: 'OLD.display_id' },
] as const

/** A run that was proved, by what a trigger calls it: NEW. */
const proved = (row: string) => `${row}.state = 'done' AND ${row}.summary IS NOT NULL AND ${row}.metrics IS NOT NULL
  AND ${row}.judgement IS NOT NULL AND ${row}.kind IN ('full', 'refresh', 'check')`

/** Proved runs that are not yet among the validations: noted with the proof itself, so that no start has to look for them. */
const validationsDue = [
  'CREATE TABLE validation_due (run_id INTEGER PRIMARY KEY REFERENCES run(id))',
  `INSERT INTO validation_due SELECT id FROM run WHERE ${proved('run')} AND taken_back_at IS NULL AND withdrawn_at IS NULL
     AND NOT EXISTS (SELECT 1 FROM validation WHERE validation.run_id = run.id)`,
  `CREATE TRIGGER validation_due_run AFTER UPDATE OF state ON run WHEN ${proved('NEW')} AND OLD.state <> 'done'
   BEGIN INSERT INTO validation_due SELECT NEW.id WHERE NOT EXISTS (SELECT 1 FROM validation_due WHERE run_id = NEW.id); END`,
  `CREATE TRIGGER validation_due_new AFTER INSERT ON run WHEN ${proved('NEW')}
   BEGIN INSERT INTO validation_due SELECT NEW.id WHERE NOT EXISTS (SELECT 1 FROM validation_due WHERE run_id = NEW.id); END`,
  `CREATE TRIGGER validation_due_filed AFTER INSERT ON validation
   BEGIN DELETE FROM validation_due WHERE run_id = NEW.run_id; END`,
  // One that is lost is filed again; a run that was withdrawn or taken back is passed over there.
  `CREATE TRIGGER validation_due_lost AFTER DELETE ON validation
   BEGIN INSERT OR IGNORE INTO validation_due SELECT id FROM run WHERE id = OLD.run_id AND ${proved('run')}; END`,
]

export const indices = [
  // Holds all that whole floors are counted by, so that the wide rows need not be looked at.
  {
    name: 'display_now_standing',
    on: `display_now(room_id, display_id, verdict, judged_at, due_at, lapses_at, average_delta_e, run_id, slot, placement_state, placement_slot)`,
  },
  { name: 'display_now_by_due', on: 'display_now(due_at)' },
  { name: 'display_now_by_workstation', on: 'display_now(workstation_id)' },
  { name: 'display_now_astray', on: `display_now(placement_state) WHERE placement_state IN ('overridden', 'missing')` },
  { name: 'display_by_workstation', on: 'display(workstation_id)' },
  { name: 'workstation_by_room', on: 'workstation(room_id)' },
  { name: 'workstation_enrolled', on: 'workstation(id) WHERE courier_key_hash IS NOT NULL' },
  // Runs that count no longer.
  { name: 'run_out', on: 'run(id) WHERE taken_back_at IS NOT NULL OR withdrawn_at IS NOT NULL' },
  // Lists of runs by what they are filtered by.
  { name: 'run_by_state', on: `run(state, started_at, id) WHERE state <> 'done'` },
  { name: 'run_by_kind', on: 'run(kind, started_at, id)' },
  { name: 'run_judged', on: 'run(started_at, id) WHERE summary IS NOT NULL' },
  { name: 'run_by_verdict', on: `run(summary ->> 'verdict', started_at, id) WHERE summary IS NOT NULL` },
  { name: 'slot_drift_by_order', on: 'slot_drift(leaves_order, id)' },
] as const
