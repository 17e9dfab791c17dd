import { patiently } from '../../data/patiently'
import { slotEntity } from '../../register/entities'
import { stepEntity } from '../entities'
import type { Former, RunContext } from '../context/runContext'

/**
 * Puts display and register back as they were before the run: tables if the run wrote any, backlight, tables in the
 * path, the slot that was shown. Waits for the courier if it is away. Says in one sentence what it left.
 */
export async function restore(context: RunContext): Promise<string> {
  const { run, display, services } = context
  const steps = services.data.getRepository(stepEntity)
  const stored = await steps.findOneBy({ runId: run.id, key: 'former' })
  const former = (stored?.result?.value as { value: Former } | undefined)?.value
  if (!former) return 'Nothing was changed on the display.'
  const written = await steps.existsBy({ runId: run.id, key: 'write' })
  context.link.wanted.pipeline = undefined
  context.link.wanted.backlight = undefined
  context.link.wanted.slot = undefined
  const { needsPower, turned } = await context.link.attempt(async (send) => {
    const byHands = context.link.facts.brightnessBy === 'hands'
    await send('display.setControls', { pipeline: 'slot' })
    if (written) await send('display.writeSlot', { slot: run.slot, label: former.label, hash: former.hash })
    await send('display.activateSlot', { slot: run.slot })
    const { backlight } = await send('display.getControls', {})
    if (!byHands) await send('display.setControls', { backlight: former.backlight })
    if (former.activeSlot !== run.slot) await send('display.activateSlot', { slot: former.activeSlot })
    const { needsPowerCycle } = await send('display.getControls', {})
    return { needsPower: needsPowerCycle, turned: byHands && backlight !== former.backlight }
  })
  if (written)
    await patiently(() =>
      services.data
        .getRepository(slotEntity)
        .update({ displayId: display.id, number: run.slot }, { ...former.row, unsure: false } as never),
    )
  return `Slot ${run.slot} holds ${former.row.label ? `“${former.row.label}”` : 'nothing'} again, as before the run.${
    needsPower ? ` ${display.name} takes it up when it is switched off and on.` : ''
  }${turned ? ` Its brightness obeys only hands: turn it back to ${former.backlight}.` : ''}`
}
