import type { DataSource } from 'typeorm'
import { putBackNow, slotWanted, type Rules } from '@bichroma/core/rollout'
import { DeviceRefusal, type CourierHub } from '../couriers/hub'
import { atomically, changesMade, written } from '../data/atomically'
import type { Ledger } from '../ledger/ledger'
import { displayEntity } from '../register/entities'
import { heldRunOf } from '../runs/heldByRuns'
import { placementEntity, type PlacementRow } from './entities'
import type { SoughtDisplay } from './recordFound'

interface KeepServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly ledger: Ledger
  readonly now: () => number
}

/** Puts a profile back that was replaced, as its policy says; three times within an hour, and then it is left alone. */
export async function putBack(
  { data, ledger, now }: KeepServices,
  placement: PlacementRow,
  rules: Rules,
): Promise<boolean> {
  if (placement.leftAloneAt !== null) return false
  const at = now()
  const move = putBackNow(rules.whenOther, placement.putBacks, at)
  if (move === 'tell') return false
  if (move === 'leave alone') {
    await data.getRepository(placementEntity).update({ id: placement.id, state: 'sent' }, { leftAloneAt: at })
    return false
  }
  const { id, displayId, fileName, description, profileHash } = placement
  const display = await data.getRepository(displayEntity).findOneByOrFail({ id: displayId })
  return atomically(data, (take) => {
    // What was there before it was placed stays what an undo gives back.
    take(
      written(
        `UPDATE placement SET state = 'queued', verified_at = NULL, next_try_at = NULL, put_backs = ? WHERE id = ? AND state = 'sent'`,
        [JSON.stringify([...placement.putBacks, at].slice(-20)), id],
      ),
    )
    // Somebody agreed to something else meanwhile.
    if (changesMade(data) === 0) return false
    take(
      ledger.entry('Bichroma', {
        act: 'put back',
        thing: 'placement',
        id,
        name: `${fileName ?? description} for ${display.name}`,
        evidence: { display: displayId, ...(profileHash !== null && { sha256: profileHash }) },
      }),
    )
    return true
  })
}

/** Switches a display back to the slot of its profile, as its policy says, and no oftener than a profile is put back. */
export async function switchBack(
  { data, hub, now }: KeepServices,
  placement: PlacementRow,
  { id, serial }: SoughtDisplay,
  rules: Rules,
): Promise<boolean> {
  const slot = slotWanted(rules, placement.slot)
  const at = now()
  if (
    slot === null ||
    slot !== placement.slot ||
    putBackNow('put back always', placement.switchBacks, at) !== 'put back'
  )
    return false
  if ((await heldRunOf(data, id)) !== null) return false
  await data
    .getRepository(placementEntity)
    .update({ id: placement.id }, { switchBacks: [...placement.switchBacks, at].slice(-20) as never })
  try {
    await hub.send(placement.workstationId, 'display.activateSlot', { serial, slot })
  } catch (error) {
    if (error instanceof DeviceRefusal) return false
    throw error
  }
  return true
}
