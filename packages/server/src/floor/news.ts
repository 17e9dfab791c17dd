import type { DataSource } from 'typeorm'
import type { FleetNews } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { logFault } from '../data/log'
import type { Events } from '../http/events'
import { workstationsOf } from '../register/workstations'
import { rolloutOf } from '../rollout/listRollout'
import type { RunEngine } from '../runs/engine/engine'
import { runsByIds } from '../runs/summaries'
import { displaysSince, newestChange } from './displayNow'
import { pulseOf } from './pulse'
import type { Standings } from './standings'

/** Wall time that changes are gathered for before they are told, ms, and the least between two that are told. */
const gatherMs = 80
const leastMs = 400
/** Displays, workstations or runs up to which each is told of; of more, browsers ask for what they show. */
const mostTold = 60

/** What browsers ask for again when they are not told each change. */
const everything = ['couriers', 'runs', 'rollout', 'drift'] as const

interface NewsServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly engine: RunEngine
  readonly events: Events
  readonly standings: Standings
  readonly now: () => number
}

/**
 * Tells every browser what became of displays, workstations and runs: what changed is worked out once, for all of them,
 * and not asked for by each. Which displays changed is read off display_now itself, so that nobody has to say so.
 */
export class FloorNews {
  /** The newest change that was told. */
  private told = 0
  private readonly workstations = new Set<number>()
  private readonly runs = new Set<number>()
  private timer: NodeJS.Timeout | null = null
  private lastTold = 0
  private closed = false
  private working: Promise<void> = Promise.resolve()

  constructor(private readonly services: NewsServices) {}

  /** From now on; what is there already is known to whoever asks. */
  async start(): Promise<void> {
    this.told = await newestChange(this.services.data)
  }

  /** A workstation's courier came or went. */
  courier(workstationId: number): void {
    this.workstations.add(workstationId)
    this.changed()
  }

  run(id: number): void {
    this.runs.add(id)
    this.changed()
  }

  /** Something changed that displays tell of. */
  changed(): void {
    if (this.timer || this.closed) return
    const wait = Math.max(gatherMs, this.lastTold + leastMs - Date.now())
    this.timer = setTimeout(() => {
      this.timer = null
      this.lastTold = Date.now()
      // One after another, so that nothing older is told after something newer.
      this.working = this.working
        .then(() => this.tell())
        .catch((error: unknown) => {
          logFault('What changed was told', error)
          // What could not be told is asked for.
          this.services.events.changedMuch(...everything)
        })
    }, wait).unref()
  }

  async close(): Promise<void> {
    this.closed = true
    if (this.timer) clearTimeout(this.timer)
    await this.working
  }

  private async tell(): Promise<void> {
    const { data, hub, engine, events, standings, now } = this.services
    const workstations = [...this.workstations]
    const runs = [...this.runs]
    this.workstations.clear()
    this.runs.clear()
    const since = this.told
    this.told = await newestChange(data)
    if (!events.heard) return
    const at = now()
    const displays = await displaysSince(data, hub, { seq: since, workstations, most: mostTold + 1 }, at)
    if (Math.max(displays.length, workstations.length, runs.length) > mostTold) return events.changedMuch(...everything)
    const { rooms, ...floor } = await standings.floor(at)
    const changed = new Set(displays.map((d) => d.roomId))
    const news: FleetNews = {
      displays,
      rollout: await rolloutOf(
        data,
        hub,
        displays.map((d) => d.id),
      ),
      workstations: await workstationsOf(data, hub, workstations),
      runs: (await runsByIds(data, runs)).map((run) => engine.asItStands(run)),
      rooms: rooms.filter((r) => changed.has(r.id)),
      floor,
      pulse: await pulseOf(data, hub, engine, at),
    }
    events.send({ type: 'news', ...news })
  }
}
