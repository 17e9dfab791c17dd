import type { DataSource } from 'typeorm'
import { graceMs, localDate, type RoundsPlanned, type WhatIf } from '@bichroma/core/rounds'
import type { CourierHub } from '../couriers/hub'
import { atomically, insertion, written, type Take } from '../data/atomically'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import type { Ledger, Who } from '../ledger/ledger'
import { openVisits, roundPlanEntity, visitEntity, type RoundPlanRow, type VisitRow } from './entities'
import { makeRounds, roundsWhatIf, type MadeRounds, type PlanAsked } from './makeRounds'
import type { VisitPurpose } from './gather'
import { roundsSettings } from './settings'

/** Wall time that changes are gathered for before rounds are planned anew, and between two looks at what was missed, ms. */
const gatherMs = 400
const lookMs = 15_000
/** Plans that are worked out or wait for it. */
const mostJobs = 4
/** Visits that are stored in one go. */
const atOnce = 300
/** Plans that are kept. */
const mostPlans = 200

interface PlannerServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly threads: Threads
  readonly ledger: Ledger
  readonly now: () => number
  /** The plan or a visit changed. */
  readonly changed: () => void
  /** A new day has begun, or the first look was made. */
  readonly dayBegan: () => void
  /** What nobody comes for begins. */
  readonly beginHung: () => Promise<void>
}

/** The plan that counts: the newest. */
export const newestPlan = (data: DataSource): Promise<RoundPlanRow | null> =>
  data.getRepository(roundPlanEntity).findOne({ where: {}, order: { id: 'DESC' } })

/**
 * Makes rounds, and makes them anew as visits are missed, turn out otherwise, or a day ends: what people were told moves as
 * little as can be. Planning is done beside everything else; what changed meanwhile stands, and is planned anew.
 */
export class RoundsPlanner {
  private working: Promise<unknown> = Promise.resolve()
  private jobs = 0
  private timer: NodeJS.Timeout | null = null
  private looking: NodeJS.Timeout | null = null
  private closed = false
  private today = ''

  constructor(private readonly services: PlannerServices) {}

  start(): void {
    this.looking = setInterval(() => void this.look(), lookMs).unref()
    // What was cut short when the server ended is made anew.
    this.soon()
  }

  async close(): Promise<void> {
    this.closed = true
    if (this.timer) clearTimeout(this.timer)
    if (this.looking) clearInterval(this.looking)
    await this.working.catch(() => {})
  }

  /** It is being worked out. */
  get busy(): boolean {
    return this.jobs > 0
  }

  /** Plans so many days from today, and stores it. Throws what planning throws. */
  make(days: number, who: Who): Promise<void> {
    if (this.jobs >= mostJobs)
      return Promise.reject(new Refusal('too-many', 'Rounds are being planned already. Wait until that is done.'))
    return this.queued(async () => {
      const made = await this.services.threads.run(makeRounds, this.asked(days))
      if (this.closed) return
      const again = await this.store(made, who)
      if (again) this.soon()
    })
  }

  /** Plans anew in a moment, once for all that changed until then; where nothing was planned yet, nothing is. */
  soon(): void {
    if (this.timer || this.closed) return
    this.timer = setTimeout(() => {
      this.timer = null
      void this.again()
    }, gatherMs).unref()
  }

  /** Plans anew what was planned, if anything was. */
  async again(): Promise<void> {
    try {
      const plan = await newestPlan(this.services.data)
      // What waits already knows of it.
      if (plan && !this.closed && this.jobs < mostJobs) await this.make(plan.days, 'Bichroma')
    } catch (error) {
      if (!this.closed) logFault('Rounds were planned anew', error)
    }
  }

  /** What one thing more would come to. */
  whatIf(days: number): Promise<WhatIf[]> {
    return this.services.threads.run(roundsWhatIf, this.asked(days))
  }

  /** Whoever did not come has missed it; a new day has a plan of its own. */
  async look(): Promise<void> {
    const { data, now, changed, dayBegan } = this.services
    try {
      const today = localDate(now(), (await roundsSettings(data)).hours.zone)
      if (today !== this.today) dayBegan()
      this.today = today
      const plan = await newestPlan(data)
      if (!plan || this.closed) return
      await this.services.beginHung()
      const missed = await patiently(() =>
        atomically(data, (take) => {
          const late = now() - graceMs
          take(
            written(
              `UPDATE visit SET state = 'missed', ended_at = ? WHERE state = 'planned' AND at < ?
                 AND COALESCE(told_at, at) < ?`,
              [now(), late, late],
            ),
          )
          return changesOf(data)
        }),
      )
      if (missed) changed()
      if (missed || today !== plan.first) await this.again()
    } catch (error) {
      if (!this.closed) logFault('Rounds looked around', error)
    }
  }

  private asked(days: number): PlanAsked {
    const { data, hub, now } = this.services
    return { file: String(data.options.database), now: now(), days, plugged: hub.pluggedInstruments() }
  }

  private queued(work: () => Promise<void>): Promise<void> {
    this.jobs++
    const done = this.working.then(work).finally(() => {
      this.jobs--
      if (!this.closed) this.services.changed()
    })
    this.working = done.catch(() => {})
    return done
  }

  /** Stores a plan; whether something of it has changed since it was begun. */
  private async store(made: MadeRounds, who: Who): Promise<boolean> {
    const { data, ledger, now } = this.services
    const rows = await data
      .getRepository(visitEntity)
      .createQueryBuilder('v')
      .where(`v.state IN ${openVisits}`)
      .getMany()
    const open = new Map(rows.map((v) => [v.displayId, v]))
    const given = new Map(made.given.map((v) => [v.displayId, v]))
    const purposes = new Map(made.purposes.map((p) => [p.displayId, p]))
    let again = false
    /** What was begun, moved or told meanwhile stays as it is now. */
    const isAsGiven = (displayId: number) => {
      const row = open.get(displayId)
      const same = row ? isSame(row, given.get(displayId)) : !isKept(given.get(displayId))
      again ||= !same
      return same
    }
    const at = now()
    const changes: ((take: Take) => void)[] = []
    const put = (displayId: number, change: Partial<VisitRow>) => {
      if (!isAsGiven(displayId)) return
      const row = open.get(displayId)
      if (row?.state === 'begun') return
      const { dueAt, dueBy, kind, slot, label, options, attended } = purposes.get(displayId) as VisitPurpose
      const next = { ...nothing, dueAt, dueBy, kind, slot, label, options: [...options], attended, ...change }
      if (!row) changes.push((take) => take(inserted({ ...nobodyTold, ...next, displayId, madeAt: at } as VisitRow)))
      else if (differs(row, next)) changes.push((take) => take(updated(row, next)))
    }
    for (const v of made.planned) put(v.displayId, { state: 'planned', ...timesOf(v) })
    for (const { displayId, why, reliefs } of made.unplanned)
      put(displayId, { state: 'unplanned', whyNot: why, reliefs: [...reliefs] })
    for (const row of rows)
      if (!given.has(row.displayId) && row.state !== 'begun')
        changes.push((take) =>
          take(
            written(`UPDATE visit SET state = 'dropped', reason = NULL, ended_at = ? WHERE id = ? AND ${asItWas}`, [
              at,
              row.id,
              ...wasOf(row),
            ]),
          ),
        )
    const { first, days, from, until, walk, load } = made
    const plan = {
      madeAt: at,
      by: who === 'Bichroma' ? who : who.name,
      first,
      days,
      fromAt: from,
      untilAt: until,
      walk: Math.round(walk),
      load,
    }
    // A large plan in parts, so that others are answered in between: each visit is whole by itself, what changes meanwhile
    // stays, and one that is cut short is made anew when the server starts again.
    while (changes.length > atOnce) {
      const part = changes.splice(0, atOnce)
      await patiently(() => atomically(data, (take) => part.forEach((change) => change(take))))
      await new Promise((resolve) => setImmediate(resolve))
      if (this.closed) return false
    }
    const write = (take: Take) => {
      for (const change of changes) change(take)
      const id = take(insertion(data.manager, roundPlanEntity, plan))
      take(written('DELETE FROM round_plan WHERE id <= ?', [id - mostPlans]))
      return id
    }
    // What follows by itself is told where it moves what people were told; who asked for a plan is told of in any case.
    if (who === 'Bichroma' && made.moved === 0) await patiently(() => atomically(data, write))
    else
      await patiently(() =>
        ledger.change(who, write, (id) => ({
          act: 'planned',
          thing: 'rounds',
          id,
          name: `${days} ${days === 1 ? 'day' : 'days'} from ${first}`,
          evidence: { planned: made.planned.length, unplanned: made.unplanned.length, moved: made.moved },
        })),
      )
    return again
  }
}

const changesOf = (data: DataSource): number =>
  (
    data.driver as unknown as { databaseConnection: { prepare(sql: string): { pluck(): { get(): number } } } }
  ).databaseConnection
    .prepare('SELECT changes()')
    .pluck()
    .get()

/** What a visit has of a plan before it is planned. */
const nothing = {
  personId: null,
  instrumentId: null,
  wakeAt: null,
  at: null,
  readyAt: null,
  takeDownAt: null,
  endsAt: null,
  whyThen: null,
  whyInstrument: null,
  besides: 0,
  sharing: 0,
  late: 0,
  whyNot: null,
  reliefs: [],
} satisfies Partial<VisitRow>
const nobodyTold = {
  pinned: false,
  notBefore: null,
  toldPersonId: null,
  toldInstrumentId: null,
  toldAt: null,
  runId: null,
  reason: null,
  endedAt: null,
  sequence: 0,
  changedAt: 0,
  answer: null,
  answeredAt: null,
} satisfies Partial<VisitRow>

/** Columns of a visit by their names in the store; TypeORM’s builders would take a second for a large plan. */
const columnsOf = visitEntity.options.columns
const stored = (value: unknown) =>
  typeof value === 'boolean'
    ? Number(value)
    : value !== null && typeof value === 'object'
      ? JSON.stringify(value)
      : value
const nameOf = (field: string) => columnsOf[field as keyof VisitRow]!.name ?? field

const inserted = (row: Partial<VisitRow>) => {
  const fields = Object.keys(row)
  return written(
    `INSERT OR IGNORE INTO visit (${fields.map(nameOf).join(', ')}) VALUES (${fields.map(() => '?').join(', ')})`,
    fields.map((f) => stored(row[f as keyof VisitRow])),
  )
}
/** A visit that nobody has begun, moved or told since it was read. */
const asItWas = `state IN ('planned', 'unplanned') AND pinned = ? AND at IS ? AND told_at IS ?`
const wasOf = ({ pinned, at, toldAt }: VisitRow) => [Number(pinned), at, toldAt]

const updated = (row: VisitRow, change: Partial<VisitRow>) => {
  const fields = Object.keys(change)
  return written(`UPDATE visit SET ${fields.map((f) => `${nameOf(f)} = ?`).join(', ')} WHERE id = ? AND ${asItWas}`, [
    ...fields.map((f) => stored(change[f as keyof VisitRow])),
    row.id,
    ...wasOf(row),
  ])
}

const timesOf = ({ displayId: _, reliefs, ...planned }: RoundsPlanned) => ({ ...planned, reliefs: [...reliefs] })

const isKept = (given: MadeRounds['given'][number] | undefined) =>
  Boolean(given && (given.pinned || given.told || given.begun))

/** Whether a row still says what a plan was given of it. */
function isSame(row: VisitRow, given: MadeRounds['given'][number] | undefined): boolean {
  if (!given) return !row.pinned && row.toldAt === null && row.state !== 'begun'
  const isPinned = (row.pinned || row.state === 'begun') && row.at !== null
  return (
    (row.state === 'begun') === given.begun &&
    (isPinned ? row.at : null) === (given.pinned?.at ?? null) &&
    (isPinned ? row.personId : null) === (given.pinned?.personId ?? null) &&
    row.toldAt === (given.told?.at ?? null)
  )
}

const differs = (row: VisitRow, next: Partial<VisitRow>): boolean =>
  Object.entries(next).some(([field, value]) => JSON.stringify(row[field as keyof VisitRow]) !== JSON.stringify(value))
