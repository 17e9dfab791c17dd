import { isWithinNight } from '@bichroma/core/rounds'
import type { DataSource } from 'typeorm'
import type { CourierHub } from '../../couriers/hub'
import { Refusal } from '../../http/problem'
import { logFault } from '../../data/log'
import { displayEntity, instrumentEntity, workstationEntity } from '../../register/entities'
import type { Holds } from '../../register/holds'
import { studioSettings } from '../../studio/settings'
import { runEntity, type RunRow } from '../entities'
import { isHeld, isQueued } from '../heldByRuns'
import { heldByLight, type RoomLights } from '../roomLight'
import { localMinute } from './localMinute'
import { heldInstruments, pluggedInstruments } from './pickInstrument'

/** Wall time after which the queue is looked at again though nothing happened, ms: the night begins by itself. */
const lookEveryMs = 30_000

interface QueueServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly holds: Holds
  readonly lights: RoomLights
  readonly now: () => number
}

/** What a queued run waits for, or the instrument with which it can begin. */
type Turn = { waitsFor: string } | { instrumentId: number }

/** Runs that wait for their turn: begun in the order in which they were put there, each as soon as nothing is in its way. */
export class RunQueue {
  private looking: Promise<void> = Promise.resolve()
  private closed = false
  private readonly beat = setInterval(() => void this.look(), lookEveryMs).unref()

  constructor(
    private readonly services: QueueServices,
    /** Begins a stored run, whose row holds display and instrument from then on. */
    private readonly begin: (run: RunRow) => Promise<void>,
    private readonly changed: (runId: number) => void,
  ) {}

  /** Looks at every queued run once; looks that are asked for meanwhile come after it. */
  look(): Promise<void> {
    this.looking = this.looking
      .then(() => this.lookOnce())
      .catch((error: unknown) => {
        if (!this.closed) logFault('The queue was looked at', error)
      })
    return this.looking
  }

  private async lookOnce() {
    if (this.closed) return
    const runs = this.services.data.getRepository(runEntity)
    for (const run of await runs.find({ where: { state: isQueued() }, order: { id: 'ASC' } })) {
      if (this.closed) return
      const turn = await this.turnOf(run)
      if ('instrumentId' in turn) {
        const begun = {
          ...run,
          state: 'running' as const,
          instrumentId: turn.instrumentId,
          message: null,
          startedAt: this.services.now(),
        }
        // Somebody may have taken it out of the queue meanwhile, or display or instrument in this very moment.
        if (await this.takeTurn(begun)) await this.begin(begun)
      } else if (turn.waitsFor !== run.message) {
        await runs.update({ id: run.id, state: 'queued' }, { message: turn.waitsFor })
        this.changed(run.id)
      }
    }
  }

  /** Stores that a run has begun; false when it is not queued any more, or display or instrument are taken. */
  private async takeTurn({ id, state, displayId, instrumentId, startedAt }: RunRow): Promise<boolean> {
    const { data, holds } = this.services
    try {
      const { affected } = await holds.during({ displayId, instrumentIds: [instrumentId] }, () =>
        data
          .getRepository(runEntity)
          .update({ id, state: 'queued' }, { state, instrumentId, message: null, startedAt }),
      )
      return affected !== 0
    } catch (error) {
      if (error instanceof Refusal || (error as Error).message.includes('UNIQUE')) return false
      throw error
    }
  }

  private async turnOf(run: RunRow): Promise<Turn> {
    const { data, hub, now } = this.services
    const display = await data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
    const { name } = await data.getRepository(workstationEntity).findOneByOrFail({ id: display.workstationId })
    if (await data.getRepository(runEntity).existsBy({ displayId: display.id, state: isHeld() }))
      return { waitsFor: `It waits for the run on ${display.name} to end.` }
    const { night } = await studioSettings(data)
    if (run.begins === 'night' && !isWithinNight(localMinute(now()), night))
      return { waitsFor: `It waits for the night, from ${night.from} to ${night.to}.` }
    const dim = await heldByLight(this.services.lights, run, display)
    if (dim) return { waitsFor: `It waits for light. ${dim.sentence}` }
    if (!hub.helloOf(display.workstationId)) return { waitsFor: `It waits for the courier on ${name}.` }
    const there = await pluggedInstruments(data, hub, display.workstationId)
    const plugged = run.onlyWith ? there.filter((i) => i.id === run.instrumentId) : there
    if (!plugged.length && run.onlyWith) {
      const { model, serial } = await data.getRepository(instrumentEntity).findOneByOrFail({ id: run.instrumentId })
      return { waitsFor: `It waits for hands: plug ${model} ${serial} into ${name} and hang it on ${display.name}.` }
    }
    if (!plugged.length)
      return { waitsFor: `It waits for hands: plug an instrument into ${name} and hang it on ${display.name}.` }
    const held = await heldInstruments(data)
    const free =
      plugged.find((i) => i.id === run.instrumentId && !held.includes(i.id)) ??
      plugged.find((i) => !held.includes(i.id))
    if (!free) return { waitsFor: `It waits for ${plugged[0].model} ${plugged[0].serial}, which is in a run.` }
    if (run.begins === 'night') {
      const facts = await hub.send(display.workstationId, 'host.facts', {}).catch(() => null)
      const idle = facts?.value.idleMinutes ?? null
      if (idle !== null && idle < night.idleMinutes)
        return { waitsFor: `It waits for ${name} to be left alone for ${night.idleMinutes} minutes.` }
    }
    return { instrumentId: free.id }
  }

  async close(): Promise<void> {
    this.closed = true
    clearInterval(this.beat)
    await this.looking
  }
}
