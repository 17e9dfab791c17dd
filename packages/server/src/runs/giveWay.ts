import { studioSettings } from '../studio/settings'
import type { RunContext } from './context/runContext'

/** Minutes since somebody touched the run's workstation; null when it does not tell or is away. */
async function idleMinutes({ services, workstation }: RunContext): Promise<number | null> {
  const facts = await services.hub.send(workstation.id, 'host.facts', {}).catch(() => null)
  return facts?.value.idleMinutes ?? null
}

/**
 * Gives way when somebody is at the workstation of a run that was to use the night: the display shows the slot and the
 * brightness that it had before the run until nobody has touched it for a while; then the run puts it back and goes on.
 */
export async function giveWay(context: RunContext): Promise<void> {
  if (context.run.begins !== 'night' || context.steps.replaying) return
  const first = await idleMinutes(context)
  if (first === null || first >= 1) return
  const { night } = await studioSettings(context.services.data)
  const { former, link } = context
  await context.link.attempt(async (send) => {
    const backlight = link.wanted.backlight === undefined ? undefined : former?.backlight
    await send('display.setControls', { pipeline: 'slot', ...(backlight !== undefined && { backlight }) })
    if (former) await send('display.activateSlot', { slot: former.activeSlot })
  })
  for (;;) {
    const left = await idleMinutes(context)
    if (left === null || left >= night.idleMinutes) break
    await context.letHandsWork(
      'person',
      `Somebody is at ${context.workstation.name}: the run gives way, and goes on once it was left alone for ${night.idleMinutes} minutes.`,
    )
  }
  await context.waits.handsDone()
  context.link.putBackFirst()
}
