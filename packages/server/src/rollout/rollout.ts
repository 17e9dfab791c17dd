import type { DataSource } from 'typeorm'
import { IsNull, LessThanOrEqual } from 'typeorm'
import { standingOf, usualRules } from '@bichroma/core/rollout'
import { CourierGone, DeviceRefusal, type CourierHub } from '../couriers/hub'
import { written } from '../data/atomically'
import { logFault } from '../data/log'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { workstationEntity } from '../register/entities'
import { placementEntity } from './entities'
import { putBack, switchBack } from './keepInForce'
import { displaysSought, foundNow, recordFound, type ReadBack, type SoughtDisplay } from './recordFound'
import { sendPlacement } from './sendPlacement'
import { keepNote, removeOldFiles, rulesOf, setRight } from './upkeep'
import { Agreements } from './agreements'

export interface RolloutServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly ledger: Ledger
  readonly now: () => number
  /** Something changed that displays tell of. */
  readonly changed: () => void
  /** Something became of placements: waves look at themselves, and what policies ask for is worked out. */
  readonly moved: () => void
}

/** Workstations that are attended at the same time. */
const mostAtOnce = 24
/** Looks at one workstation in a row, while each finds something to do. */
const mostLooks = 4

/** Places profiles, keeps them in force by policy, and says of each only what was read back. */
export class Rollout {
  /** Workstations being looked at, and those that are to be looked at once more after that. */
  private readonly working = new Map<number, Promise<void>>()
  private readonly again = new Set<number>()
  /** When each was looked at last. */
  private readonly lookedAt = new Map<number, number>()
  private readonly lines: (() => void)[] = []
  private busy = 0
  private closed = false

  readonly agreements: Agreements

  constructor(private readonly services: RolloutServices) {
    this.agreements = new Agreements(services, (workstations) => this.tend(workstations))
  }

  private get data() {
    return this.services.data
  }

  private get placements() {
    return this.data.getRepository(placementEntity)
  }

  /** Workstations of which something was agreed to. */
  tend(workstations: readonly number[]): void {
    this.services.changed()
    this.services.moved()
    for (const id of new Set(workstations)) void this.attend(id)
  }

  /** Reads back what a placement's workstation has in force. Throws Refusal when its courier is away. */
  async verify(id: number, account: { id: number; name: string }): Promise<void> {
    const placement = await this.placements.findOneBy({ id })
    if (!placement) throw new Refusal('not-found', `There is no placement ${id}.`)
    const { workstationId } = placement
    if (!this.services.hub.helloOf(workstationId)) {
      const { name } = await this.data.getRepository(workstationEntity).findOneByOrFail({ id: workstationId })
      throw new Refusal('conflict', `The courier on ${name} is not connected. Start it, then verify again.`)
    }
    this.services.ledger.change(
      account,
      // Somebody looks: whatever waits for a later try is tried now.
      (take) =>
        take(
          written(`UPDATE placement SET next_try_at = NULL WHERE workstation_id = ? AND state = 'queued'`, [
            workstationId,
          ]),
        ),
      () => ({ act: 'verified', thing: 'placement', id, name: placement.fileName ?? placement.description }),
    )
    await this.attend(workstationId)
  }

  /** Works off what is queued for a workstation and reads back; a call while it is looked at means one look more after it. */
  attend(workstationId: number): Promise<void> {
    const before = this.working.get(workstationId)
    if (before) {
      if (this.again.has(workstationId)) return before
      this.again.add(workstationId)
    }
    const next = (before ?? Promise.resolve())
      .then(async () => {
        this.again.delete(workstationId)
        if (!this.closed) await this.inLine(() => this.work(workstationId))
      })
      .catch((error: unknown) => {
        if (!(error instanceof CourierGone || error instanceof DeviceRefusal))
          logFault(`Placements of workstation ${workstationId}`, error)
      })
      .finally(() => {
        if (this.working.get(workstationId) === next) this.working.delete(workstationId)
      })
    this.working.set(workstationId, next)
    return next
  }

  /** So many at once, and the rest in the order in which they came. */
  private async inLine(work: () => Promise<void>): Promise<void> {
    if (this.busy >= mostAtOnce) await new Promise<void>((go) => this.lines.push(go))
    this.busy++
    try {
      await work()
    } finally {
      this.busy--
      this.lines.shift()?.()
    }
  }

  private async work(workstationId: number): Promise<void> {
    const { hub, now } = this.services
    for (let look = 0; look < mostLooks && hub.helloOf(workstationId); look++) {
      const sought = await displaysSought(this.data, workstationId)
      if (!sought.length) return
      const read = (await hub.send(workstationId, 'host.readBack', {})).value
      const changed = await recordFound(this.data, workstationId, sought, read, now())
      this.lookedAt.set(workstationId, now())
      await this.settle(workstationId)
      if (changed || look > 0) {
        this.services.changed()
        this.services.moved()
      }
      // With the slots that were just read.
      const acted = await this.act(workstationId, await displaysSought(this.data, workstationId), read)
      if (!acted) return
    }
  }

  /** Ends what was given back or taken away, once it was read back as such. */
  private async settle(workstationId: number): Promise<void> {
    await this.data.query(
      `UPDATE placement SET state = 'withdrawn',
         message = CASE action WHEN 'release' THEN 'Ours was taken away.' ELSE 'What was there before was given back.' END
       WHERE workstation_id = ? AND state = 'sent' AND verified_at IS NOT NULL AND run_id IS NULL
         AND (action = 'release' OR EXISTS (SELECT 1 FROM found WHERE found.id = (SELECT MAX(id) FROM found AS last
           WHERE last.display_id = placement.display_id AND last.workstation_id = placement.workstation_id)
           AND found.hash IS placement.profile_hash))`,
      [workstationId],
    )
  }

  /** Does what is to be done on a workstation; gives whether something was, so that it is to be read back. */
  private async act(workstationId: number, sought: readonly SoughtDisplay[], read: ReadBack): Promise<boolean> {
    const { data, hub, now } = this.services
    const ids = sought.map((d) => d.id)
    const found = await foundNow(data, workstationId, ids)
    const rules = await rulesOf(data, ids)
    const serials = new Map(sought.map((d) => [d.id, d.serial]))
    let acted = false
    const due = await this.placements.find({
      where: [
        { workstationId, state: 'queued', nextTryAt: IsNull() },
        { workstationId, state: 'queued', nextTryAt: LessThanOrEqual(now()) },
      ],
      order: { id: 'ASC' },
    })
    for (const placement of due) {
      const serial = serials.get(placement.displayId)
      if (serial === undefined) continue
      await sendPlacement(this.services, placement, serial, found.get(placement.displayId))
      acted = true
    }
    this.services.changed()
    const open = await this.placements.find({ where: { workstationId, state: 'sent' }, order: { id: 'ASC' } })
    if (!acted)
      for (const placement of open) {
        const display = sought.find((d) => d.id === placement.displayId)
        const here = found.get(placement.displayId)
        if (!display || !here) continue
        const state = standingOf(
          { progress: 'sent', read: placement.verifiedAt !== null, hash: placement.profileHash, slot: placement.slot },
          here,
          display.activeSlot,
        )
        const held = rules.get(display.id)?.rules ?? usualRules
        if (state === 'overridden' || state === 'missing')
          acted = (await putBack(this.services, placement, held)) || acted
        else if (state === 'out of step') acted = (await switchBack(this.services, placement, display, held)) || acted
      }
    if (await setRight({ data, hub, now, workstationId }, sought, read, rules)) acted = true
    if (acted) return true
    const here = new Set(
      (
        await data.query<{ id: number }[]>(
          `SELECT id FROM display WHERE workstation_id = ? AND kept = 'in use'
           UNION SELECT display_id FROM display_link WHERE workstation_id = ?`,
          [workstationId, workstationId],
        )
      ).map((r) => r.id),
    )
    await removeOldFiles({ data, hub, now, workstationId }, sought, here, rules)
    await keepNote(
      { data, hub, now, workstationId },
      open.flatMap((p) => {
        const waitsFor = found.get(p.displayId)?.waitsFor ?? null
        return waitsFor ? [{ waitsFor, rules: rules.get(p.displayId)?.rules ?? usualRules }] : []
      }),
    )
    return false
  }

  /** Workstations that nobody has looked at for so long, the longest first; and those with something that is to be tried again. */
  async lookAround(everyMs: number): Promise<void> {
    const { hub, now } = this.services
    const at = now()
    const due = await this.data.query<{ id: number }[]>(
      `SELECT DISTINCT workstation_id AS id FROM placement WHERE state = 'queued' AND (next_try_at IS NULL OR next_try_at <= ?)`,
      [at],
    )
    const again = new Set(due.map((r) => r.id))
    await Promise.all(
      hub
        .online()
        .filter((id) => again.has(id) || at - (this.lookedAt.get(id) ?? 0) >= everyMs)
        .map((id) => this.attend(id)),
    )
  }

  /** Resolves once nothing is under way. */
  async idle(): Promise<void> {
    while (this.working.size) await Promise.all(this.working.values())
  }

  /** Lets work in progress end, and begins none any more. */
  async close(): Promise<void> {
    this.closed = true
    await this.idle()
  }
}
