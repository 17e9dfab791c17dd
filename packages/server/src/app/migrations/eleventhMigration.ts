import type { MigrationInterface, QueryRunner } from 'typeorm'
import { columns, source as formerSource } from './tenthMigration'

/**
 * Due lines by forecast: a slot's trends say when it leaves its limits with more than the accepted chance, and its display
 * falls due then, if that is sooner than by the calendar. Times: UTC, ms since 1970.
 */
export class EleventhMigration1764900000000 implements MigrationInterface {
  name = 'EleventhMigration1764900000000'

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE slot_drift ADD COLUMN leaves_at integer')
    // The chance, 0–1, by which leaves_at was worked out; none until it has been.
    await runner.query('ALTER TABLE slot_drift ADD COLUMN accepted real')
    await runner.query('DROP VIEW display_now_source')
    await runner.query(source)
    await rebuild(runner)
    for (const [name, { when, display }] of Object.entries(triggers))
      await runner.query(
        `CREATE TRIGGER display_now_${name} AFTER ${when} BEGIN
           DELETE FROM display_now WHERE display_id = ${display};
           INSERT INTO display_now (${columns}) SELECT ${columns} FROM display_now_source WHERE display_id = ${display};
         END`,
      )
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of Object.keys(triggers)) await runner.query(`DROP TRIGGER display_now_${name}`)
    await runner.query('DROP VIEW display_now_source')
    await runner.query(formerSource)
    await runner.query('ALTER TABLE slot_drift DROP COLUMN leaves_at')
    await runner.query('ALTER TABLE slot_drift DROP COLUMN accepted')
    await rebuild(runner)
  }
}

async function rebuild(runner: QueryRunner) {
  await runner.query('DELETE FROM display_now')
  await runner.query(
    `INSERT INTO display_now (${columns}) SELECT ${columns} FROM display_now_source ORDER BY display_id`,
  )
}

const day = 86_400_000
const judgedAt = `(judged.summary ->> 'at')`
const calendar = `${judgedAt} + display.check_every_days * ${day}`
/** As core’s forecastLine says it: what was just proven within is not asked for again at once. */
const forecast = `MAX(drift.leaves_at, ${judgedAt} + MAX(1, display.check_every_days * 0.1) * ${day})`

/** The view of before, with its due line the sooner of the two, and both of them told. */
export const source = formerSource
  .replace(`${calendar} AS due_at`, `CAST(MIN(${calendar}, COALESCE(${forecast}, ${calendar})) AS INTEGER) AS due_at`)
  .replace(
    `'judged', json(judged.summary)`,
    `'forecastAt', CAST(${forecast} AS INTEGER), 'judged', json(judged.summary)`,
  )
  .replace(
    'LEFT JOIN placement ON',
    // By trends that know its last judgement.
    `LEFT JOIN slot_drift AS drift ON drift.display_id = display.id AND drift.slot = display.active_slot
       AND drift.at = ${judgedAt}
    LEFT JOIN placement ON`,
  )

const triggers = {
  drift_new: { when: 'INSERT ON slot_drift', display: 'NEW.display_id' },
  drift: {
    when: 'UPDATE ON slot_drift WHEN OLD.leaves_at IS NOT NEW.leaves_at OR OLD.at IS NOT NEW.at',
    display: 'NEW.display_id',
  },
  drift_gone: { when: 'DELETE ON slot_drift', display: 'OLD.display_id' },
} as const
