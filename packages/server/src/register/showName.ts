import type { DataSource } from 'typeorm'
import type { CourierHub } from '../couriers/hub'
import { orRefusal } from '../couriers/orRefusal'
import { Refusal } from '../http/problem'
import { displayEntity } from './entities'
import type { Holds } from './holds'

/** Long enough to walk to a desk and look. */
const seconds = 12

/** Makes a display show its name, number and serial. Throws Refusal with what stands in the way. */
export async function showName(
  data: DataSource,
  hub: CourierHub,
  holds: Holds,
  id: number,
): Promise<{ seconds: number }> {
  const display = await data.getRepository(displayEntity).findOneBy({ id })
  if (!display) throw new Refusal('not-found', `There is no display ${id}.`)
  const { name, serial, workstationId } = display
  const inRun = { sentence: `${name} is in a run, which shows patches on it. Wait for it, or stop it first.` }
  const lines = [name, `No. ${id}, serial ${serial}`]
  await orRefusal(`The courier of ${name} is away, so it cannot show its name. Start it, then try again.`, () =>
    holds.besideRuns({ displayId: id }, inRun, () =>
      hub.send(workstationId, 'display.showName', { serial, lines, seconds }),
    ),
  )
  return { seconds }
}
