import type { DataSource } from 'typeorm'
import { In, Not } from 'typeorm'
import type { CourierHub } from '../../couriers/hub'
import { Refusal } from '../../http/problem'
import { instrumentEntity, type InstrumentRow } from '../../register/entities'
import { runEntity } from '../entities'
import { isHeld } from '../heldByRuns'

const nameOf = ({ model, serial }: InstrumentRow) => `${model} ${serial}`

/** Instruments that runs hold now. */
export const heldInstruments = async (data: DataSource): Promise<number[]> =>
  (
    await data.getRepository(runEntity).find({ select: { id: true, instrumentId: true }, where: { state: isHeld() } })
  ).map((r) => r.instrumentId)

/** Instruments of the register that are plugged into a workstation now. */
export async function pluggedInstruments(data: DataSource, hub: CourierHub, workstationId: number) {
  const here = hub.helloOf(workstationId)?.instruments.map((i) => i.serial) ?? []
  return here.length ? data.getRepository(instrumentEntity).findBy({ serial: In(here), kept: 'in use' }) : []
}

/**
 * The instrument of a run: the one chosen, else one that is plugged in where the display is, else any that is free to be
 * carried there. `mayWait`: one that is in a run will do, for the run takes its turn. Throws Refusal.
 */
export async function pickInstrument(
  data: DataSource,
  hub: CourierHub,
  { instrumentId, workstationId, mayWait }: { instrumentId?: number; workstationId: number; mayWait: boolean },
): Promise<InstrumentRow> {
  const repository = data.getRepository(instrumentEntity)
  const held = mayWait ? [] : await heldInstruments(data)
  if (instrumentId !== undefined) {
    const chosen = await repository.findOneBy({ id: instrumentId })
    if (!chosen) throw new Refusal('not-found', 'This instrument is not in the register.', 'instrumentId')
    if (chosen.kept !== 'in use')
      throw new Refusal(
        'conflict',
        `${nameOf(chosen)} is ${chosen.kept}. Take it back into use first, or choose another.`,
        'instrumentId',
      )
    if (held.includes(chosen.id))
      throw new Refusal(
        'conflict',
        `${nameOf(chosen)} is in a run already. Wait for it, or choose another.`,
        'instrumentId',
      )
    return chosen
  }
  const plugged = await pluggedInstruments(data, hub, workstationId)
  const free = plugged.find((i) => !held.includes(i.id))
  if (free) return free
  if (plugged.length)
    throw new Refusal(
      'conflict',
      `${nameOf(plugged[0])} is in a run already. Wait for it, or plug in another.`,
      'instrumentId',
    )
  // Nothing is plugged in there: Ready will say so, with any instrument that is free to be carried.
  const any = await repository.findOne({
    where: { kept: 'in use', ...(held.length && { id: Not(In(held)) }) },
    order: { id: 'ASC' },
  })
  if (!any)
    throw new Refusal(
      'conflict',
      'No instrument is free. Plug one into a workstation, or wait for a run to end.',
      'instrumentId',
    )
  return any
}
