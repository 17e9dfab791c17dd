import { shapeReadings } from '@bichroma/core'
import type { CourierReading, DisplayControls, HostFacts } from '@bichroma/contract'
import { CourierGone } from '../../couriers/hub'
import { judgeReadiness, type ReadinessFacts } from '../readiness'
import { RunFailed, type Former, type RunContext } from '../runContext'
import { slotEntity } from '../../register/entities'
import { measureDelay } from '../delay'

/** Wait for the first patch, while the display's delay is not known yet, ms. */
const firstWaitMs = 700

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
        certifiedAt: instrument.certifiedAt,
        correction: context.run.correction,
        now: services.now(),
      }
      const found = {
        courierOnline: hello !== null,
        displayFound: false,
        display: null as ReadinessFacts['display'],
        controls: null as DisplayControls | null,
        instrumentHere: false,
        host: null as HostFacts | null,
        look: null as CourierReading | null,
      }
      if (!hello) return { ...base, ...found }
      try {
        found.host = (await services.hub.send(workstation.id, 'host.facts', {})).value as HostFacts
        const here = hello.displays.find((d) => d.serial === display.serial)
        found.displayFound = here !== undefined
        found.display = here
          ? { panelKind: here.panelKind, signalRange: here.signalRange, gains: here.gains, holds: here.pipeline.kind }
          : null
        if (found.displayFound) found.controls = await send('display.getControls', {})
        const plugged = (await services.hub.send(workstation.id, 'instrument.identify', {})).value
        found.instrumentHere = plugged.instruments.some((i) => i.serial === instrument.serial)
        if (found.displayFound && found.controls?.dataLink && found.instrumentHere) {
          await services.hub.send(workstation.id, 'instrument.zero', { serial: instrument.serial })
          await send('display.showPatch', { rgb: [1, 1, 1], waitMs: firstWaitMs })
          found.look = (
            await services.hub.send(workstation.id, 'instrument.read', {
              serial: instrument.serial,
              display: display.serial,
            })
          ).value
        }
      } catch (error) {
        if (!(error instanceof CourierGone)) throw error
        return {
          ...base,
          ...found,
          courierOnline: false,
          displayFound: false,
          display: null,
          controls: null,
          host: null,
          look: null,
        }
      }
      return { ...base, ...found }
    },
    false,
  )
  if (facts.display) context.shaping = shapeReadings(facts.display.holds, context.run.sampling)
  const conditions = judgeReadiness(facts)
  const failed = conditions.filter((c) => !c.ok && !c.advisory)
  const advice = conditions.filter((c) => !c.ok && c.advisory)
  await context.note({
    conditions,
    evidence: failed.length
      ? failed.map((c) => `${c.label}: ${c.found}.`)
      : [
          `${conditions.length - advice.length} conditions met; ${conditions.find((c) => c.id === 'warm')?.found ?? 'warm'}, instrument zeroed`,
          ...advice.map((c) => `${c.label}: ${c.found}. ${c.remedy}`),
        ],
  })
  if (failed.length) throw new RunFailed(failed.map((c) => `${c.label}: ${c.found}. ${c.remedy}`).join(' '))

  const former = await context.step('former', async (send): Promise<Former> => {
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
  context.wanted.backlight = former.backlight
  context.delayMs = await measureDelay(context)
}
