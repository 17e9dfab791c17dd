import type { DataSource } from 'typeorm'
import { IsNull, LessThanOrEqual, Not } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import { profileFileName } from '@bichroma/core/profiles'
import { standingOf, usualRules } from '@bichroma/core/rollout'
import { CourierGone, DeviceRefusal, type CourierHub } from '../couriers/hub'
import { atomically, written, type Take } from '../data/atomically'
import { logFault } from '../data/log'
import { Refusal } from '../http/problem'
import type { Ledger, Who } from '../ledger/ledger'
import { displayEntity, workstationEntity, type DisplayRow } from '../register/entities'
import { subjectOf } from '../runs/profile/fileProfile'
import { runEntity, type RunRow } from '../runs/entities'
import { studioSettings } from '../studio/settings'
import { agree, workstationsReaching, type NewPlacement } from './agree'
import { placementEntity, type PlacementRow } from './entities'
import { putBack, switchBack } from './keepInForce'
import { displaysSought, foundNow, recordFound, type ReadBack, type SoughtDisplay } from './recordFound'
import { sendPlacement } from './sendPlacement'
import { keepNote, removeOldFiles, rulesOf, setRight } from './upkeep'
import type { WantedNews } from './wantedKeeper'

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

  constructor(private readonly services: RolloutServices) {}

  private get data() {
    return this.services.data
  }

  private get placements() {
    return this.data.getRepository(placementEntity)
  }

  // — agreeing —

  /** What places the profile of a run on a workstation, with its name there. Throws Refusal for a run without one. */
  async placing(
    run: RunRow,
    display: DisplayRow,
    workstationId: number,
  ): Promise<Omit<NewPlacement, 'why' | 'accountId' | 'requestedAt'>> {
    if (run.state !== 'done' || !run.profileHash || !run.profileName)
      throw new Refusal(
        'conflict',
        'This run filed no profile; full runs and refreshes that reach their end do.',
        'runId',
      )
    if (run.withdrawnAt !== null)
      throw new Refusal('conflict', 'This validation was withdrawn, so its profile is not placed.', 'runId')
    const settings = await studioSettings(this.data)
    const at = run.summary?.at ?? run.startedAt
    // One name for display and slot, so that the new file takes the place of the old; or the run's own, with its date.
    const name =
      settings.placing === 'overwrite'
        ? profileFileName(settings.profileName, subjectOf(run, display, at), true)
        : run.profileName
    const rules = (await rulesOf(this.data, [display.id])).get(display.id)?.rules ?? usualRules
    return {
      displayId: display.id,
      workstationId,
      action: 'place',
      runId: run.id,
      slot: run.slot,
      profileHash: run.profileHash,
      fileName: await this.ownFileName(name, display.id, workstationId),
      description: `${run.label}, slot ${run.slot}, ${formatDate(at)}`,
      scope: rules.scope,
    }
  }

  /** Queues the profile of a run for every workstation that reaches its display, in place of what was placed before. */
  async place(runId: number, who: { id: number; name: string }): Promise<number> {
    const run = await this.data.getRepository(runEntity).findOneBy({ id: runId })
    if (!run) throw new Refusal('not-found', `There is no run ${runId}.`, 'runId')
    const display = await this.data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
    if (display.kept !== 'in use') throw new Refusal('conflict', `${display.name} is not in use.`, 'runId')
    const places = await workstationsReaching(this.data, display.id)
    const all = await Promise.all(places.map((workstationId) => this.placing(run, display, workstationId)))
    const id = atomically(this.data, (take) => {
      const ids = all.map((placing) => this.agreeTo(take, who, display, { ...placing, why: 'person' }))
      return ids[places.indexOf(display.workstationId)] ?? ids[0]
    })
    this.tend(places)
    return id
  }

  /** The statements by which something is agreed to, and its entry in the ledger; gives its number. */
  agreeTo(
    take: Take,
    who: Who,
    display: { readonly id: number; readonly name: string },
    placement: Omit<NewPlacement, 'accountId' | 'requestedAt'>,
  ): number {
    const { ledger, now } = this.services
    const id = agree(take, this.data.manager, {
      ...placement,
      requestedAt: now(),
      accountId: who === 'Bichroma' ? null : who.id,
    })
    take(
      ledger.entry(who, {
        act: placement.action === 'place' ? 'placed' : 'put back',
        thing: 'placement',
        id,
        name: `${placement.fileName ?? placement.description} for ${display.name}`,
        evidence: {
          display: display.id,
          why: placement.why,
          ...(placement.runId !== null && { run: placement.runId }),
          ...(placement.profileHash !== null && { sha256: placement.profileHash }),
          ...(placement.waveId && { wave: placement.waveId }),
        },
      }),
    )
    return id
  }

  /** Workstations of which something was agreed to. */
  tend(workstations: readonly number[]): void {
    this.services.changed()
    this.services.moved()
    for (const id of new Set(workstations)) void this.attend(id)
  }

  /**
   * The name of a display's profile in its workstation's folder: one that another display has had there is told apart by
   * the display's number, for two names may come to the same letters, or to none.
   */
  private async ownFileName(wanted: string, displayId: number, workstationId: number) {
    const [taken] = await this.data.query<unknown[]>(
      'SELECT 1 FROM placement WHERE workstation_id = ? AND display_id <> ? AND lower(file_name) = lower(?) LIMIT 1',
      [workstationId, displayId, wanted],
    )
    return taken ? wanted.replace(/\.icc$/, `-d${displayId}.icc`) : wanted
  }

  /** What follows of itself from new wants, by policy: a fresh profile at once, or that of the slot that somebody chose. */
  async follow(news: readonly WantedNews[]): Promise<(take: Take) => void> {
    const agreed: { display: DisplayRow; placement: Omit<NewPlacement, 'accountId' | 'requestedAt'> }[] = []
    for (const { displayId, held, before, now, byFacts } of news) {
      if (!byFacts || now.kind !== 'profile' || now.runId === null) continue
      const display = await this.data.getRepository(displayEntity).findOneByOrFail({ id: displayId })
      if (display.kept !== 'in use') continue
      const current = await this.currentOf(displayId, display.workstationId)
      if (current?.profileHash === now.profileHash) continue
      const switched = (current?.slot ?? before!.slot) !== now.slot
      if (switched && held.rules.whenSwitched !== 'follow') continue
      if (!switched && held.rules.fresh === 'gathered') now.gathered = true
      if (!switched && held.rules.fresh !== 'at once') continue
      // One that cannot be placed keeps no other from what it wants.
      try {
        const run = await this.data.getRepository(runEntity).findOneByOrFail({ id: now.runId })
        for (const workstationId of await workstationsReaching(this.data, displayId))
          agreed.push({
            display,
            placement: { ...(await this.placing(run, display, workstationId)), why: switched ? 'switched' : 'fresh' },
          })
      } catch (error) {
        logFault(`The profile of run ${now.runId} was to follow`, error)
      }
    }
    return (take) => {
      for (const { display, placement } of agreed) this.agreeTo(take, 'Bichroma', display, placement)
      if (agreed.length) setImmediate(() => this.tend(agreed.map((a) => a.placement.workstationId)))
    }
  }

  /** What was agreed to last for a display on a workstation and still holds. */
  currentOf(displayId: number, workstationId: number): Promise<PlacementRow | null> {
    return this.placements.findOne({
      where: { displayId, workstationId, state: Not('withdrawn') },
      order: { id: 'DESC' },
    })
  }

  /**
   * The statements by which a display that goes to another workstation takes its profile along, and what it leaves behind
   * is taken away there.
   */
  moveAlong(take: Take, who: Who, display: DisplayRow, to: number, current: PlacementRow | null): void {
    this.leaveBehind(take, who, display, display.workstationId, current)
    if (!current || current.runId === null) return
    const { displayId, runId, slot, profileHash, fileName, description, scope } = current
    const profile = { runId, slot, profileHash, fileName, description, scope }
    this.agreeTo(take, who, display, { displayId, workstationId: to, action: 'place', why: 'moved', ...profile })
  }

  /** The statements by which what a display had on a workstation is taken away there. */
  leaveBehind(
    take: Take,
    who: Who,
    display: { readonly id: number; readonly name: string },
    workstationId: number,
    current: PlacementRow | null,
  ): void {
    if (!current) return
    const { displayId, description, scope } = current
    this.agreeTo(take, who, display, {
      displayId,
      workstationId,
      action: 'release',
      why: 'moved',
      runId: null,
      slot: null,
      profileHash: null,
      fileName: null,
      description,
      scope,
    })
  }

  // — looking —

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
