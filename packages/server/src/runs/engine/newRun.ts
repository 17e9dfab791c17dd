import { runKinds } from '@bichroma/core/runs'
import { profileFor, type StartRun } from '@bichroma/contract'
import { limitsEntity } from '../../aims/entities'
import { Refusal } from '../../http/problem'
import { displayEntity, slotEntity } from '../../register/entities'
import { studioSettings } from '../../studio/settings'
import type { RunServices } from '../context/runServices'
import { nothingLater, runEntity, type RunRow } from '../entities'
import { isHeld } from '../heldByRuns'
import { asItReads } from './asItReads'
import { patchesOf } from './patchesOf'
import { pickInstrument } from './pickInstrument'
import { purposeOf } from './purpose'

/** A run as it is asked for, not yet stored. Throws Refusal with what stands in the way. */
export async function newRun(services: RunServices, input: StartRun, accountId: number): Promise<Omit<RunRow, 'id'>> {
  const { data, hub, now } = services
  const begins = input.begins ?? 'now'
  const display = await data.getRepository(displayEntity).findOneBy({ id: input.displayId })
  if (!display) throw new Refusal('not-found', 'This display is not in the register.', 'displayId')
  if (display.kept !== 'in use')
    throw new Refusal('conflict', `${display.name} is ${display.kept}. Take it back into use first.`, 'displayId')
  const slot = await data.getRepository(slotEntity).findOneBy({ displayId: display.id, number: input.slot })
  if (!slot)
    throw new Refusal(
      'invalid-input',
      `${display.name} has ${display.slots} slots; there is no slot ${input.slot}.`,
      'slot',
    )
  if (begins === 'now' && (await data.getRepository(runEntity).existsBy({ displayId: display.id, state: isHeld() })))
    throw new Refusal('conflict', `${display.name} is in a run already. Wait for it, or stop it first.`, 'displayId')

  const told = hub.displayOf(display.workstationId, display.serial)
  const holds = told?.pipeline.kind ?? null
  const purpose = await purposeOf(data, input, display, slot, told)
  const instrument = await pickInstrument(data, hub, {
    instrumentId: input.instrumentId,
    workstationId: display.workstationId,
    mayWait: begins !== 'now',
  })
  const limits = await data.getRepository(limitsEntity).findOneByOrFail({ id: display.limitsId })
  return {
    displayId: display.id,
    slot: input.slot,
    kind: input.kind,
    sampling: input.sampling ?? 'usual',
    ...(await asItReads(services, display, instrument, input.kind)),
    ...purpose,
    limits: limits.limits,
    instrumentId: instrument.id,
    accountId,
    state: begins === 'now' ? 'running' : 'queued',
    stage: 'ready',
    message: null,
    startedAt: now(),
    endedAt: null,
    baseline: null,
    metrics: null,
    judgement: null,
    summary: null,
    profileHash: null,
    profileName: null,
    reportHash: null,
    memoryHash: null,
    begins,
    budget: input.kind === 'full' ? (input.budget ?? null) : null,
    patches: await patchesOf(input, services.threads),
    imported: null,
    firmware: display.firmware,
    checkEveryDays: display.checkEveryDays,
    tablesHash: null,
    uniformity: null,
    ...nothingLater,
    onlyWith: input.instrumentId !== undefined && input.onlyWith === true,
    profile: runKinds[input.kind].writes
      ? (input.profile ?? profileFor((await studioSettings(data)).profile, holds))
      : null,
  }
}
