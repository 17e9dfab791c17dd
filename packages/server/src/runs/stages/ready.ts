import type { CourierReading, DisplayControls, HostFacts } from '@bichroma/contract'
import { CourierGone } from '../../couriers/hub'
import { judgeReadiness, type ReadinessFacts } from '../readiness'
import { RunFailed, type Former, type RunContext } from '../runContext'
import { slotEntity } from '../../register/entities'

/**
 * Ready: asks courier, display, instrument and host, judges the conditions, and stops the run at the first that fails.
 * Then notes what the display holds, so that it can be put back.
 */
export async function ready(context: RunContext): Promise<void> {
  const { display, instrument, workstation, services } = context
  const facts = await context.step(
    'readiness',
    async (send): Promise<ReadinessFacts> => {
      const hello = services.hub.helloOf(workstation.id)
      const base = {
        workstation: workstation.name,
        displaySerial: display.serial,
        instrumentName: `${instrument.model} ${instrument.serial}`,
      }
      const found = {
        courierOnline: hello !== null,
        displayFound: false,
        controls: null as DisplayControls | null,
        instrumentHere: false,
        host: null as HostFacts | null,
        look: null as CourierReading | null,
      }
      if (!hello) return { ...base, ...found }
      try {
        found.host = (await services.hub.send(workstation.id, 'host.facts', {})).value as HostFacts
        found.displayFound = hello.displays.some((d) => d.serial === display.serial)
        if (found.displayFound) found.controls = await send('display.getControls', {})
        const plugged = (await services.hub.send(workstation.id, 'instrument.identify', {})).value
        found.instrumentHere = plugged.instruments.some((i) => i.serial === instrument.serial)
        if (found.displayFound && found.controls?.dataLink && found.instrumentHere) {
          await services.hub.send(workstation.id, 'instrument.zero', { serial: instrument.serial })
          await send('display.showPatch', { rgb: [1, 1, 1] })
          found.look = (
            await services.hub.send(workstation.id, 'instrument.read', {
              serial: instrument.serial,
              display: display.serial,
            })
          ).value
        }
      } catch (error) {
        if (!(error instanceof CourierGone)) throw error
        return { ...base, ...found, courierOnline: false, displayFound: false, controls: null, host: null, look: null }
      }
      return { ...base, ...found }
    },
    false,
  )
  const conditions = judgeReadiness(facts)
  const failed = conditions.filter((c) => !c.ok)
  await context.note({
    conditions,
    evidence: failed.length
      ? failed.map((c) => `${c.label}: ${c.found}.`)
      : [
          `${conditions.length} conditions met; ${conditions.find((c) => c.id === 'warm')?.found ?? 'warm'}, instrument zeroed`,
        ],
  })
  if (failed.length) throw new RunFailed(failed.map((c) => `${c.label}: ${c.found}. ${c.remedy}`).join(' '))

  await context.step('former', async (send): Promise<Former> => {
    const slotRow = await services.data
      .getRepository(slotEntity)
      .findOneByOrFail({ displayId: display.id, number: context.run.slot })
    const { id: _id, ...row } = slotRow
    const { activeSlot } = await send('display.getControls', {})
    const held = await send('display.readSlot', { slot: context.run.slot })
    if (context.run.kind === 'check' && held.hash !== row.tablesHash)
      throw new RunFailed(
        `Slot ${context.run.slot} no longer holds the tables of “${row.label}”: somebody has written to it. Start a full run into it.`,
      )
    await send('display.activateSlot', { slot: context.run.slot })
    const { backlight } = await send('display.getControls', {})
    return { activeSlot, backlight, label: held.label, hash: held.hash ?? null, row }
  })
  context.wanted.slot = context.run.slot
}
