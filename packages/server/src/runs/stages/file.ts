import { dueLine, ownProfilePatches, runKinds, writeReport, type PatchReading } from '@bichroma/core'
import { displayEntity, slotEntity } from '../../register/entities'
import { WhiteWatch } from '../guardedReadings'
import { fileProfile } from '../profile/fileProfile'
import type { RunContext } from '../runContext'

/** The profile's own set of readings, where the run was asked for one, besides those of Prove. */
async function ownReadings(context: RunContext): Promise<PatchReading[]> {
  if (context.run.profile?.readings !== 'own') return []
  const [white, ...rest] = ownProfilePatches
  const { watch } = await WhiteWatch.start(context, white)
  return watch.read(rest)
}

/**
 * File: the profile from what Prove measured, the report, and where the kind of run settles it the slot's new judgement,
 * and with it the due line. `readings`: those of Prove, null for a run without.
 */
export async function file(
  context: RunContext,
  readings: readonly PatchReading[] | null,
  accountName: string,
): Promise<void> {
  const { run, display, instrument, workstation, services } = context
  const kind = runKinds[run.kind]
  const at = run.summary?.at ?? (await context.step('filed at', async () => services.now()))
  const evidence: string[] = []
  if (kind.writes && readings) {
    const set = [...readings, ...(await ownReadings(context))]
    const place = await context.step('where the tables live', async () => ({
      tablesIn: context.facts.tablesIn,
      pipeline: context.facts.pipeline,
    }))
    const made = await fileProfile(services, { run, display, readings: set, place, at })
    await context.save(made)
    evidence.push(
      `Profile ${run.profileName}, ICC v${run.profile!.version}, ${run.profile!.kind}${place.tablesIn === 'card' ? ', with the video card’s curves: this display stores none itself, so it holds one calibration at a time, at the card’s precision' : ''}`,
    )
  }
  const { activeSlot } = await context.step('slot at the end', (send) => send('display.getControls', {}))
  await services.data.getRepository(displayEntity).update({ id: display.id }, { activeSlot })
  const due = kind.settles ? dueLine({ verdict: run.judgement!.verdict, at }, display.checkEveryDays)! : null
  if (due !== null)
    await services.data
      .getRepository(slotEntity)
      .update({ displayId: display.id, number: run.slot }, { judgedRunId: run.id })
  evidence.push(
    due === null
      ? 'Report kept; the slot’s verdict stays as it was'
      : `Report kept; due again ${new Date(due).toISOString().slice(0, 10)}`,
  )
  const report = writeReport({
    title: `${kind.label}, ${display.name}, slot ${run.slot}`,
    display: `${display.maker} ${display.model}, serial ${display.serial}, firmware ${display.firmware}`,
    workstation: workstation.name,
    instrument: `${instrument.maker} ${instrument.model}, serial ${instrument.serial}`,
    by: accountName,
    at,
    dueAt: due,
    aimName: run.label,
    metrics: run.metrics!,
    judgement: run.judgement!,
    profileName: run.profileName,
  })
  await context.save({ reportHash: await services.contents.put(new TextEncoder().encode(report)) })
  await context.note({ endedAt: services.now(), evidence })
}
