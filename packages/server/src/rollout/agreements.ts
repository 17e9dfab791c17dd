import type { DataSource } from 'typeorm'
import { Not } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import { profileFileName } from '@bichroma/core/profiles'
import { usualRules } from '@bichroma/core/rollout'
import { atomically, type Take } from '../data/atomically'
import { logFault } from '../data/log'
import { Refusal } from '../http/problem'
import type { Ledger, Who } from '../ledger/ledger'
import { displayEntity, type DisplayRow } from '../register/entities'
import { subjectOf } from '../runs/profile/fileProfile'
import { runEntity, type RunRow } from '../runs/entities'
import { studioSettings } from '../studio/settings'
import { agree, workstationsReaching, type NewPlacement } from './agree'
import { placementEntity, type PlacementRow } from './entities'
import { rulesOf } from './upkeep'
import type { WantedNews } from './wantedKeeper'

interface AgreementServices {
  readonly data: DataSource
  readonly ledger: Ledger
  readonly now: () => number
}

/** What is agreed to be placed, given back or taken away: written down with its entry in the ledger, and not yet done. */
export class Agreements {
  /** `tend`: sees to workstations of which something was agreed to. */
  constructor(
    private readonly services: AgreementServices,
    private readonly tend: (workstations: readonly number[]) => void,
  ) {}

  private get data() {
    return this.services.data
  }

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
    return this.data.getRepository(placementEntity).findOne({
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
}
