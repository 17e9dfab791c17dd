import type { DataSource } from 'typeorm'
import { localDate, usualDays } from '@bichroma/core/rounds'
import { atomically, changesInAll, written } from '../data/atomically'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import { roundsSettings } from './settings'

const day = 86_400_000
/** Displays that are looked at in one go. */
const atOnce = 200

const usual = JSON.stringify(Object.fromEntries(Object.entries(usualDays).map(([panel, { days }]) => [panel, days])))

/**
 * For each display whose days are a rule's: whose, and how many. Parameters: the usual ones by panel, as JSON; the first and
 * the last display.
 */
const byRule = `SELECT display.id AS display_id,
    CASE WHEN room.every_days IS NOT NULL THEN 'room' WHEN aim_rule.every_days IS NOT NULL THEN 'aim'
      WHEN limits.every_days IS NOT NULL THEN 'limits' WHEN panel.every_days IS NOT NULL THEN 'panel'
      WHEN studio.every_days IS NOT NULL THEN 'studio' ELSE 'usual' END AS days_from,
    COALESCE(room.every_days, aim_rule.every_days, limits.every_days, panel.every_days, studio.every_days,
      json_extract(?, '$."' || panel_kind || '"'), display.check_every_days) AS days
  FROM display_due JOIN display ON display.id = display_due.display_id
    JOIN workstation ON workstation.id = display.workstation_id
    LEFT JOIN slot ON slot.display_id = display.id AND slot.number = display.active_slot
    LEFT JOIN aim ON aim.name = slot.label
    LEFT JOIN due_rule AS room ON room.level = 'room' AND room.subject = CAST(workstation.room_id AS text)
    LEFT JOIN due_rule AS aim_rule ON aim_rule.level = 'aim' AND aim_rule.subject = CAST(aim.id AS text)
    LEFT JOIN due_rule AS limits ON limits.level = 'limits' AND limits.subject = CAST(display.limits_id AS text)
    LEFT JOIN due_rule AS panel ON panel.level = 'panel' AND panel.subject = panel_kind
    LEFT JOIN due_rule AS studio ON studio.level = 'studio'
  WHERE display_due.days_from IS NOT NULL AND display_due.display_id BETWEEN ? AND ?`

/** What a day that matters is for, of a display that is named so. */
export const isFor = `(mattering_day.level = 'studio'
  OR (mattering_day.level = 'room' AND mattering_day.subject_id = display_now.room_id)
  OR (mattering_day.level = 'display' AND mattering_day.subject_id = display_now.display_id)
  OR (mattering_day.level = 'aim' AND (SELECT name FROM aim WHERE id = mattering_day.subject_id) = display_now.label))`

/** For each display the next day for which its last judgement will be too old. Parameters: now; the first and the last display. */
const nextDay = `SELECT display_id, MIN(mattering_day.at) AS at, mattering_day.at - fresh_days * ${day} AS counts_from,
    mattering_day.name AS name
  FROM mattering_day JOIN display_now ON ${isFor}
  WHERE mattering_day.at >= ? AND COALESCE(judged_at, 0) < mattering_day.at - fresh_days * ${day}
    AND display_id BETWEEN ? AND ?
  GROUP BY display_id`

/**
 * Keeps what follows of rules, days that matter and rests for each display, wherever one of them or a display changed. The
 * due line itself follows in the store.
 */
export class DueKeeper {
  private readonly following = new WorkedOff('Due lines follow their rules', () => this.work(), { againMs: 15_000 })

  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
    private readonly changed: () => void,
  ) {}

  /** Does so in a moment, once for all that changed until then; what fails is done with the next change, or a little later. */
  soon(): void {
    this.following.inAMoment()
  }

  apply = (): Promise<void> => this.following.soon()

  close = (): Promise<void> => this.following.close()

  private async work(): Promise<void> {
    const { data } = this
    const [{ last }] = await data.query<[{ last: number | null }]>('SELECT MAX(id) AS last FROM display')
    const now = this.now()
    const today = localDate(now, (await roundsSettings(data)).hours.zone)
    let changed = 0
    // Some at a time, so that others are answered in between.
    for (let from = 1; from <= (last ?? 0) && !this.following.closed; from += atOnce) {
      changed += await patiently(() => this.follow(now, today, [from, from + atOnce - 1]))
      await new Promise((resolve) => setImmediate(resolve))
    }
    if (changed > 0) this.changed()
  }

  /** What follows for some displays, as one; how many rows changed. */
  private follow(now: number, today: string, some: readonly [number, number]): number {
    const { data } = this
    return atomically(data, (take) => {
      const before = changesInAll(data)
      // The days of the rule first: so the store knows that nobody gave the display days of its own.
      take(
        written(
          `UPDATE display_due SET days_from = held.days_from, days = held.days FROM (${byRule}) AS held
           WHERE held.display_id = display_due.display_id
             AND (display_due.days_from IS NOT held.days_from OR display_due.days IS NOT held.days)`,
          [usual, ...some],
        ),
      )
      take(
        written(
          `UPDATE display SET check_every_days = display_due.days FROM display_due
           WHERE display_due.display_id = display.id AND display_due.days_from IS NOT NULL
             AND display.check_every_days <> display_due.days AND display.id BETWEEN ? AND ?`,
          some,
        ),
      )
      take(
        written(
          `INSERT INTO display_due (display_id) SELECT display_id FROM (${nextDay})
           WHERE display_id NOT IN (SELECT display_id FROM display_due)`,
          [now, ...some],
        ),
      )
      take(
        written(
          `UPDATE display_due SET matters_at = next.at, matters_from = next.counts_from, matters_name = next.name
           FROM (SELECT due.display_id AS id, day.at AS at, day.counts_from AS counts_from, day.name AS name
                 FROM display_due AS due LEFT JOIN (${nextDay}) AS day ON day.display_id = due.display_id
                 WHERE due.display_id BETWEEN ? AND ?) AS next
           WHERE next.id = display_due.display_id AND (matters_at IS NOT next.at OR matters_from IS NOT next.counts_from
             OR matters_name IS NOT next.name)`,
          [now, ...some, ...some],
        ),
      )
      // What was paused until a day is looked at again from then on.
      take(
        written(
          `UPDATE display_due SET rests = NULL, rests_why = NULL, rests_by = NULL, rests_until = NULL
           WHERE rests = 'paused' AND rests_until <= ? AND display_id BETWEEN ? AND ?`,
          [today, ...some],
        ),
      )
      return changesInAll(data) - before
    })
  }
}
