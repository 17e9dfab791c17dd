import type { DataSource } from 'typeorm'
import type { StartRun } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import type { ContentStore } from '../data/contents'
import { logFault } from '../data/log'
import type { Api } from '../http/api'
import type { Threads } from '../http/threads'
import type { Ledger } from '../ledger/ledger'
import type { RunRow } from '../runs/entities'
import { deskRoutes } from './deskRoutes'
import { Desks } from './desks'
import { DueKeeper } from './dueKeeper'
import { dueRoutes } from './dueRoutes'
import { houseRoutes } from './houseRoutes'
import { KeptFigures } from './kept'
import { linkRoutes } from './linkRoutes'
import { linkSecret, OpenLinks } from './links'
import { openedBy } from './opened'
import { mailer, type MailOptions } from './mailer'
import { RoundsPlanner } from './planner'
import { Reminders } from './reminders'
import { roundsRoutes } from './routes'
import { Visits } from './visits'
import { wakeDisplays } from './wakeDisplays'

interface RoundsServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly contents: ContentStore
  readonly threads: Threads
  readonly ledger: Ledger
  readonly now: () => number
  /** Folder of everything that is kept. */
  readonly folder: string
  readonly mail: MailOptions | undefined
  readonly startRun: (input: StartRun, who: { id: number; name: string }) => Promise<number>
  /** Something of rounds changed. */
  readonly changed: () => void
  /** Due lines changed. */
  readonly dueChanged: () => void
}

/** All of rounds: what falls due, the plan and its visits, links and desks, reminders, and how well it was kept. */
export class Rounds {
  readonly planner: RoundsPlanner
  readonly due: DueKeeper
  readonly reminders: Reminders
  private readonly visits: Visits
  private readonly links: OpenLinks
  private readonly desks: Desks
  private readonly kept: KeptFigures

  constructor(private readonly services: RoundsServices) {
    const { data, hub, threads, ledger, now, folder, mail, startRun, dueChanged } = services
    const changed = () => this.changed()
    this.links = new OpenLinks(data, now, linkSecret(folder))
    this.desks = new Desks({ data, hub, links: this.links, now })
    this.kept = new KeptFigures({ data, threads, now })
    this.due = new DueKeeper(data, now, () => {
      dueChanged()
      this.replan()
    })
    this.planner = new RoundsPlanner({
      data,
      threads,
      ledger,
      now,
      changed,
      dayBegan: () => this.due.soon(),
      beginHung: () => this.visits.beginHung(),
      wake: () => wakeDisplays({ data, hub, now, changed }),
    })
    this.visits = new Visits({ data, ledger, planner: this.planner, now, startRun, changed })
    this.reminders = new Reminders({ data, desks: this.desks, mail: mailer(mail), now, month: this.kept.month })
  }

  routes(api: Api): void {
    const { data, contents, ledger, now } = this.services
    const { planner, visits, links } = this
    const changed = () => this.changed()
    this.kept.routes(api)
    const opened = openedBy(links)
    linkRoutes(api, { data, ledger, links, opened, now })
    deskRoutes(api, { data, contents, ledger, links, opened, planner, visits, now, changed })
    dueRoutes(api, { data, ledger, now, keeper: this.due })
    houseRoutes(api, {
      data,
      ledger,
      now,
      changed: () => {
        this.due.soon()
        this.replan()
      },
    })
    roundsRoutes(api, { data, planner, visits, now })
  }

  /** A courier has come. */
  attend(workstationId: number): void {
    this.desks.attend(workstationId)
  }

  /** A run was judged; what fails is written down, and undoes nothing. */
  async judged(run: RunRow): Promise<void> {
    this.due.soon()
    await this.visits.judged(run).catch((error: unknown) => logFault(`The visit of run ${run.id} ends`, error))
  }

  /** A run stands otherwise. */
  runChanged(runId: number): void {
    this.visits.runChanged(runId).catch((error: unknown) => logFault(`The visit of run ${runId} follows it`, error))
  }

  /** After a restart. */
  takeStock = () => this.visits.takeStock()

  start(): void {
    this.planner.start()
    this.reminders.start()
    void this.due.apply()
  }

  async close(): Promise<void> {
    await this.planner.close()
    await this.reminders.close()
    await this.desks.close()
    await this.due.close()
  }

  private changed(): void {
    this.services.changed()
    this.desks.soon()
  }

  /** What visits follow from changed: they are planned anew in a moment. */
  replan(): void {
    this.changed()
    this.planner.soon()
  }

  /** A room's light is out of what is wanted for too long, or back: its desks are told. */
  lightTurned(): void {
    this.desks.soon()
  }
}
