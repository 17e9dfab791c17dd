import type { PatchReading } from '@bichroma/core/color'
import { ownProfilePatches } from '@bichroma/core/profiles'
import { dueLine } from '@bichroma/core/rounds'
import { runKinds } from '@bichroma/core/runs'
import { slotEntity } from '../../register/entities'
import { WhiteWatch } from '../guardedReadings'
import { fileProfile } from '../profile/fileProfile'
import type { RunContext } from '../context/runContext'

/** The profile's own set of readings, where the run was asked for one, besides those of Prove. */
async function ownReadings(context: RunContext): Promise<PatchReading[]> {
  if (context.run.profile?.readings !== 'own') return []
  const [white, ...rest] = ownProfilePatches()
  const { watch } = await WhiteWatch.start(context, white)
  return watch.read(rest)
}

/** What the end of a run changes besides its own row. */
export interface Closing {
  /** The slot that the display shows. */
  readonly activeSlot: number
  /** What the slot held when it was proved. */
  readonly tablesHash: string | null
}

/**
 * File: the profile from what Prove measured, and where the kind of run settles it the slot's new judgement,
 * and with it the due line. `readings`: those of Prove, null for a run without. Gives what is to be stored with the end.
 */
export async function file(context: RunContext, readings: readonly PatchReading[] | null): Promise<Closing> {
  const { run, display, services } = context
  const kind = runKinds[run.kind]
  const at = run.summary?.at ?? (await context.steps.take('filed at', async () => context.now()))
  const evidence: string[] = []
  if (kind.writes && readings) {
    const set = [...readings, ...(await ownReadings(context))]
    const place = await context.steps.take('where the tables live', async () => {
      const { tablesIn, pipeline, signalBits, signalRange } = context.link.facts
      return { tablesIn, pipeline, signalBits, signalRange }
    })
    const { row, by } = await fileProfile(services, { run, display, readings: set, place, at })
    await context.save(row)
    evidence.push(
      `Profile ${run.profileName}, ICC v${run.profile!.version}, ${run.profile!.kind}${by === 'panel and tables' ? ', from what Shape found of the panel, through the tables' : ''}${place.tablesIn === 'card' ? ', with the video card’s curves: this display stores none itself, so it holds one calibration at a time, at the card’s precision' : ''}`,
    )
  }
  const { activeSlot } = await context.steps.take('slot at the end', (send) => send('display.getControls', {}))
  const { tablesHash } = await services.data
    .getRepository(slotEntity)
    .findOneByOrFail({ displayId: display.id, number: run.slot })
  const due = kind.settles ? dueLine({ verdict: run.judgement!.verdict, at }, display.checkEveryDays)! : null
  evidence.push(
    due === null ? 'The slot’s verdict stays as it was' : `Due again ${new Date(due).toISOString().slice(0, 10)}`,
  )
  await context.sheet.note({ endedAt: context.now(), evidence })
  return { activeSlot, tablesHash }
}
