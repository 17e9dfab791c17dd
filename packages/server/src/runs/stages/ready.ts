import { judgeReadiness, plannedReadings, runKinds, type Confirmations, type ReadinessFacts } from '@bichroma/core/runs'
import type { PipelineShape } from '@bichroma/core/tables'
import type { Condition, CourierDisplay, CourierReading, DisplayControls, HostFacts } from '@bichroma/contract'
import { CourierGone } from '../../couriers/hub'
import { slotEntity, workstationEntity } from '../../register/entities'
import { roomOf } from '../../register/light/roomList'
import { provePatchesFor } from '../engine/patchesOf'
import { runEntity } from '../entities'
import { measureDelay } from '../delay'
import { checkPanelKind } from '../panelOwnColors'
import { keepToArea } from '../patchArea'
import type { Former, RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'
import type { Send } from '../context/send'
import { waitForLight } from '../roomLight'
import { waitForWarmth } from '../warmUp'

/** Wait for a patch while the display's delay is not known yet, and where that was too little, ms. */
const [firstWaitMs, longWaitMs] = [700, 5000]
/** Share of the screen that leaves a display which limits its light its white. */
const smallArea = 0.02
/** White ÷ black below which both are looked at again, with more time. */
const doubtfulContrast = 200

/**
 * Ready: asks courier, display, instrument and host, judges the conditions, and stops the run at those that fail; what
 * nothing tells, a technician is asked to look at. Then waits for a display that is still warming up, and notes what the
 * display holds, so that it can be put back.
 */
export async function ready(context: RunContext): Promise<void> {
  await context.courierSoon()
  const facts = await context.steps.take('readiness', () => findOut(context), false)
  if (facts.display) {
    const { holds, resetSeconds, writeSeconds } = facts.display
    context.shown.planned = plannedReadings(
      context.run.kind,
      holds,
      context.run.sampling,
      undefined,
      provePatchesFor(context.run).length,
    )
    // Read back after it is written.
    context.shown.loadSeconds = resetSeconds + 1.5 * writeSeconds + 2
  }
  const judged = judgeReadiness(facts)
  await tell(context, judged)
  const failed = judged.filter((c) => !c.ok && !c.advisory && c.confirm === undefined)
  if (failed.length) throw new RunFailed(failed.map((c) => `${c.label}: ${c.found}. ${c.remedy}`).join(' '))
  const open = judged.filter((c) => c.confirm === 'needed' && !c.advisory)
  const confirmed = open.length ? await askToLook(context, open) : {}
  const conditions = judgeReadiness(facts, confirmed)
  if (open.length) await tell(context, conditions)
  await waitForLight(context)

  const former = await context.steps.take('former', (send) => noteFormer(context, send))
  context.former = former
  context.link.wanted.slot = context.run.slot
  if (facts.display?.brightnessBy === 'commands') context.link.wanted.backlight = former.backlight
  context.readings.delayMs = await measureDelay(context)
  // What is read place by place, over the whole screen, keeps to no area.
  if (context.run.kind !== 'uniformity') await keepToArea(context)
  if (runKinds[context.run.kind].settles) context.panelContradicted = await checkPanelKind(context)
  await waitForWarmth(context, facts.controls?.warmMinutes ?? null)
}

async function tell(context: RunContext, conditions: Condition[]) {
  const failed = conditions.filter((c) => !c.ok && !c.advisory && c.confirm === undefined)
  const open = conditions.filter((c) => !c.ok && !c.advisory && c.confirm === 'needed')
  const advice = conditions.filter((c) => !c.ok && c.advisory)
  const looked = conditions.filter((c) => typeof c.confirm === 'object')
  await context.sheet.note({
    conditions,
    evidence: failed.length
      ? failed.map((c) => `${c.label}: ${c.found}.`)
      : [
          `${conditions.length - advice.length - open.length} conditions met${open.length ? `, ${open.length} to look at` : ''}; ${conditions.find((c) => c.id === 'warm')?.found ?? 'warmth measured'}, instrument zeroed`,
          ...(looked.length ? [`Looked at by hand: ${looked.map((c) => c.label.toLowerCase()).join(', ')}`] : []),
          ...advice.map((c) => `${c.label}: ${c.found}. ${c.remedy}`),
        ],
  })
}

/** Asks the technician to look at what nothing tells, and again at what was left out. */
async function askToLook(context: RunContext, open: readonly Condition[]): Promise<Confirmations> {
  return context.steps.take('looked at', async () => {
    for (;;) {
      const left = open.filter((c) => !context.confirmed.has(c.id))
      if (!left.length) return Object.fromEntries(context.confirmed)
      await context.waits.until(
        'settings',
        `Look at ${left.length === 1 ? 'one setting' : `${left.length} settings`} that ${context.workstation.name} does not tell, and confirm under Ready: ${left.map((c) => c.label).join(', ')}.`,
      )
    }
  })
}

/** What Ready is judged by, and what the run is planned by besides. */
type Found = ReadinessFacts & {
  readonly display:
    | (Pick<
        CourierDisplay,
        'panelKind' | 'signalRange' | 'gains' | 'brightnessBy' | 'resetSeconds' | 'writeSeconds'
      > & { readonly holds: PipelineShape['kind'] })
    | null
}

async function findOut(context: RunContext): Promise<Found> {
  const { display, instrument, workstation, services, run } = context
  const { hub } = services
  const last = await services.data.getRepository(runEntity).findOne({
    select: { id: true, metrics: true },
    where: { displayId: display.id, slot: run.slot, label: run.label, state: 'done', kind: 'check' },
    order: { id: 'DESC' },
  })
  const facts: Found = {
    workstation: workstation.name,
    displaySerial: display.serial,
    instrumentName: `${instrument.model} ${instrument.serial}`,
    certifiedAt: instrument.certifiedAt,
    needsCorrection: instrument.kind === 'colorimeter',
    correction: run.correction,
    readsMore: run.readsMore?.luminance ?? null,
    hdrAim: run.aim.toneResponse.kind === 'PQ' || run.aim.toneResponse.kind === 'HLG',
    lastContrast: last?.metrics?.contrast ?? null,
    now: context.now(),
    roomLight: await roomLightOf(services.data, workstation.id, context.now()),
    courierOnline: hub.helloOf(workstation.id) !== null,
    displayFound: false,
    display: null,
    controls: null,
    instrumentHere: false,
    host: null,
    look: null,
    dark: null,
  }
  if (!facts.courierOnline) return facts
  const { serial } = display
  const found = {
    displayFound: false,
    display: null as Found['display'],
    controls: null as DisplayControls | null,
    instrumentHere: false,
    host: null as HostFacts | null,
    look: null as CourierReading | null,
    dark: null as CourierReading | null,
  }
  try {
    found.host = (await hub.send(workstation.id, 'host.facts', {})).value as HostFacts
    const here = hub.displayOf(workstation.id, serial)
    found.displayFound = here !== null
    found.display = here && {
      panelKind: here.panelKind,
      signalRange: here.signalRange,
      gains: here.gains,
      holds: here.pipeline.kind,
      brightnessBy: here.brightnessBy,
      resetSeconds: here.resetSeconds,
      writeSeconds: here.writeSeconds,
    }
    if (here)
      found.controls = (await hub.send(workstation.id, 'display.getControls', { serial })).value as DisplayControls
    const plugged = (await hub.send(workstation.id, 'instrument.identify', {})).value
    found.instrumentHere = plugged.instruments.some((i) => i.serial === instrument.serial)
    if (found.controls?.dataLink && found.instrumentHere) {
      await hub.send(workstation.id, 'instrument.zero', { serial: instrument.serial })
      const look = async (v: number, waitMs: number, area?: number) => {
        const patch = { serial, rgb: [v, v, v], waitMs, ...(area !== undefined && { area }) }
        await hub.send(workstation.id, 'display.showPatch', patch)
        return (await hub.send(workstation.id, 'instrument.read', { serial: instrument.serial, display: serial })).value
      }
      const lookAtBoth = async (waitMs: number, area?: number) => {
        found.dark = await look(0, waitMs, area)
        found.look = await look(1, waitMs, area)
        return found.look.xyz[1] >= doubtfulContrast * found.dark.xyz[1]
      }
      // So little between black and white: a cover, light of the room, a display that follows later or limits its white.
      if (!(await lookAtBoth(Math.max(firstWaitMs, display.delayMs ?? 0)))) await lookAtBoth(longWaitMs, smallArea)
    }
  } catch (error) {
    if (!(error instanceof CourierGone)) throw error
    return { ...facts, courierOnline: false }
  }
  return { ...facts, ...found }
}

/** The light of the room that a workstation stands in, and what it is wanted to be. */
async function roomLightOf(
  data: RunContext['services']['data'],
  workstationId: number,
  now: number,
): Promise<ReadinessFacts['roomLight']> {
  const { roomId } = await data.getRepository(workstationEntity).findOneByOrFail({ id: workstationId })
  const { light, newestLight } = await roomOf(data, roomId, now)
  return light && { range: light, newest: newestLight }
}

/** What the display and the register hold, to be put back should the run break off; the slot is then made the active one. */
async function noteFormer({ display, run, services }: RunContext, send: Send): Promise<Former> {
  const { id: _id, ...row } = await services.data
    .getRepository(slotEntity)
    .findOneByOrFail({ displayId: display.id, number: run.slot })
  const { writes, aim } = runKinds[run.kind]
  if (writes && row.label !== run.overwrote)
    throw new RunFailed(
      `Slot ${run.slot} now holds ${row.label ? `“${row.label}”` : 'nothing'}, not what was to be overwritten. Look at it again and start anew.`,
    )
  const { activeSlot } = await send('display.getControls', {})
  const held = await send('display.readSlot', { slot: run.slot })
  if (aim === 'slot' && held.hash !== row.tablesHash)
    throw new RunFailed(
      `Slot ${run.slot} no longer holds the tables of “${row.label}”: somebody has written to it. Start a full run into it.`,
    )
  await send('display.activateSlot', { slot: run.slot })
  const { backlight, activeSlot: shown } = await send('display.getControls', {})
  if (shown !== run.slot) throw new RunFailed(await wrongSlot(services.data, display, run, shown))
  return { activeSlot, backlight, label: held.label, hash: held.hash ?? null, row }
}

/** That the display shows another slot than the run's, by name. */
async function wrongSlot(
  data: RunContext['services']['data'],
  display: RunContext['display'],
  run: RunContext['run'],
  shown: number,
): Promise<string> {
  const row = await data.getRepository(slotEntity).findOneBy({ displayId: display.id, number: shown })
  const holds = row?.label ? ` “${row.label}”` : ''
  return `${display.name} shows slot ${shown}${holds}, not slot ${run.slot} “${run.label}”, and does not switch by command. Press its own slot button until it shows slot ${run.slot}, and start again.`
}
