import type { DataSource } from 'typeorm'
import {
  clockIn,
  dayStart,
  dayWords,
  daysAfter,
  deskOn,
  deskReminder,
  localDate,
  reminderText,
  workSpans,
  type RemindedVisit,
  type SentReminder,
} from '@bichroma/core/rounds'
import { runKinds, type RunKind } from '@bichroma/core/runs'
import { atomically, written } from '../data/atomically'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import type { Desks } from './desks'
import { instrumentsQuery, peopleQuery, personOf, type InstrumentFacts, type PersonFacts } from './houseFacts'
import type { SendMail } from './mailer'
import { roundsSettings } from './settings'

interface ReminderServices {
  readonly data: DataSource
  readonly desks: Desks
  readonly mail: SendMail | null
  readonly now: () => number
  /** How well the studio was kept last month, on one page. */
  readonly month: (first: string) => Promise<string>
}

const minute = 60_000
/** Wall time between two looks, ms. */
const lookMs = 20_000
/** Before somebody's day begins by so much, their tour is sent. */
const earlyMs = 30 * minute
/** Tries at one letter. */
const mostTries = 6
/** Runs that wait for hands which one letter names. */
const mostWaiting = 12

interface Letter {
  readonly kind: 'desk' | 'person' | 'head'
  readonly id: number
  readonly address: string
  readonly step: number
  readonly visits: readonly number[]
  readonly subject: string
  readonly text: string
}

/**
 * Reminds desks of visits before them, technicians of their tour, and heads of department once a month. Each letter is kept
 * with its day, so that nobody is told twice on one, whatever fails or starts anew in between.
 */
export class Reminders {
  private timer: NodeJS.Timeout | null = null
  private readonly looking = new WorkedOff('Reminders were looked at', async () => {
    await this.write()
    await this.send()
  })

  constructor(private readonly services: ReminderServices) {}

  start(): void {
    this.timer = setInterval(() => void this.look(), lookMs).unref()
  }

  async close(): Promise<void> {
    if (this.timer) clearInterval(this.timer)
    await this.looking.close()
  }

  /** One look, after whatever looks already. */
  look = (): Promise<void> => this.looking.soon()

  private async write(): Promise<void> {
    const { data, now } = this.services
    const { hours, heads } = await roundsSettings(data)
    const at = now()
    const today = localDate(at, hours.zone)
    const desk = deskOn(hours, today)
    for (const letter of [...(await this.toDesks(at, hours.zone, desk !== null)), ...(await this.tours(at, today))])
      await this.keep(letter, today)
    const first = `${today.slice(0, 8)}01`
    if (!heads.length || !desk || (await this.wasTold('head', first))) return
    // Figures that cannot be had keep no desk and no tour from being told.
    const months = await this.months(heads, first).catch((error: unknown) => {
      logFault('The month was told', error)
      return []
    })
    for (const letter of months) await this.keep(letter, today)
  }

  /** What desks are told today. */
  private async toDesks(at: number, zone: string, open: boolean): Promise<Letter[]> {
    const { data } = this.services
    const rows = await data.query<(Omit<RemindedVisit, 'answered'> & { workstationId: number; answered: number })[]>(
      `SELECT visit.id AS id, display_now.name AS display, visit.at AS at, (ends_at - visit.at) / 60000 AS minutes,
         answer IS NOT NULL AS answered, workstation_id AS workstationId
       FROM visit JOIN display_now ON display_now.display_id = visit.display_id
       WHERE visit.state = 'planned' AND told_at IS NOT NULL AND visit.at > ? AND visit.at < ? ORDER BY visit.at`,
      [at, at + 5 * 24 * 60 * minute],
    )
    const by = new Map<number, RemindedVisit[]>()
    for (const { workstationId, ...v } of rows)
      by.set(workstationId, [...(by.get(workstationId) ?? []), { ...v, answered: v.answered === 1 }])
    const letters: Letter[] = []
    for (const [workstationId, visits] of by) {
      const sent = await data.query<{ date: string; visits: string }[]>(
        `SELECT date, visits FROM reminder WHERE to_kind = 'desk' AND to_id = ? AND state <> 'failed' ORDER BY id DESC LIMIT 30`,
        [workstationId],
      )
      const told = deskReminder(
        visits,
        sent.map((s): SentReminder => ({ date: s.date, visits: JSON.parse(s.visits) as number[] })),
        { now: at, zone, open },
      )
      if (told)
        letters.push({
          kind: 'desk',
          id: workstationId,
          address: '',
          step: told.step,
          visits: told.visits.map((v) => v.id),
          subject: 'The displays of this desk',
          text: reminderText(told, zone).slice(0, 600),
        })
    }
    return letters
  }

  /** Tours of today, for those whose day begins. */
  private async tours(at: number, today: string): Promise<Letter[]> {
    const { data } = this.services
    const { hours } = await roundsSettings(data)
    const people = (await data.query<PersonFacts[]>(peopleQuery)).map(personOf).filter((p) => p.goes && p.mail)
    const letters: Letter[] = []
    const waiting = people.length ? await this.waitingForHands() : []
    for (const person of people) {
      const [shift] = workSpans(person.week, person.off, hours, { first: today, days: 1 })
      if (!shift || at < shift.from - earlyMs || (await this.wasTold('person', today, person.id))) continue
      const visits = await data.query<
        { id: number; at: number; kind: RunKind; label: string; display: string; room: string; instrumentId: number }[]
      >(
        `SELECT visit.id AS id, at, kind, visit.label AS label, display_now.name AS display, facts ->> 'room' AS room, instrument_id AS instrumentId
         FROM visit JOIN display_now ON display_now.display_id = visit.display_id
         WHERE visit.state = 'planned' AND person_id = ? AND at >= ? AND at < ? ORDER BY at`,
        [person.id, dayStart(today, hours.zone), dayStart(daysAfter(today, 1), hours.zone)],
      )
      if (!visits.length) continue
      const names = new Map((await data.query<InstrumentFacts[]>(instrumentsQuery)).map((i) => [i.id, i.name]))
      const bring = [...new Set(visits.map((v) => names.get(v.instrumentId) ?? 'an instrument'))]
      letters.push({
        kind: 'person',
        id: person.id,
        address: person.mail!,
        step: 0,
        visits: visits.map((v) => v.id),
        subject: `Your tour on ${dayWords(today)}: ${visits.length} ${visits.length === 1 ? 'display' : 'displays'}`,
        text: [
          `Bring ${bring.join(' and ')}.`,
          '',
          ...visits.map(
            (v) =>
              `${clockIn(v.at, hours.zone)}  ${v.display}, ${v.room}: ${runKinds[v.kind].label.toLowerCase()}${v.label ? ` of ${v.label}` : ''}`,
          ),
          ...(waiting.length ? ['', 'What waits for hands now:', ...waiting] : []),
          '',
          'Your tour in Bichroma: /rounds/tour',
        ].join('\n'),
      })
    }
    return letters
  }

  /** Runs that wait for somebody, the longest first, with what they say. */
  private async waitingForHands(): Promise<string[]> {
    const rows = await this.services.data.query<{ display: string; room: string; message: string | null }[]>(
      `SELECT display_now.name AS display, facts ->> 'room' AS room, message
       FROM run JOIN display_now ON display_now.display_id = run.display_id WHERE run.state IN ('running', 'waiting', 'interrupted') AND +run.state = 'waiting' ORDER BY run.id LIMIT ${mostWaiting}`,
    )
    return rows.map((r) => `${r.display}, ${r.room}: ${r.message ?? 'it waits for hands'}`)
  }

  private async months(heads: readonly string[], first: string): Promise<Letter[]> {
    const text = await this.services.month(first)
    return heads.map((address) => ({
      kind: 'head',
      id: 0,
      address,
      step: 0,
      visits: [],
      subject: `How well the displays were kept until ${dayWords(first)}`,
      text,
    }))
  }

  private async wasTold(kind: Letter['kind'], since: string, id = 0): Promise<boolean> {
    const [{ told }] = await this.services.data.query<[{ told: number }]>(
      'SELECT COUNT(*) AS told FROM reminder WHERE to_kind = ? AND to_id = ? AND date >= ?',
      [kind, id, since],
    )
    return told > 0
  }

  private async keep({ kind, id, address, step, visits, subject, text }: Letter, date: string): Promise<void> {
    await patiently(() =>
      atomically(this.services.data, (take) =>
        take(
          written(
            `INSERT INTO reminder (to_kind, to_id, address, date, step, visits, subject, text, state) VALUES (?, ?, ?, ?, ?, ?, ?, ?, 'due')
             ON CONFLICT DO NOTHING`,
            [kind, id, address, date, step, JSON.stringify(visits), subject, text],
          ),
        ),
      ),
    )
  }

  /** Sends what is due: desks by their couriers, people and heads by mail; what was not sent on its day is not sent after. */
  private async send(): Promise<void> {
    const { data, desks, mail, now } = this.services
    const { hours } = await roundsSettings(data)
    const today = localDate(now(), hours.zone)
    const set = (id: number, change: string, parameters: readonly unknown[]) =>
      patiently(() =>
        atomically(data, (take) => take(written(`UPDATE reminder SET ${change} WHERE id = ?`, [...parameters, id]))),
      )
    const due = await data.query<
      {
        id: number
        toKind: Letter['kind']
        address: string
        date: string
        subject: string
        text: string
        tries: number
      }[]
    >(
      `SELECT id, to_kind AS toKind, address, date, subject, text, tries FROM reminder WHERE state = 'due' ORDER BY id LIMIT 500`,
    )
    for (const letter of due) {
      if (this.looking.closed) return
      if (letter.date !== today && letter.toKind !== 'head')
        await set(letter.id, `state = 'failed', fault = ?`, ['its day passed'])
      else if (letter.toKind !== 'desk') {
        if (!mail) await set(letter.id, `state = 'failed', fault = ?`, ['no mail is set up'])
        else
          try {
            await mail(letter.address, letter.subject, letter.text)
            await set(letter.id, `state = 'sent', sent_at = ?`, [now()])
          } catch (error) {
            const last = letter.tries + 1 >= mostTries
            await set(letter.id, `tries = tries + 1, fault = ?, state = ?`, [
              (error as Error).message.slice(0, 300),
              last ? 'failed' : 'due',
            ])
          }
      }
    }
    await desks.tellAll()
  }
}
