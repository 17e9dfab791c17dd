import type { MigrationInterface, QueryRunner } from 'typeorm'
import {
  indices as formerIndices,
  source as formerSource,
  table as formerTable,
  triggers as formerTriggers,
} from './sixthMigration'

/**
 * Rollout: policies, what they want and what was found, each kept as it changed; waves; displays that several workstations
 * reach. How a placement stands is no column any more: display_now derives it from what was agreed to and what was found.
 * Times: UTC, ms since 1970.
 */
export class TenthMigration1764800000000 implements MigrationInterface {
  name = 'TenthMigration1764800000000'

  async up(runner: QueryRunner): Promise<void> {
    const kept = (await runner.query(
      `SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND name LIKE 'display\\_now\\_%' ESCAPE '\\'`,
    )) as { name: string; sql: string }[]
    for (const { name } of kept) await runner.query(`DROP TRIGGER ${name}`)
    await runner.query('DROP VIEW display_now_source')
    await runner.query('DROP TABLE display_now')
    for (const statement of [...placements, ...tables, ...dueTriggers]) await runner.query(statement)
    await runner.query(displayNow)
    await runner.query(source)
    await runner.query(
      `INSERT INTO display_now (${columns}) SELECT ${columns} FROM display_now_source ORDER BY display_id`,
    )
    for (const { name, on } of indices) await runner.query(`CREATE INDEX ${name} ON ${on}`)
    // As they were, with the columns that are told now; those of placements are made anew.
    for (const { sql } of kept)
      if (!/ ON placement\b/.test(sql)) await runner.query(sql.replaceAll(formerColumns, columns))
    for (const [name, { when, displays }] of Object.entries(triggers))
      await runner.query(
        `CREATE TRIGGER display_now_${name} AFTER ${when} BEGIN
           DELETE FROM display_now WHERE display_id IN (${displays});
           INSERT INTO display_now (${columns})
           SELECT ${columns} FROM display_now_source WHERE display_id IN (${displays});
         END`,
      )
    await runner.query('INSERT OR IGNORE INTO wanted_due (display_id) SELECT id FROM display')
  }

  /** Whatever the former columns can tell is kept; what was another's, or nobody's, is not. */
  async down(runner: QueryRunner): Promise<void> {
    const gone = (await runner.query(
      `SELECT name FROM sqlite_master WHERE type = 'trigger' AND (name LIKE 'display\\_now\\_%' ESCAPE '\\' OR name LIKE 'wanted\\_due\\_%' ESCAPE '\\')`,
    )) as { name: string }[]
    for (const { name } of gone) await runner.query(`DROP TRIGGER ${name}`)
    await runner.query('DROP VIEW display_now_source')
    await runner.query('DROP TABLE display_now')
    for (const statement of backAgain) await runner.query(statement)
    await runner.query(formerTable)
    await runner.query(`${formerSource} WHERE display.kept = 'in use'`)
    await runner.query(
      `INSERT INTO display_now (${formerColumns}) SELECT ${formerColumns} FROM display_now_source ORDER BY display_id`,
    )
    for (const { name, on } of formerIndices)
      if (name.startsWith('display_now')) await runner.query(`CREATE INDEX ${name} ON ${on}`)
    for (const [n, { when, displays }] of formerTriggers.entries())
      await runner.query(
        `CREATE TRIGGER display_now_${n + 1} AFTER ${when.replace('OLD.active_slot IS NOT NEW.active_slot', (one) => `${one} OR OLD.kept IS NOT NEW.kept`)} BEGIN
           DELETE FROM display_now WHERE display_id IN (${displays});
           INSERT INTO display_now (${formerColumns})
           SELECT ${formerColumns} FROM display_now_source WHERE display_id IN (${displays});
         END`,
      )
    await runner.query(
      'CREATE TRIGGER display_now_gone AFTER DELETE ON display BEGIN DELETE FROM display_now WHERE display_id = OLD.id; END',
    )
  }
}

const formerColumns = [
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

export const columns = formerColumns.replace(
  'newest_run_id, newer',
  'found_id, wanted_id, newest_run_id, differs, lacks_profile',
)

const placements = [
  `CREATE TABLE placement_now (
    id integer PRIMARY KEY AUTOINCREMENT,
    display_id integer NOT NULL REFERENCES display(id),
    workstation_id integer NOT NULL REFERENCES workstation(id),
    -- place: a profile of ours. restore: what was bound before. release: ours is taken away.
    action text NOT NULL DEFAULT 'place' CHECK (action IN ('place', 'restore', 'release')),
    why text NOT NULL DEFAULT 'person' CHECK (why IN ('person', 'wave', 'fresh', 'switched', 'moved', 'undo', 'hand')),
    -- None where another’s profile is given back, or ours is taken away.
    run_id integer REFERENCES run(id),
    slot integer,
    -- What shall be bound: a profile of ours is among the contents, another’s is not.
    profile_hash text,
    file_name text,
    description text NOT NULL,
    scope text NOT NULL CHECK (scope IN ('machine', 'user')),
    state text NOT NULL CHECK (state IN ('queued', 'sent', 'withdrawn')),
    requested_at integer NOT NULL,
    -- None for what Bichroma did by a policy.
    account_id integer REFERENCES account(id),
    wave_id integer,
    -- What the system had for the display before, as JSON; restores: what it shall have.
    before text,
    restores text,
    tries integer NOT NULL DEFAULT 0,
    next_try_at integer,
    fault text,
    placed_at integer,
    verified_at integer,
    path text,
    message text,
    -- Times at which it was put back, as JSON, and since when it is left alone.
    put_backs text NOT NULL DEFAULT '[]',
    left_alone_at integer,
    switch_backs text NOT NULL DEFAULT '[]',
    -- Its file is gone from the workstation.
    removed_at integer,
    -- What was agreed to before it there.
    former_id integer
  )`,
  `INSERT INTO placement_now (id, display_id, workstation_id, run_id, slot, profile_hash, file_name, description, scope,
      state, requested_at, account_id, placed_at, verified_at, path, message, tries)
    SELECT placement.id, placement.display_id, placement.workstation_id, run_id, run.slot, placement.profile_hash, file_name,
      description, scope, CASE placement.state WHEN 'queued' THEN 'queued' WHEN 'withdrawn' THEN 'withdrawn' ELSE 'sent' END,
      requested_at, placement.account_id, placed_at,
      -- What bound another profile is not known by its bytes: it is read back when the courier comes.
      CASE placement.state WHEN 'overridden' THEN NULL ELSE verified_at END, path,
      CASE WHEN placement.state IN ('queued', 'withdrawn') THEN placement.message END, placed_at IS NOT NULL
    FROM placement JOIN run ON run.id = placement.run_id`,
  `CREATE TABLE found (
    id integer PRIMARY KEY AUTOINCREMENT,
    display_id integer NOT NULL REFERENCES display(id),
    workstation_id integer NOT NULL REFERENCES workstation(id),
    -- Folder and file; none when nothing is bound.
    path text,
    hash text,
    scope text,
    waits_for text,
    -- All that the system has for the display, as JSON.
    associations text NOT NULL,
    by text,
    told text NOT NULL DEFAULT 'courier' CHECK (told IN ('courier', 'hand')),
    since integer NOT NULL,
    read_at integer NOT NULL
  )`,
  `INSERT INTO found (display_id, workstation_id, path, hash, scope, waits_for, associations, since, read_at)
    SELECT display_id, workstation_id, path, profile_hash, scope, NULL, '{"machine":[],"user":[],"perUser":false}', verified_at, verified_at
    FROM placement WHERE state = 'in force' AND path IS NOT NULL AND verified_at IS NOT NULL`,
  `INSERT INTO found (display_id, workstation_id, path, hash, scope, waits_for, associations, since, read_at)
    SELECT display_id, workstation_id, NULL, NULL, NULL, NULL, '{"machine":[],"user":[],"perUser":false}', verified_at, verified_at
    FROM placement WHERE state = 'missing' AND verified_at IS NOT NULL`,
  'DROP TABLE placement',
  'ALTER TABLE placement_now RENAME TO placement',
  'CREATE INDEX placement_by_display ON placement(display_id, id)',
  `CREATE INDEX placement_open ON placement(display_id, workstation_id) WHERE state <> 'withdrawn'`,
  `CREATE INDEX placement_queued ON placement(workstation_id) WHERE state = 'queued'`,
  'CREATE INDEX placement_by_workstation ON placement(workstation_id, state)',
  'CREATE INDEX placement_of_wave ON placement(wave_id) WHERE wave_id IS NOT NULL',
  'CREATE INDEX placement_file ON placement(workstation_id, file_name)',
  'CREATE INDEX found_of ON found(display_id, workstation_id, id)',
]

const backAgain = [
  `CREATE TABLE placement_before (id INTEGER PRIMARY KEY AUTOINCREMENT, display_id INTEGER NOT NULL REFERENCES display(id),
    workstation_id INTEGER NOT NULL REFERENCES workstation(id), run_id INTEGER NOT NULL REFERENCES run(id),
    profile_hash TEXT NOT NULL REFERENCES content(hash), file_name TEXT NOT NULL, description TEXT NOT NULL, scope TEXT NOT NULL,
    state TEXT NOT NULL, requested_at INTEGER NOT NULL, account_id INTEGER NOT NULL REFERENCES account(id),
    placed_at INTEGER, verified_at INTEGER, path TEXT, message TEXT)`,
  `INSERT INTO placement_before
    SELECT placement.id, placement.display_id, placement.workstation_id, run_id, profile_hash, file_name, description, placement.scope,
      CASE WHEN state = 'queued' THEN 'queued' WHEN state = 'withdrawn' THEN 'withdrawn'
        WHEN verified_at IS NULL OR found.id IS NULL OR found.waits_for IS NOT NULL THEN 'placed'
        WHEN found.path IS NULL OR found.hash IS NULL THEN 'missing' WHEN found.hash <> profile_hash THEN 'overridden'
        ELSE 'in force' END,
      requested_at, COALESCE(account_id, (SELECT MIN(id) FROM account)), placed_at, verified_at, placement.path, message
    FROM placement LEFT JOIN found ON found.id = (SELECT MAX(id) FROM found AS last
      WHERE last.display_id = placement.display_id AND last.workstation_id = placement.workstation_id)
    WHERE run_id IS NOT NULL`,
  ...['wave_item', 'wave', 'wanted_due', 'wanted', 'policy', 'found', 'display_link', 'program_found', 'placement'].map(
    (table) => `DROP TABLE ${table}`,
  ),
  'ALTER TABLE placement_before RENAME TO placement',
  'CREATE INDEX placement_by_display ON placement(display_id, requested_at)',
  `CREATE INDEX placement_open ON placement(display_id) WHERE state <> 'withdrawn'`,
  'CREATE INDEX placement_by_workstation ON placement(workstation_id, state)',
  'ALTER TABLE display DROP COLUMN curves',
  'ALTER TABLE display DROP COLUMN curves_since',
  'ALTER TABLE workstation DROP COLUMN note',
]

const tables = [
  `CREATE TABLE policy (
    id integer PRIMARY KEY AUTOINCREMENT,
    level text NOT NULL CHECK (level IN ('display', 'room', 'aim', 'studio')),
    -- The display, room or aim; 0 for the studio.
    subject_id integer NOT NULL,
    rules text NOT NULL,
    changed_at integer NOT NULL,
    changed_by text NOT NULL,
    UNIQUE (level, subject_id)
  )`,
  // What a policy asks for, as it changed: the newest of a display is what holds.
  `CREATE TABLE wanted (
    id integer PRIMARY KEY AUTOINCREMENT,
    display_id integer NOT NULL REFERENCES display(id),
    kind text NOT NULL CHECK (kind IN ('profile', 'none', 'no profile')),
    slot integer,
    run_id integer REFERENCES run(id),
    profile_hash text,
    -- The rules that it follows from, and where they come from, as JSON.
    rules text NOT NULL,
    origins text NOT NULL,
    since integer NOT NULL,
    -- It waits for the next morning’s wave.
    gathered integer NOT NULL DEFAULT 0
  )`,
  'CREATE INDEX wanted_of ON wanted(display_id, id)',
  'CREATE INDEX wanted_gathered ON wanted(display_id) WHERE gathered',
  // Displays of which something changed that policies look at: noted with the change itself, so that no start forgets it.
  `CREATE TABLE wanted_due (display_id integer PRIMARY KEY REFERENCES display(id), asked integer NOT NULL DEFAULT 1)`,
  `CREATE TABLE wave (
    id integer PRIMARY KEY AUTOINCREMENT,
    name text NOT NULL,
    selection text NOT NULL,
    state text NOT NULL CHECK (state IN ('preparing', 'under way', 'paused', 'stopped', 'done', 'undoing', 'undone')),
    first integer NOT NULL,
    gate text NOT NULL CHECK (gate IN ('read-back', 'check', 'word')),
    stop_share real NOT NULL,
    word integer NOT NULL DEFAULT 0,
    excused integer NOT NULL DEFAULT 0,
    started_at integer NOT NULL,
    account_id integer REFERENCES account(id),
    expires_at integer NOT NULL,
    ended_at integer
  )`,
  `CREATE INDEX wave_open ON wave(id) WHERE state NOT IN ('done', 'undone')`,
  `CREATE TABLE wave_item (
    id integer PRIMARY KEY AUTOINCREMENT,
    wave_id integer NOT NULL REFERENCES wave(id),
    display_id integer NOT NULL REFERENCES display(id),
    workstation_id integer NOT NULL REFERENCES workstation(id),
    step integer NOT NULL CHECK (step IN (1, 2)),
    action text NOT NULL CHECK (action IN ('place', 'release')),
    run_id integer REFERENCES run(id),
    slot integer,
    profile_hash text,
    file_name text,
    scope text NOT NULL,
    -- Not let out, let out, left out for good, or undone; the rest follows from its placement.
    state text NOT NULL CHECK (state IN ('held back', 'out', 'left out', 'undone')),
    says text,
    placement_id integer REFERENCES placement(id),
    undo_id integer REFERENCES placement(id),
    out_at integer,
    UNIQUE (wave_id, display_id, workstation_id)
  )`,
  `CREATE INDEX wave_item_held ON wave_item(display_id, workstation_id) WHERE state = 'held back'`,
  'CREATE INDEX wave_item_placed ON wave_item(placement_id) WHERE placement_id IS NOT NULL',
  `CREATE TABLE display_link (
    id integer PRIMARY KEY AUTOINCREMENT,
    display_id integer NOT NULL REFERENCES display(id),
    workstation_id integer NOT NULL REFERENCES workstation(id),
    UNIQUE (display_id, workstation_id)
  )`,
  'CREATE INDEX display_link_of ON display_link(workstation_id)',
  `CREATE TABLE program_found (
    id integer PRIMARY KEY AUTOINCREMENT,
    workstation_id integer NOT NULL REFERENCES workstation(id),
    name text NOT NULL,
    kind text NOT NULL,
    color_management text,
    version4 integer,
    settable integer NOT NULL,
    since integer NOT NULL,
    UNIQUE (workstation_id, name)
  )`,
  // Whether the curves of the slot on show are in the video card.
  'ALTER TABLE display ADD COLUMN curves text',
  'ALTER TABLE display ADD COLUMN curves_since integer',
  // What a note on a workstation says now.
  'ALTER TABLE workstation ADD COLUMN note text',
]

const due = (displays: string) =>
  `INSERT INTO wanted_due (display_id) ${displays} ON CONFLICT (display_id) DO UPDATE SET asked = asked + 1`
const changed = (...names: string[]) => names.map((name) => `OLD.${name} IS NOT NEW.${name}`).join(' OR ')
/** Displays that a policy may be about; a row of policy as a trigger calls it. */
const subjects = (row: string) =>
  due(`SELECT display.id FROM display JOIN workstation ON workstation.id = workstation_id
    WHERE ${row}.level IN ('studio', 'aim') OR (${row}.level = 'display' AND display.id = ${row}.subject_id)
      OR (${row}.level = 'room' AND room_id = ${row}.subject_id)`)

/** Whatever a policy looks at. */
const dueTriggers = Object.entries({
  display_new: `INSERT ON display BEGIN ${due('SELECT NEW.id WHERE true')}; END`,
  display: `UPDATE ON display WHEN ${changed('active_slot', 'workstation_id', 'kept')} BEGIN ${due('SELECT NEW.id WHERE true')}; END`,
  slot: `UPDATE ON slot WHEN ${changed('label')} BEGIN ${due('SELECT NEW.display_id WHERE true')}; END`,
  workstation: `UPDATE ON workstation WHEN ${changed('room_id')}
    BEGIN ${due('SELECT id FROM display WHERE workstation_id = NEW.id')}; END`,
  run_new: `INSERT ON run WHEN NEW.profile_hash IS NOT NULL BEGIN ${due('SELECT NEW.display_id WHERE true')}; END`,
  run: `UPDATE ON run WHEN NEW.profile_hash IS NOT NULL AND (${changed('state', 'profile_hash', 'withdrawn_at', 'taken_back_at')})
    BEGIN ${due('SELECT NEW.display_id WHERE true')}; END`,
  placement_new: `INSERT ON placement BEGIN ${due('SELECT NEW.display_id WHERE true')}; END`,
  policy_new: `INSERT ON policy BEGIN ${subjects('NEW')}; END`,
  policy: `UPDATE ON policy BEGIN ${subjects('NEW')}; END`,
  policy_gone: `DELETE ON policy BEGIN ${subjects('OLD')}; END`,
  aim: `UPDATE ON aim WHEN ${changed('name')}
    BEGIN ${due('SELECT DISTINCT display_id FROM slot WHERE label IN (OLD.name, NEW.name)')}; END`,
  aim_gone: `DELETE ON aim BEGIN DELETE FROM policy WHERE level = 'aim' AND subject_id = OLD.id; END`,
}).map(([name, rest]) => `CREATE TRIGGER wanted_due_${name} AFTER ${rest}`)

const displayNow = `CREATE TABLE display_now (
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
  -- What was agreed to last on its own workstation, how that stands, what was found and what is wanted.
  placement_id INTEGER, placement_state TEXT, placement_slot INTEGER, found_id INTEGER, wanted_id INTEGER,
  newest_run_id INTEGER,
  -- Something else is in force than is wanted; the slot whose profile is wanted has none.
  differs INTEGER NOT NULL, lacks_profile INTEGER NOT NULL,
  -- The rest of what lists show, as JSON.
  facts TEXT NOT NULL)`

const day = 86_400_000
const graceDays = 7

/** How a placement stands, as core’s standingOf says it. */
const standing = `CASE WHEN placement.id IS NULL THEN NULL
  WHEN placement.state = 'queued' THEN 'queued'
  WHEN placement.verified_at IS NULL OR found.id IS NULL THEN 'placed'
  WHEN placement.profile_hash IS NULL AND found.path IS NOT NULL THEN 'overridden'
  WHEN placement.profile_hash IS NOT NULL AND (found.path IS NULL OR found.hash IS NULL) THEN 'missing'
  WHEN placement.profile_hash IS NOT NULL AND found.hash <> placement.profile_hash THEN 'overridden'
  WHEN found.waits_for IS NOT NULL THEN 'waiting'
  WHEN placement.slot IS NOT NULL AND placement.slot <> display.active_slot THEN 'out of step'
  ELSE 'in force' END`

// Every part is looked up by an index, so that one row is made in well under a millisecond. The pluses keep the store from
// looking for the many runs that are done.
export const source = `CREATE VIEW display_now_source AS SELECT display_id, name, words, room_id, workstation_id, slot, label, verdict,
    judged_at, due_at, lapses_at, average_delta_e, run_id, placement_id, placement_state, placement_slot, found_id, wanted_id,
    newest_run_id,
    CASE wanted_kind WHEN 'profile' THEN placed_hash IS NOT wanted_hash OR placement_state IS NOT 'in force'
      WHEN 'none' THEN placement_id IS NOT NULL ELSE 0 END AS differs,
    wanted_kind IS 'no profile' AS lacks_profile, facts FROM (
  SELECT display.id AS display_id, display.name AS name,
    display.name || ' ' || maker || ' ' || model || ' ' || serial || ' ' || room.name || ' ' || workstation.name || ' '
      || COALESCE(slot.label, '') AS words,
    room.id AS room_id, workstation.id AS workstation_id, display.active_slot AS slot, slot.label AS label,
    judged.summary ->> 'verdict' AS verdict, judged.summary ->> 'at' AS judged_at,
    (judged.summary ->> 'at') + display.check_every_days * ${day} AS due_at,
    (judged.summary ->> 'at') + (display.check_every_days + ${graceDays}) * ${day} AS lapses_at,
    judged.summary ->> 'averageDeltaE' AS average_delta_e,
    (SELECT id FROM run WHERE run.display_id = display.id AND run.state IN ('running', 'waiting', 'interrupted')) AS run_id,
    placement.id AS placement_id, ${standing} AS placement_state, placement.slot AS placement_slot,
    placement.profile_hash AS placed_hash, found.id AS found_id,
    wanted.id AS wanted_id, wanted.kind AS wanted_kind, wanted.profile_hash AS wanted_hash,
    (SELECT id FROM run AS filed WHERE filed.display_id = display.id AND profile_hash IS NOT NULL AND +state = 'done'
       AND withdrawn_at IS NULL ORDER BY started_at DESC, id DESC LIMIT 1) AS newest_run_id,
    json_object('maker', maker, 'model', model, 'serial', serial, 'firmware', display.firmware, 'panelKind', panel_kind,
      'checkEveryDays', display.check_every_days, 'room', room.name, 'workstation', workstation.name,
      'operatingSystem', operating_system, 'systemVersion', system_version, 'unsure', slot.unsure,
      'luminance', slot.aim -> '$.luminance', 'white', slot.aim -> '$.white',
      'judged', json(judged.summary)) AS facts
  FROM display JOIN workstation ON workstation.id = display.workstation_id JOIN room ON room.id = workstation.room_id
    LEFT JOIN slot ON slot.display_id = display.id AND slot.number = display.active_slot
    LEFT JOIN run AS judged ON judged.id = slot.judged_run_id AND NOT slot.unsure AND judged.summary IS NOT NULL
    LEFT JOIN placement ON placement.id = (SELECT MAX(id) FROM placement AS open
      WHERE open.display_id = display.id AND open.workstation_id = display.workstation_id AND open.state <> 'withdrawn')
    LEFT JOIN found ON found.id = (SELECT MAX(id) FROM found AS last
      WHERE last.display_id = display.id AND last.workstation_id = display.workstation_id)
    LEFT JOIN wanted ON wanted.id = (SELECT MAX(id) FROM wanted AS last WHERE last.display_id = display.id)
  WHERE display.kept = 'in use')`

/** Whatever of rollout a row tells of, and whose rows it is. */
const triggers = {
  placement_new: { when: 'INSERT ON placement', displays: 'NEW.display_id' },
  placement: {
    when: `UPDATE ON placement WHEN ${changed('state', 'profile_hash', 'slot')}
      OR (OLD.verified_at IS NULL) <> (NEW.verified_at IS NULL) OR ${changed('fault', 'left_alone_at')}`,
    displays: 'NEW.display_id',
  },
  placement_gone: { when: 'DELETE ON placement', displays: 'OLD.display_id' },
  found_new: { when: 'INSERT ON found', displays: 'NEW.display_id' },
  wanted_new: { when: 'INSERT ON wanted', displays: 'NEW.display_id' },
} as const

const indices = [
  // Holds all that whole floors are counted by, so that the wide rows need not be looked at.
  {
    name: 'display_now_standing',
    on: `display_now(room_id, display_id, verdict, judged_at, due_at, lapses_at, average_delta_e, run_id, slot, placement_state, placement_slot)`,
  },
  { name: 'display_now_by_due', on: 'display_now(due_at)' },
  { name: 'display_now_by_workstation', on: 'display_now(workstation_id)' },
  {
    name: 'display_now_astray',
    on: `display_now(placement_state) WHERE placement_state IN ('overridden', 'missing', 'out of step')`,
  },
  { name: 'display_now_differs', on: 'display_now(display_id) WHERE differs OR lacks_profile' },
] as const
