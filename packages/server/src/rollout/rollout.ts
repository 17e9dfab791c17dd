import { judgeBinding } from '@bichroma/core/rollout'
import type { DataSource } from 'typeorm'
import { In, Not } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import { profileFileName } from '@bichroma/core/profiles'
import { CourierGone, DeviceRefusal, type CourierHub } from '../couriers/hub'
import { Refusal } from '../http/problem'
import { logFault } from '../data/log'
import type { Ledger } from '../ledger/ledger'
import { atomically, insertion } from '../data/atomically'
import { displayEntity, workstationEntity } from '../register/entities'
import { runEntity } from '../runs/entities'
import { subjectOf } from '../runs/profile/fileProfile'
import { studioSettings } from '../studio/settings'
import { placementEntity, type PlacementRow } from './entities'

/** Places profiles, and says of each placement only what the courier read back. */
export class Rollout {
  /** Workstations being worked on, so that two looks at one do not cross. */
  private readonly working = new Map<number, Promise<void>>()

  constructor(
    private readonly data: DataSource,
    private readonly hub: CourierHub,
    private readonly ledger: Ledger,
    private readonly now: () => number,
    private readonly changed: () => void,
  ) {}

  private get placements() {
    return this.data.getRepository(placementEntity)
  }

  /** Queues the profile of a run for its display's workstation, in place of what was placed before. */
  async place(runId: number, account: { id: number; name: string }): Promise<number> {
    const run = await this.data.getRepository(runEntity).findOneBy({ id: runId })
    if (!run) throw new Refusal('not-found', `There is no run ${runId}.`, 'runId')
    if (run.state !== 'done' || !run.profileHash || !run.profileName)
      throw new Refusal(
        'conflict',
        'This run filed no profile; full runs and refreshes that reach their end do.',
        'runId',
      )
    if (run.withdrawnAt !== null)
      throw new Refusal('conflict', 'This validation was withdrawn, so its profile is not placed.', 'runId')
    const display = await this.data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
    const settings = await studioSettings(this.data)
    // One name for display and slot, so that the new file takes the place of the old; or the run's own, with its date.
    const wanted =
      settings.placing === 'overwrite'
        ? profileFileName(settings.profileName, subjectOf(run, display, run.summary?.at ?? run.startedAt), true)
        : run.profileName
    const fileName = await this.ownFileName(wanted, display)
    const id = atomically(this.data, (take) => {
      take(
        this.placements
          .createQueryBuilder()
          .update()
          .set({ state: 'withdrawn', message: 'Another profile took its place.' })
          .where({ displayId: display.id, state: Not('withdrawn') }),
      )
      const placed = take(
        insertion(this.data.manager, placementEntity, {
          displayId: display.id,
          workstationId: display.workstationId,
          runId,
          profileHash: run.profileHash!,
          fileName,
          description: `${run.label}, slot ${run.slot}, ${formatDate(run.summary?.at ?? run.startedAt)}`,
          scope: 'machine',
          state: 'queued',
          requestedAt: this.now(),
          accountId: account.id,
          placedAt: null,
          verifiedAt: null,
          path: null,
          message: this.hub.helloOf(display.workstationId) ? null : 'It waits for the courier of the workstation.',
        }),
      )
      take(
        this.ledger.entry(account, {
          act: 'placed',
          thing: 'placement',
          id: placed,
          name: `${fileName} for ${display.name}`,
          evidence: { display: display.id, run: runId, sha256: run.profileHash },
        }),
      )
      return placed
    })
    this.changed()
    void this.attend(display.workstationId)
    return id
  }

  /**
   * The name of a display's profile in its workstation's folder: one that another display has had there is told apart by
   * the display's number, for two names may come to the same letters, or to none.
   */
  private async ownFileName(wanted: string, { id, workstationId }: { id: number; workstationId: number }) {
    const taken = await this.placements.find({
      select: { id: true, fileName: true },
      where: { workstationId, displayId: Not(id) },
    })
    const isTaken = taken.some((p) => p.fileName.toLowerCase() === wanted.toLowerCase())
    return isTaken ? wanted.replace(/\.icc$/, `-d${id}.icc`) : wanted
  }

  /** Reads back what a placement's workstation has in force. Throws Refusal when its courier is away. */
  async verify(id: number, account: { id: number; name: string }): Promise<void> {
    const placement = await this.placements.findOneBy({ id })
    if (!placement) throw new Refusal('not-found', `There is no placement ${id}.`)
    if (!this.hub.helloOf(placement.workstationId)) {
      const { name } = await this.data.getRepository(workstationEntity).findOneByOrFail({ id: placement.workstationId })
      throw new Refusal('conflict', `The courier on ${name} is not connected. Start it, then verify again.`)
    }
    this.ledger.note(account, { act: 'verified', thing: 'placement', id, name: placement.fileName })
    await this.attend(placement.workstationId)
  }

  /** Works off what is queued for a workstation and reads back the rest; later calls wait for earlier ones. */
  attend(workstationId: number): Promise<void> {
    const next = (this.working.get(workstationId) ?? Promise.resolve())
      .then(() => this.work(workstationId))
      .catch((error: unknown) => {
        if (!(error instanceof CourierGone || error instanceof DeviceRefusal))
          logFault(`Placements of workstation ${workstationId}`, error)
      })
    this.working.set(workstationId, next)
    return next
  }

  private async work(workstationId: number) {
    if (!this.hub.helloOf(workstationId)) return
    for (const placement of await this.placements.findBy({ workstationId, state: 'queued' })) await this.send(placement)
    const open = await this.placements.findBy({ workstationId, state: Not(In(['withdrawn', 'queued'])) })
    if (!open.length) return
    const { bindings } = (await this.hub.send(workstationId, 'host.listInForce', {})).value
    for (const placement of open) {
      const { serial } = await this.data.getRepository(displayEntity).findOneByOrFail({ id: placement.displayId })
      await this.update(placement.id, {
        ...judgeBinding(
          placement,
          bindings.find((b) => b.serial === serial),
        ),
        verifiedAt: this.now(),
      })
    }
  }

  private async send(placement: PlacementRow): Promise<void> {
    const { serial } = await this.data.getRepository(displayEntity).findOneByOrFail({ id: placement.displayId })
    try {
      const { value } = await this.hub.send(placement.workstationId, 'host.placeProfile', {
        display: serial,
        hash: placement.profileHash,
        fileName: placement.fileName,
        scope: placement.scope,
      })
      await this.update(placement.id, {
        state: 'placed',
        placedAt: this.now(),
        path: value.path,
        message: 'The courier wrote it; it has not been read back yet.',
      })
    } catch (error) {
      if (error instanceof DeviceRefusal && error.kind === 'privilege' && placement.scope === 'machine') {
        // Without administrator rights the user's own scope is what there is; the display is the same.
        await this.update(placement.id, { scope: 'user' })
        return this.send({ ...placement, scope: 'user' })
      }
      const message =
        error instanceof DeviceRefusal
          ? error.sentence
          : 'The courier went away; it is sent again when the courier is back.'
      await this.update(placement.id, { message })
      // A refusal is this placement's own; the workstation's others are still sent.
      if (!(error instanceof DeviceRefusal)) throw error
    }
  }

  private async update(id: number, change: Partial<PlacementRow>) {
    await this.placements.update({ id }, change)
    this.changed()
  }

  /** Lets work in progress end. */
  async close(): Promise<void> {
    await Promise.all(this.working.values())
  }
}
