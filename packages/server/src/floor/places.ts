import type { DataSource } from 'typeorm'
import {
  keepDisplaySchema,
  moveDisplaySchema,
  replaceDisplaySchema,
  swapDisplaysSchema,
  validate,
  type Kept,
  type PutAwayDisplay,
} from '@bichroma/contract'
import { insertion, written, type Take } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import { refusingTaken } from '../http/taken'
import { changesBetween, type Ledger, type Who } from '../ledger/ledger'
import {
  displayEntity,
  displayEventEntity,
  inUse,
  workstationEntity,
  type DisplayEventRow,
  type DisplayRow,
  type WorkstationRow,
} from '../register/entities'
import type { Holds } from '../register/holds'
import { insertSlots } from '../register/routes'
import { takeOverInSets } from '../peers/takeOver'
import type { PlacementRow } from '../rollout/entities'
import type { Rollout } from '../rollout/rollout'
import { isHeld, isQueued } from '../runs/heldByRuns'
import { runEntity } from '../runs/entities'

export interface PlaceServices {
  readonly data: DataSource
  readonly holds: Holds
  readonly ledger: Ledger
  readonly rollout: Rollout
  readonly now: () => number
  readonly changed: () => void
}

const act = { 'in use': 'returned', stored: 'stored', retired: 'retired' } as const satisfies Record<Kept, string>

/** Where displays stand, and where they go: moved, swapped, replaced, stored, retired, and back. */
export class Places {
  constructor(private readonly services: PlaceServices) {}

  private get manager() {
    return this.services.data.manager
  }

  async displayOf(id: number, field?: string): Promise<DisplayRow> {
    const display = await this.services.data.getRepository(displayEntity).findOneBy({ id })
    if (!display) throw new Refusal('not-found', `There is no display ${id}.`, field)
    return display
  }

  /** A workstation that is there. */
  async workstationOf(id: number): Promise<WorkstationRow> {
    const row = await this.services.data.getRepository(workstationEntity).findOneBy({ id })
    if (!row || row.retiredAt !== null)
      throw new Refusal('invalid-input', '“Workstation” names none that is there; choose one.', 'workstationId')
    return row
  }

  /** Does something to displays that no run is about, and none begins meanwhile. */
  async whileFree<T>([first, ...rest]: readonly DisplayRow[], work: () => Promise<T>): Promise<T> {
    if (!first) return work()
    const { data, holds } = this.services
    return holds.during({ displayId: first.id }, async () => {
      const runs = data.getRepository(runEntity)
      for (const [state, words] of [
        [isHeld(), 'is in a run. Wait for it, or stop it first.'],
        [isQueued(), 'has a run in the queue. Stop that first.'],
      ] as const)
        if (await runs.existsBy({ displayId: first.id, state })) throw new Refusal('conflict', `${first.name} ${words}`)
      return this.whileFree(rest, work)
    })
  }

  /** What was agreed to for a display where it stands. */
  agreedOn({ id, workstationId }: DisplayRow): Promise<PlacementRow | null> {
    return this.services.rollout.agreements.currentOf(id, workstationId)
  }

  private note(take: Take, displayId: number, kind: DisplayEventRow['kind'], text: string) {
    take(insertion(this.manager, displayEventEntity, { displayId, at: this.services.now(), kind, text }))
  }

  private set(take: Take, id: number, change: Partial<DisplayRow>) {
    take(this.manager.createQueryBuilder().update(displayEntity).set(change).where({ id }))
  }

  /** The statements by which a display goes to another workstation: its profile goes along, and is taken away where it was. */
  moveTo(
    take: Take,
    who: Who,
    display: DisplayRow,
    from: string,
    to: { readonly id: number; readonly name: string },
    agreed: PlacementRow | null,
  ): void {
    this.services.rollout.agreements.moveAlong(take, who, display, to.id, agreed)
    this.set(take, display.id, { workstationId: to.id })
    this.note(take, display.id, 'moved', `Moved from ${from} to ${to.name}`)
    take(written('DELETE FROM display_link WHERE display_id = ? AND workstation_id = ?', [display.id, to.id]))
  }

  /** The statements by which a display is put away. */
  private putAway(
    take: Take,
    who: Who,
    display: DisplayRow,
    kept: Exclude<Kept, 'in use'>,
    why: string | null,
    agreed: PlacementRow | null,
  ) {
    this.services.rollout.agreements.leaveBehind(take, who, display, display.workstationId, agreed)
    this.set(take, display.id, { kept, keptSince: this.services.now(), keptWhy: why })
  }

  async nameOf(workstationId: number): Promise<string> {
    const row = await this.services.data.getRepository(workstationEntity).findOneBy({ id: workstationId })
    return row?.name ?? 'another workstation'
  }

  routes(api: Api): void {
    const { data, ledger, rollout, changed } = this.services

    api.on('POST /displays/:id/move', async (request) => {
      const { workstationId } = validate(moveDisplaySchema, request.body)
      const display = await this.displayOf(idOf(request))
      const to = await this.workstationOf(workstationId)
      if (display.kept !== 'in use')
        throw new Refusal('conflict', `${display.name} is ${display.kept}. Take it back into use there.`)
      if (to.id === display.workstationId) throw new Refusal('conflict', `${display.name} is at ${to.name} already.`)
      const from = await this.nameOf(display.workstationId)
      const agreed = await this.agreedOn(display)
      await this.whileFree([display], async () =>
        ledger.change(
          request.account,
          (take) => this.moveTo(take, request.account, display, from, to, agreed),
          () => ({
            act: 'moved',
            thing: 'display',
            id: display.id,
            name: display.name,
            changes: [{ field: 'workstation', from, to: to.name }],
          }),
        ),
      )
      rollout.tend([display.workstationId, to.id])
      changed()
      return {}
    })

    api.on('POST /displays/swap', async (request) => {
      const { first, second } = validate(swapDisplaysSchema, request.body)
      const [a, b] = [await this.displayOf(first, 'first'), await this.displayOf(second, 'second')]
      if (a.kept !== 'in use' || b.kept !== 'in use')
        throw new Refusal('conflict', `${(a.kept === 'in use' ? b : a).name} is not in use.`)
      if (a.workstationId === b.workstationId)
        throw new Refusal('conflict', `${a.name} and ${b.name} are at the same workstation.`)
      const at = [await this.nameOf(a.workstationId), await this.nameOf(b.workstationId)]
      const [agreedA, agreedB] = [await this.agreedOn(a), await this.agreedOn(b)]
      const who = request.account
      await this.whileFree([a, b], async () =>
        ledger.change(
          request.account,
          (take) => {
            this.moveTo(take, who, a, at[0], { id: b.workstationId, name: at[1] }, agreedA)
            this.moveTo(take, who, b, at[1], { id: a.workstationId, name: at[0] }, agreedB)
          },
          () => ({
            act: 'swapped',
            thing: 'display',
            id: a.id,
            name: `${a.name} and ${b.name}`,
            changes: [{ field: 'workstation', from: at[0], to: at[1] }],
            evidence: { other: b.id },
          }),
        ),
      )
      rollout.tend([a.workstationId, b.workstationId])
      changed()
      return {}
    })

    api.on('POST /displays/:id/keep', async (request) => {
      const { kept, why = null, workstationId } = validate(keepDisplaySchema, request.body)
      const display = await this.displayOf(idOf(request))
      if (display.kept === kept) throw new Refusal('conflict', `${display.name} is ${kept} already.`)
      const to = kept === 'in use' ? await this.workstationOf(workstationId ?? display.workstationId) : null
      const from = await this.nameOf(display.workstationId)
      const agreed = await this.agreedOn(display)
      await this.whileFree([display], async () =>
        ledger.change(
          request.account,
          (take) => {
            if (kept !== 'in use') {
              this.putAway(take, request.account, display, kept, why, agreed)
              this.note(
                take,
                display.id,
                'put away',
                kept === 'stored' ? `Stored, from ${from}` : `Retired, from ${from}`,
              )
            } else {
              this.set(take, display.id, { kept, keptSince: this.services.now(), keptWhy: why, workstationId: to!.id })
              this.note(take, display.id, 'returned', `Came back into use at ${to!.name}`)
            }
          },
          () => ({
            act: act[kept],
            thing: 'display',
            id: display.id,
            name: display.name,
            why: why ?? undefined,
            changes: changesBetween({ kept: display.kept, workstation: from }, { kept, workstation: to?.name ?? from }),
          }),
        ),
      )
      rollout.tend([display.workstationId])
      changed()
      return {}
    })

    api.on('POST /displays/:id/replace', async (request, response) => {
      const { old, why = null, ...facts } = validate(replaceDisplaySchema, request.body)
      const display = await this.displayOf(idOf(request))
      if (display.kept !== 'in use') throw new Refusal('conflict', `${display.name} is not in use.`)
      const { name, workstationId, limitsId, checkEveryDays } = display
      // The desk goes on under its name; what the old one did stays with its serial number.
      const oldName = `${name.slice(0, 58 - display.serial.length)} (${display.serial})`.slice(-60)
      const desk = { name, workstationId, limitsId, checkEveryDays }
      const agreed = await this.agreedOn(display)
      const id = await this.whileFree([display], () =>
        refusingTaken('display', () =>
          ledger.change(
            request.account,
            (take) => {
              this.putAway(take, request.account, display, old, why, agreed)
              this.set(take, display.id, { name: oldName })
              this.note(take, display.id, 'replaced', `Replaced by ${facts.model} ${facts.serial}`)
              const made = take(
                insertion(this.manager, displayEntity, {
                  ...facts,
                  ...desk,
                  ...inUse,
                  activeSlot: 1,
                  delayMs: null,
                  curves: null,
                  curvesSince: null,
                }),
              )
              insertSlots(take, this.manager, made, facts.slots)
              takeOverInSets(take, display.id, made, facts.slots)
              this.note(take, made, 'replaced', `Took the place of ${display.model} ${display.serial}`)
              return made
            },
            (made) => ({
              act: 'replaced',
              thing: 'display',
              id: display.id,
              name,
              why: why ?? undefined,
              changes: [{ field: 'serial', from: display.serial, to: facts.serial }],
              evidence: { new: made, old: display.id },
            }),
          ),
        ),
      )
      rollout.tend([workstationId])
      changed()
      response.status(201)
      return { id }
    })

    api.on('GET /put-away', (): Promise<PutAwayDisplay[]> =>
      data.query(
        `SELECT display.id AS id, display.name AS name, maker, model, serial, kept, kept_since AS keptSince,
           kept_why AS keptWhy, workstation.name AS workstation, room.name AS room
         FROM display JOIN workstation ON workstation.id = display.workstation_id JOIN room ON room.id = workstation.room_id
         WHERE kept <> 'in use' ORDER BY kept_since DESC, display.id DESC LIMIT ${mostPutAway}`,
      ),
    )
  }
}

/** Displays that were put away and are told at once: the newest. */
const mostPutAway = 500
