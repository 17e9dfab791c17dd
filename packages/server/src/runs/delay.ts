import type { XYZ } from '@bichroma/core/color'
import { runKinds } from '@bichroma/core/runs'
import { displayEntity } from '../register/entities'
import { findDelay, FollowsTooLate } from '../register/lightDelay'
import type { RunContext } from './context/runContext'
import { RunFailed } from './context/runErrors'

/**
 * How long a display's light takes to follow a patch, ms: found, and kept with the display. Throws RunFailed for one that
 * does not follow.
 */
export async function measureDelay(context: RunContext): Promise<number> {
  const { services, workstation, instrument, display, run } = context
  // What writes nothing trusts what the last run measured that did.
  if (!runKinds[run.kind].writes && display.delayMs !== null) return display.delayMs
  const delayMs = await context.steps.take('delay', (send) =>
    findDelay({
      show: (level, waitMs) => send('display.showPatch', { rgb: [level, level, level], waitMs }),
      read: async () => {
        const { value } = await services.hub.send(workstation.id, 'instrument.read', {
          serial: instrument.serial,
          display: display.serial,
        })
        return { xyz: value.xyz as unknown as XYZ, ms: value.integrationMs }
      },
    }).catch((error: unknown) => {
      throw error instanceof FollowsTooLate ? new RunFailed(error.message) : error
    }),
  )
  await services.data.getRepository(displayEntity).update({ id: display.id }, { delayMs })
  return delayMs
}
