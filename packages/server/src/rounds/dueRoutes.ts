import type { DataSource } from 'typeorm'
import { atTime, usualDays, type DueScope } from '@bichroma/core/rounds'
import { panelKindNames, panelKinds, type PanelKind } from '@bichroma/core/register'
import {
  addDaySchema,
  restSchema,
  saveDueRuleSchema,
  validate,
  type DueRules,
  type MatteringDayListing,
} from '@bichroma/contract'
import { aimEntity, limitsEntity } from '../aims/entities'
import { written, type Take } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { displayEntity, roomEntity } from '../register/entities'
import { isFor, type DueKeeper } from './dueKeeper'
import { roundsSettings } from './settings'

interface DueServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly now: () => number
  readonly keeper: DueKeeper
}

const things = {
  display: { entity: displayEntity, word: 'display' },
  room: { entity: roomEntity, word: 'room' },
  aim: { entity: aimEntity, word: 'aim' },
  limits: { entity: limitsEntity, word: 'limits' },
} as const

/** Rules of days, days that matter, and displays that rest. */
export function dueRoutes(api: Api, { data, ledger, now, keeper }: DueServices): void {
  const nameOf = async (level: DueScope, of: number | undefined, panel?: PanelKind): Promise<string> => {
    if (level === 'studio') return 'the studio'
    if (level === 'panel') return panelKinds[panel!]
    const { entity, word } = things[level]
    const row = (await data.getRepository(entity as typeof roomEntity).findOneBy({ id: of })) as { name: string } | null
    if (!row) throw new Refusal('invalid-input', `“of” names no ${word} that is there; choose one.`, 'of')
    return row.name
  }

  api.on('GET /due-rules', () => readDueRules(data, now()))

  api.on('PUT /due-rules', async (request) => {
    const { level, of, panel, everyDays } = validate(saveDueRuleSchema, request.body)
    const name = await nameOf(level, of, panel)
    const tell = {
      act: everyDays === null ? ('removed' as const) : ('changed' as const),
      thing: 'rounds' as const,
      id: level === 'display' ? of! : null,
      name: `days between checks of ${name}`,
      ...(everyDays !== null && { changes: [{ field: 'days', to: everyDays }] }),
    }
    const write = (take: Take) => {
      if (level === 'display') {
        // By the rules from now on, or by days of its own.
        take(
          everyDays === null
            ? written(
                `INSERT INTO display_due (display_id, days_from, days) SELECT id, 'usual', check_every_days FROM display WHERE id = ?
                 ON CONFLICT (display_id) DO UPDATE SET days_from = excluded.days_from, days = excluded.days`,
                [of],
              )
            : written('UPDATE display_due SET days_from = NULL, days = NULL WHERE display_id = ?', [of]),
        )
        if (everyDays !== null) take(written('UPDATE display SET check_every_days = ? WHERE id = ?', [everyDays, of]))
        return
      }
      const subject = level === 'studio' ? '' : level === 'panel' ? panel : String(of)
      take(
        everyDays === null
          ? written('DELETE FROM due_rule WHERE level = ? AND subject = ?', [level, subject])
          : written(
              `INSERT INTO due_rule (level, subject, every_days, changed_at, changed_by) VALUES (?, ?, ?, ?, ?)
               ON CONFLICT (level, subject) DO UPDATE SET every_days = excluded.every_days,
                 changed_at = excluded.changed_at, changed_by = excluded.changed_by`,
              [level, subject, everyDays, now(), request.account.name],
            ),
      )
    }
    ledger.change(request.account, write, () => tell)
    await keeper.apply()
    return {}
  })

  api.on('POST /due-days', async (request, response) => {
    const { name, date, level, of, freshDays } = validate(addDaySchema, request.body)
    const ofName = await nameOf(level, of)
    const { hours } = await roundsSettings(data)
    const at = atTime(date, '00:00', hours.zone)
    if (at < now() - 86_400_000) throw new Refusal('invalid-input', '“Day” must not be past.', 'date')
    const id = ledger.change(
      request.account,
      (take) =>
        take(
          written(
            `INSERT INTO mattering_day (name, date, at, level, subject_id, fresh_days, by) VALUES (?, ?, ?, ?, ?, ?, ?)`,
            [name, date, at, level, of ?? 0, freshDays, request.account.name],
          ),
        ),
      (made) => ({
        act: 'added',
        thing: 'rounds',
        id: made,
        name: `${name} on ${date}`,
        evidence: { for: ofName, fresh: freshDays },
      }),
    )
    await keeper.apply()
    response.status(201)
    return { id }
  })

  api.on('DELETE /due-days/:id', async (request) => {
    const id = idOf(request)
    const [row] = await data.query<{ name: string; date: string }[]>(
      'SELECT name, date FROM mattering_day WHERE id = ?',
      [id],
    )
    if (!row) throw new Refusal('not-found', `There is no day that matters of the number ${id}.`)
    ledger.change(
      request.account,
      (take) => take(written('DELETE FROM mattering_day WHERE id = ?', [id])),
      () => ({ act: 'removed', thing: 'rounds', id, name: `${row.name} on ${row.date}` }),
    )
    await keeper.apply()
    return {}
  })

  api.on('PUT /displays/:id/rest', async (request) => {
    const id = idOf(request)
    const { kind, why, until } = validate(restSchema, request.body)
    const display = await data.getRepository(displayEntity).findOneBy({ id })
    if (!display) throw new Refusal('not-found', `There is no display ${id}.`)
    const day = kind === 'paused' ? (until ?? null) : null
    ledger.change(
      request.account,
      (take) =>
        take(
          written(
            `INSERT INTO display_due (display_id, rests, rests_why, rests_by, rests_until) VALUES (?, ?, ?, ?, ?)
             ON CONFLICT (display_id) DO UPDATE SET rests = excluded.rests, rests_why = excluded.rests_why,
               rests_by = excluded.rests_by, rests_until = excluded.rests_until`,
            kind === null ? [id, null, null, null, null] : [id, kind, why, request.account.name, day],
          ),
        ),
      () => ({
        act: 'changed',
        thing: 'display',
        id,
        name: display.name,
        changes: [{ field: 'rests', to: kind === null ? 'no longer' : day ? `${kind} until ${day}` : kind }],
        ...(kind !== null && { why }),
      }),
    )
    await keeper.apply()
    return {}
  })
}

async function readDueRules(data: DataSource, now: number): Promise<DueRules> {
  const counts = new Map(
    (
      await data.query<{ source: string; displays: number }[]>(
        `SELECT CASE days_from WHEN 'room' THEN 'room ' || room_id WHEN 'aim' THEN 'aim ' || (SELECT id FROM aim WHERE name = label)
             WHEN 'limits' THEN 'limits ' || limits_id WHEN 'panel' THEN 'panel ' || panel_kind
             WHEN 'studio' THEN 'studio ' WHEN 'usual' THEN 'usual ' || panel_kind ELSE 'own' END AS source,
           COUNT(*) AS displays
         FROM display_now JOIN display ON display.id = display_now.display_id
           LEFT JOIN display_due ON display_due.display_id = display.id GROUP BY source`,
      )
    ).map((r) => [r.source, r.displays]),
  )
  const rules = await data.query<Omit<DueRules['rules'][number], 'displays'>[]>(
    `SELECT level, subject, every_days AS everyDays, changed_at AS changedAt, changed_by AS changedBy,
       CASE level WHEN 'room' THEN (SELECT name FROM room WHERE id = CAST(subject AS integer) AND retired_at IS NULL)
         WHEN 'aim' THEN (SELECT name FROM aim WHERE id = CAST(subject AS integer))
         WHEN 'limits' THEN (SELECT name FROM limits WHERE id = CAST(subject AS integer))
         WHEN 'studio' THEN 'the studio' ELSE subject END AS name
     FROM due_rule ORDER BY CASE level WHEN 'room' THEN 0 WHEN 'aim' THEN 1 WHEN 'limits' THEN 2 WHEN 'panel' THEN 3 ELSE 4 END, name`,
  )
  const days = await data.query<MatteringDayListing[]>(
    `SELECT mattering_day.id AS id, mattering_day.name AS name, date, at, level, subject_id AS of, fresh_days AS freshDays, by,
       CASE level WHEN 'room' THEN (SELECT name FROM room WHERE id = subject_id)
         WHEN 'aim' THEN (SELECT name FROM aim WHERE id = subject_id)
         WHEN 'display' THEN (SELECT name FROM display WHERE id = subject_id) ELSE 'the studio' END AS ofName,
       (SELECT COUNT(*) FROM display_now WHERE ${isFor}) AS displays,
       (SELECT COUNT(*) FROM display_now WHERE ${isFor} AND COALESCE(judged_at, 0) < at - fresh_days * 86400000) AS lacking
     FROM mattering_day WHERE at >= ? ORDER BY at, mattering_day.id`,
    [now - 86_400_000],
  )
  const resting = await data.query<DueRules['resting']>(
    `SELECT display.id AS id, display_now.name AS name, facts ->> 'room' AS room, display_due.rests AS kind, rests_why AS why,
       rests_by AS by, rests_until AS until
     FROM display_due JOIN display_now ON display_now.display_id = display_due.display_id
       JOIN display ON display.id = display_due.display_id
     WHERE display_due.rests IS NOT NULL ORDER BY display_now.name LIMIT 500`,
  )
  return {
    rules: rules
      .filter((r) => r.name !== null)
      .map((r) => ({
        ...r,
        name: r.level === 'panel' ? panelKinds[r.subject as PanelKind] : r.name,
        displays: counts.get(`${r.level} ${r.subject}`) ?? 0,
      })),
    usual: panelKindNames.map((panel) => ({ panel, ...usualDays[panel], displays: counts.get(`usual ${panel}`) ?? 0 })),
    own: counts.get('own') ?? 0,
    days,
    resting,
  }
}
