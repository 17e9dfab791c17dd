import type { DataSource } from 'typeorm'
import type { Account } from '@bichroma/contract'
import { limitsEntity } from '../../aims/entities'
import { atomically, insertion } from '../../data/atomically'
import { Refusal } from '../../http/problem'
import { refusingTaken } from '../../http/taken'
import { changesBetween, type Ledger } from '../../ledger/ledger'
import { asEveryRoom, displayEntity, inUse, roomEntity, workstationEntity } from '../../register/entities'
import { insertSlots } from '../../register/routes'
import type { Places } from '../places'
import type { InventoryAct } from './plan'

export interface InventoryServices {
  readonly data: DataSource
  readonly places: Places
  readonly ledger: Ledger
  readonly now: () => number
  readonly changed: () => void
}

/**
 * Writes the lines of an inventory, each whole with its entries in the ledger, others being answered in between. A line
 * that cannot be written (a run began there meanwhile) is told of, and those before it stay: the same file again goes on.
 */
export async function applyInventory(
  { data, places, ledger }: InventoryServices,
  acts: readonly InventoryAct[],
  account: Account,
): Promise<number> {
  for (const [n, act] of acts.entries()) {
    await new Promise((resolve) => setImmediate(resolve))
    try {
      await refusingTaken('display', () => applyOne(data, places, ledger, act, account))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      throw new Refusal(
        'conflict',
        `Line ${act.line.line}: ${error.sentence} ${n ? `The ${n} before it are written. ` : ''}Then take the file again.`,
        'text',
      )
    }
  }
  return acts.length
}

async function applyOne(
  data: DataSource,
  places: Places,
  ledger: Ledger,
  { display, limits, place, before }: InventoryAct,
  account: Account,
): Promise<void> {
  const { manager } = data
  const limitsRow = await data.getRepository(limitsEntity).findOneBy({ name: limits })
  if (!limitsRow) throw new Refusal('conflict', `There are no limits called ${limits} any more.`)
  const room = await data.getRepository(roomEntity).findOneBy({ name: place.room })
  const workstation = await data.getRepository(workstationEntity).findOneBy({ name: place.workstation.name })
  const displayRow = before && (await places.displayOf(before.id))
  const from = displayRow ? await places.nameOf(displayRow.workstationId) : ''
  const { name, checkEveryDays } = display
  const moves = Boolean(displayRow && displayRow.workstationId !== workstation?.id)
  const agreed = moves ? await places.agreedOn(displayRow!) : null
  await places.whileFree(moves ? [displayRow!] : [], async () =>
    atomically(data, (take) => {
      let roomId = room?.id
      if (roomId === undefined) {
        const row = { name: place.room, building: place.building || null, light: null, ...asEveryRoom, retiredAt: null }
        roomId = take(insertion(manager, roomEntity, row))
        take(ledger.entry(account, { act: 'added', thing: 'room', id: roomId, name: place.room }))
      }
      let workstationId = workstation?.id
      if (workstationId === undefined) {
        const row = {
          ...place.workstation,
          roomId,
          courierKeyHash: null,
          courierSeenAt: null,
          retiredAt: null,
          note: null,
        }
        workstationId = take(insertion(manager, workstationEntity, row))
        take(ledger.entry(account, { act: 'added', thing: 'workstation', id: workstationId, name: row.name }))
      }
      const kept = { name, limitsId: limitsRow.id, checkEveryDays }
      if (!displayRow) {
        const row = {
          ...display,
          ...kept,
          ...inUse,
          workstationId,
          activeSlot: 1,
          delayMs: null,
          curves: null,
          curvesSince: null,
        }
        const id = take(insertion(manager, displayEntity, row))
        insertSlots(take, manager, id, display.slots)
        const changes = changesBetween({}, { ...display, workstationId, limitsId: limitsRow.id })
        take(ledger.entry(account, { act: 'added', thing: 'display', id, name, changes }))
        return
      }
      const { id } = displayRow
      take(data.createQueryBuilder().update(displayEntity).set(kept).where({ id }))
      if (moves)
        places.moveTo(take, account, displayRow, from, { id: workstationId, name: place.workstation.name }, agreed)
      const changes = [
        ...changesBetween({ ...displayRow }, kept),
        ...(moves ? [{ field: 'workstation', from, to: place.workstation.name }] : []),
      ]
      take(ledger.entry(account, { act: 'changed', thing: 'display', id, name, changes }))
    }),
  )
}
