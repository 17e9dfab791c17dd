import type { MigrationInterface, QueryRunner } from 'typeorm'
import { source as formerSource } from './eleventhMigration'
import { columns } from './tenthMigration'

/**
 * When displays fall due by rules of rooms, aims, limits and kinds of panel; days that matter; displays that rest. What
 * follows of them for each display stands in display_due. Times: UTC, ms since 1970; days: as 2026-11-27.
 */
export class ThirteenthMigration1765100000000 implements MigrationInterface {
  name = 'ThirteenthMigration1765100000000'

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of tables) await runner.query(statement)
    await runner.query('DROP VIEW display_now_source')
    await runner.query(source)
    await runner.query(ownDays)
    for (const [name, { when, display }] of Object.entries(triggers))
      await runner.query(
        `CREATE TRIGGER display_now_${name} AFTER ${when} BEGIN
           DELETE FROM display_now WHERE display_id = ${display};
           INSERT INTO display_now (${columns}) SELECT ${columns} FROM display_now_source WHERE display_id = ${display};
         END`,
      )
    await rebuild(runner)
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of Object.keys(triggers)) await runner.query(`DROP TRIGGER display_now_${name}`)
    await runner.query('DROP TRIGGER display_due_own')
    await runner.query('DROP VIEW display_now_source')
    await runner.query(formerSource)
    for (const table of ['display_due', 'due_rule', 'mattering_day']) await runner.query(`DROP TABLE ${table}`)
    await rebuild(runner)
  }
}

async function rebuild(runner: QueryRunner) {
  await runner.query('DELETE FROM display_now')
  await runner.query(
    `INSERT INTO display_now (${columns}) SELECT ${columns} FROM display_now_source ORDER BY display_id`,
  )
}

/** Later than every other due line: that of a display that rests. */
const restsAt = 8_640_000_000_000_000

const tables = [
  `CREATE TABLE due_rule (
    level text NOT NULL CHECK (level IN ('studio', 'panel', 'limits', 'aim', 'room')),
    -- The number of the room, the aim or the limits; the kind of panel; nothing for the studio.
    subject text NOT NULL,
    every_days integer NOT NULL,
    changed_at integer NOT NULL,
    changed_by text NOT NULL,
    PRIMARY KEY (level, subject)
  )`,
  `CREATE TABLE mattering_day (
    id integer PRIMARY KEY AUTOINCREMENT,
    name text NOT NULL,
    date text NOT NULL,
    at integer NOT NULL,
    level text NOT NULL CHECK (level IN ('studio', 'room', 'aim', 'display')),
    subject_id integer NOT NULL,
    fresh_days integer NOT NULL,
    by text NOT NULL
  )`,
  `CREATE TABLE display_due (
    display_id integer PRIMARY KEY REFERENCES display(id),
    -- Whose rule its days are, and the days of that; none for days of its own.
    days_from text,
    days integer,
    rests text CHECK (rests IN ('never', 'paused', 'until further notice')),
    rests_why text,
    rests_by text,
    rests_until text,
    -- The next day for which its last judgement will be too old, and from when a judgement counts for it.
    matters_at integer,
    matters_from integer,
    matters_name text
  )`,
]

/** Somebody gave a display days of its own: no rule decides them any more. */
const ownDays = `CREATE TRIGGER display_due_own AFTER UPDATE OF check_every_days ON display
  WHEN OLD.check_every_days <> NEW.check_every_days BEGIN
    UPDATE display_due SET days_from = NULL, days = NULL
    WHERE display_id = NEW.id AND days_from IS NOT NULL AND days <> NEW.check_every_days;
  END`

/** The view of before; a day that matters moves the due line forward, and what rests has none. */
const source = formerSource
  .replace(
    /(CAST\(MIN\(.*?\) AS INTEGER\)) AS due_at,/s,
    (_all, base: string) => `CASE WHEN due.rests IS NOT NULL THEN ${restsAt}
      WHEN due.matters_at IS NOT NULL AND (judged.summary ->> 'at') < due.matters_from THEN MIN(${base}, due.matters_at)
      ELSE ${base} END AS due_at,`,
  )
  .replace(
    `'judged', json(judged.summary)`,
    `'daysFrom', due.days_from, 'rests', due.rests, 'restsWhy', due.rests_why, 'restsUntil', due.rests_until,
      'mattersAt', CASE WHEN (judged.summary ->> 'at') < due.matters_from THEN due.matters_at END,
      'mattersName', due.matters_name, 'judged', json(judged.summary)`,
  )
  .replace(
    'LEFT JOIN placement ON',
    'LEFT JOIN display_due AS due ON due.display_id = display.id\n    LEFT JOIN placement ON',
  )

const changed = ['days_from', 'rests', 'rests_why', 'rests_until', 'matters_at', 'matters_from', 'matters_name']
  .map((name) => `OLD.${name} IS NOT NEW.${name}`)
  .join(' OR ')
const triggers = {
  due_new: { when: 'INSERT ON display_due', display: 'NEW.display_id' },
  due: { when: `UPDATE ON display_due WHEN ${changed}`, display: 'NEW.display_id' },
} as const
