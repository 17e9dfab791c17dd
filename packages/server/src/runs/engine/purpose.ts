import type { DataSource } from 'typeorm'
import type { Aim } from '@bichroma/core/aims'
import { runKinds, whyNotShapable, type RunKind } from '@bichroma/core/runs'
import type { CourierDisplay, StartRun } from '@bichroma/contract'
import { aimEntity } from '../../aims/entities'
import { Refusal } from '../../http/problem'
import type { DisplayRow, SlotRow } from '../../register/entities'
import type { RunRow } from '../entities'
import { newestMemory } from '../newestMemory'
import { followRoom } from '../roomLight'

/** What a run aims at, what it starts from, and the label it gives its slot. */
export type Purpose = Pick<RunRow, 'label' | 'aim' | 'resolvedAim' | 'overwrote' | 'recalls'>

/** What keeps a run from starting in a slot that holds nothing, by kind. */
const missing: Readonly<Partial<Record<RunKind, string>>> = {
  refresh: 'holds no calibration that could be refreshed',
  check: 'holds no calibration that could be checked',
  spot: 'holds no calibration to look at',
  uniformity: 'holds no calibration to show white with',
}

/** The purpose of a run that is asked for. Throws Refusal with what stands in the way. */
export async function purposeOf(
  data: DataSource,
  input: StartRun,
  display: DisplayRow,
  slot: SlotRow,
  facts: CourierDisplay | null,
): Promise<Purpose> {
  const kind = runKinds[input.kind]
  const none = { overwrote: null, recalls: null }
  if (kind.aim === 'chosen' || (kind.aim === 'either' && (input.aimId !== undefined || !slot.aim))) {
    const chosen = await chosenAim(data, input)
    const { name } = chosen
    const aim = await followRoom(data, chosen.aim, display.workstationId)
    if (!kind.writes) return { ...none, label: name, aim, resolvedAim: null }
    mustBeShapable(aim, facts)
    const told = input.overwrites ?? ''
    if (told !== (slot.label ?? ''))
      throw new Refusal(
        'conflict',
        `Slot ${slot.number} now holds ${slot.label ? `“${slot.label}”` : 'nothing'}, not what you were told. Look at it again before you overwrite it.`,
        'overwrites',
      )
    return { ...none, label: name, aim, resolvedAim: null, overwrote: slot.label }
  }
  // A baseline reads past the tables: whatever the slot holds, its aim is there to judge by.
  if (kind.aim === 'either') return { ...none, label: slot.label ?? 'Slot’s aim', aim: slot.aim!, resolvedAim: null }
  if (slot.unsure)
    throw new Refusal(
      'conflict',
      `Nobody knows what slot ${slot.number} holds: a write was cut short. Start a full run into it.`,
      'slot',
    )
  if (!slot.label || !slot.aim || !slot.resolvedAim)
    throw new Refusal(
      'conflict',
      `Slot ${slot.number} ${missing[input.kind] ?? 'holds no aim'}. Start a full run into it.`,
      'slot',
    )
  const held = { ...none, label: slot.label, aim: slot.aim, resolvedAim: slot.resolvedAim }
  if (!kind.writes) return held
  mustBeShapable(slot.aim, facts)
  const recalls = await newestMemory(data, display.id)
  if (!recalls)
    throw new Refusal(
      'conflict',
      `No full run’s readings of ${display.name} are kept, and a refresh starts from them. Start a full run.`,
      'kind',
    )
  return { ...held, resolvedAim: null, overwrote: slot.label, recalls }
}

async function chosenAim(data: DataSource, { aimId, kind }: StartRun) {
  if (aimId === undefined)
    throw new Refusal(
      'invalid-input',
      `“aimId” is missing; a ${runKinds[kind].label.toLowerCase()} needs an aim.`,
      'aimId',
    )
  const found = await data.getRepository(aimEntity).findOneBy({ id: aimId })
  if (!found) throw new Refusal('not-found', 'This aim is not there any more. Choose another.', 'aimId')
  return found
}

function mustBeShapable(aim: Aim, facts: CourierDisplay | null) {
  const unshapable = whyNotShapable(aim, {
    gamutTargets: facts?.gamutTargets ?? null,
    holds: facts?.pipeline.kind ?? null,
  })
  if (unshapable) throw new Refusal('conflict', unshapable, 'aimId')
}
