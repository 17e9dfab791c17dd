import type { DataSource } from 'typeorm'
import { In } from 'typeorm'
import { heldStates } from '@bichroma/core'
import { CourierGone, DeviceRefusal, type CourierHub } from '../couriers/hub'
import { Refusal } from '../http/problem'
import { runEntity } from '../runs/entities'
import { displayEntity } from './entities'

/** Long enough to walk to a desk and look. */
const seconds = 12

/** Makes a display show its name, number and serial. Throws Refusal with what stands in the way. */
export async function showName(data: DataSource, hub: CourierHub, id: number): Promise<{ seconds: number }> {
  const display = await data.getRepository(displayEntity).findOneBy({ id })
  if (!display) throw new Refusal('not-found', `There is no display ${id}.`)
  const { name, serial, workstationId } = display
  if (await data.getRepository(runEntity).existsBy({ displayId: id, state: In([...heldStates]) }))
    throw new Refusal('conflict', `${name} is in a run, which shows patches on it. Wait for it, or stop it first.`)
  try {
    await hub.send(workstationId, 'display.showName', { serial, lines: [name, `No. ${id}, serial ${serial}`], seconds })
  } catch (error) {
    if (error instanceof CourierGone)
      throw new Refusal(
        'conflict',
        `The courier of ${name} is away, so it cannot show its name. Start it, then try again.`,
      )
    if (error instanceof DeviceRefusal) throw new Refusal('conflict', error.sentence)
    throw error
  }
  return { seconds }
}
