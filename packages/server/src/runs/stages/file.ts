import {
  decodeSlotTables,
  dueLine,
  fitMatrixModel,
  profileDescription,
  profileFileName,
  runKinds,
  writeMatrixProfile,
  writeReport,
  type PatchReading,
  type ProfileSubject,
} from '@bichroma/core'
import type { CourierDisplay } from '@bichroma/contract'
import { displayEntity, slotEntity } from '../../register/entities'
import type { RunContext } from '../runContext'

/** What a filed run leaves to name its profile by. */
export const subjectOf = (context: RunContext, at: number): ProfileSubject => ({
  display: context.display.name,
  slot: context.run.slot,
  aim: context.run.label,
  luminance: context.run.aim.luminance,
  at,
})

/** The curves of a calibration that lives in the video card, as shares 0–1, for its profile to carry; else none. */
async function cardCurves(
  { services, display, run }: RunContext,
  { tablesIn, pipeline }: Pick<CourierDisplay, 'tablesIn' | 'pipeline'>,
) {
  if (tablesIn !== 'card') return undefined
  const where = { displayId: display.id, number: run.slot }
  const { tablesHash } = await services.data.getRepository(slotEntity).findOneByOrFail(where)
  const bytes = tablesHash && (await services.contents.get(tablesHash))
  if (!bytes) return undefined
  const { shape, after } = decodeSlotTables(bytes, pipeline)
  if (shape.kind !== '1D' || !after) return undefined
  const top = 2 ** shape.after.bits - 1
  const [red, green, blue] = after.map((table) => table.map((v) => v / top))
  return [red, green, blue] as const
}

/** File: the profile from what Prove measured, the report, the slot's new judgement, and with it the due line. */
export async function file(context: RunContext, readings: readonly PatchReading[], accountName: string): Promise<void> {
  const { run, display, instrument, workstation, services } = context
  const at = run.summary!.at
  const evidence: string[] = []
  if (run.kind === 'full') {
    const subject = subjectOf(context, at)
    const place = await context.step('where the tables live', async () => ({
      tablesIn: context.facts.tablesIn,
      pipeline: context.facts.pipeline,
    }))
    const profile = writeMatrixProfile(fitMatrixModel(readings), {
      description: profileDescription(subject),
      copyright: 'No copyright: readings of a display.',
      createdAt: at,
      videoCurves: await cardCurves(context, place),
    })
    await context.save({ profileHash: await services.contents.put(profile), profileName: profileFileName(subject) })
    evidence.push(
      `Profile ${run.profileName}, ICC v4, matrix${place.tablesIn === 'card' ? ', with the video card’s curves: this display stores none itself, so it holds one calibration at a time, at the card’s precision' : ''}`,
    )
  }
  const { activeSlot } = await context.step('slot at the end', (send) => send('display.getControls', {}))
  await services.data.getRepository(displayEntity).update({ id: display.id }, { activeSlot })
  await services.data
    .getRepository(slotEntity)
    .update({ displayId: display.id, number: run.slot }, { judgedRunId: run.id })
  const due = dueLine({ verdict: run.judgement!.verdict, at }, display.checkEveryDays)!
  evidence.push(`Report kept; due again ${new Date(due).toISOString().slice(0, 10)}`)
  const report = writeReport({
    title: `${runKinds[run.kind].label}, ${display.name}, slot ${run.slot}`,
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
