import type { XYZ } from '@bichroma/core/color'
import { runKinds } from '@bichroma/core/runs'
import { displayEntity } from '../register/entities'
import type { RunContext } from './context/runContext'

/** A wait that is long for any display, ms. */
const longMs = 1500
/** Share of the former patch that may be left in a reading: at most this of white is in black's reading. */
const enough = 0.002
const mostTries = 6

/**
 * How long a display's light takes to follow a patch, ms. A reading taken straight after black gave way to white holds a
 * share of the black that grows with the delay, for an instrument averages over its time: the share times that time is
 * the wait that was missing. It is added, and looked at again, until no more than 0.2 % is left; both ways.
 */
export async function measureDelay(context: RunContext): Promise<number> {
  const { services, workstation, instrument, display, run } = context
  // What writes nothing trusts what the last run measured that did.
  if (!runKinds[run.kind].writes && display.delayMs !== null) return display.delayMs
  const delayMs = await context.steps.take('delay', async (send) => {
    const read = async () => {
      const { value } = await services.hub.send(workstation.id, 'instrument.read', {
        serial: instrument.serial,
        display: display.serial,
      })
      return { xyz: value.xyz as unknown as XYZ, ms: value.integrationMs }
    }
    const show = (level: number, waitMs: number) => send('display.showPatch', { rgb: [level, level, level], waitMs })
    await show(0, longMs)
    const dark = (await read()).xyz[1]
    await show(1, longMs)
    const bright = (await read()).xyz[1]
    if (!(bright > 2 * dark + 1)) return 0
    let wait = 0
    for (let tries = 0; tries < mostTries; tries++) {
      await show(0, longMs)
      await show(1, wait)
      const { xyz, ms } = await read()
      const left = (bright - xyz[1]) / (bright - dark)
      if (left <= enough) break
      wait += Math.max(20, 1.5 * left * ms)
    }
    return Math.ceil(wait / 10) * 10
  })
  await services.data.getRepository(displayEntity).update({ id: display.id }, { delayMs })
  return delayMs
}
