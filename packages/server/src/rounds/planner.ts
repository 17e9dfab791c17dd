import type { DataSource } from 'typeorm'
import { graceMs, localDate, type WhatIf } from '@bichroma/core/rounds'
import { atomically, changesMade, written } from '../data/atomically'
import { Gathered } from '../data/gathered'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import type { Ledger, Who } from '../ledger/ledger'
import { roundPlanEntity, type RoundPlanRow } from './entities'
import { makeRounds, roundsWhatIf, type PlanAsked } from './makeRounds'
import { roundsSettings } from './settings'
import { storePlan } from './storePlan'

/** Wall time that changes are gathered for before rounds are planned anew, and between two looks at what was missed, ms. */
const gatherMs = 400
const lookMs = 15_000
/** Plans that are worked out or wait for it. */
const mostJobs = 4

interface PlannerServices {
  readonly data: DataSource
  readonly threads: Threads
  readonly ledger: Ledger
  readonly now: () => number
  /** The plan or a visit changed. */
  readonly changed: () => void
  /** A new day has begun, or the first look was made. */
  readonly dayBegan: () => void
  /** What nobody comes for begins. */
  readonly beginHung: () => Promise<void>
  /** Displays are woken that somebody comes to soon. */
  readonly wake: () => Promise<void>
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
  private readonly gathered = new Gathered(
    () => this.again(),
    () => gatherMs,
  )
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
    this.gathered.close()
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
      const { data, ledger, now } = this.services
      const again = await storePlan({ data, ledger, now, ended: () => this.closed }, made, who)
      if (again) this.soon()
    })
  }

  /** Plans anew in a moment, once for all that changed until then; where nothing was planned yet, nothing is. */
  soon(): void {
    this.gathered.soon()
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
      await this.services.wake()
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
          return changesMade(data)
        }),
      )
      if (missed) changed()
      if (missed || today !== plan.first) await this.again()
    } catch (error) {
      if (!this.closed) logFault('Rounds looked around', error)
    }
  }

  private asked(days: number): PlanAsked {
    const { data, now } = this.services
    return { file: String(data.options.database), now: now(), days }
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
}
