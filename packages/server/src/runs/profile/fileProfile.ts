import type { PatchReading } from '@bichroma/core/color'
import { profileDescription, profileFileName, withoutBlack, type ProfileSubject } from '@bichroma/core/profiles'
import { readingsOfMemory, type ShapeMemory } from '@bichroma/core/runs'
import { asArrived, decodeSlotTables, type SlotTables } from '@bichroma/core/tables'
import type { CourierDisplay, ProfilePolicy } from '@bichroma/contract'
import type { DisplayRow } from '../../register/entities'
import { slotEntity } from '../../register/entities'
import { studioSettings } from '../../studio/settings'
import type { RunRow } from '../entities'
import { newestMemory } from '../newestMemory'
import type { RunServices } from '../context/runServices'
import { profileBytes, type DescribedBy } from './profileBytes'

/** What a filed run leaves to name its profile by. */
export const subjectOf = (run: RunRow, display: DisplayRow, at: number): ProfileSubject => ({
  display: display.name,
  slot: run.slot,
  aim: run.label,
  luminance: run.aim.luminance,
  at,
})

/** What a profile is made from. */
export interface ProfileSource {
  readonly run: RunRow
  readonly display: DisplayRow
  /** Through the slot: signals and what they showed. */
  readonly readings: readonly PatchReading[]
  /** Where the tables live, and how signals are sent; a run that began under an older version does not tell the latter. */
  readonly place: Pick<CourierDisplay, 'tablesIn' | 'pipeline'> &
    Partial<Pick<CourierDisplay, 'signalBits' | 'signalRange'>>
  /** ms since 1970 */
  readonly at: number
}

type ProfileServices = Pick<RunServices, 'data' | 'contents' | 'threads'>

/** What the slot of a run holds; null where nothing of this display’s kind is kept. */
async function tablesOf(
  { data, contents }: ProfileServices,
  { run, place: { pipeline } }: ProfileSource,
): Promise<SlotTables | null> {
  const { tablesHash } = await data
    .getRepository(slotEntity)
    .findOneByOrFail({ displayId: run.displayId, number: run.slot })
  const bytes = tablesHash && (await contents.get(tablesHash))
  try {
    return bytes ? decodeSlotTables(bytes, pipeline) : null
  } catch {
    // Written when the display took tables of another kind.
    return null
  }
}

/** The shares 0–1 of curves of the video card. */
function sharesOf({ shape, after }: SlotTables) {
  if (shape.kind !== '1D') return undefined
  const top = 2 ** shape.after.bits - 1
  const [red, green, blue] = after!.map((table) => table.map((v) => v / top))
  return [red, green, blue] as const
}

/** What is known of the raw panel, by its drives: by this run’s Shape, or by the newest of the display. */
async function panelReadings({ data, contents }: ProfileServices, run: RunRow): Promise<PatchReading[] | null> {
  const hash = run.memoryHash ?? (await newestMemory(data, run.displayId))
  const bytes = hash ? await contents.get(hash) : null
  return bytes && readingsOfMemory(JSON.parse(new TextDecoder().decode(bytes)) as ShapeMemory)
}

/** A profile as it was filed. */
export interface FiledProfile {
  /** What the run's row holds of it. */
  readonly row: Pick<RunRow, 'profileHash' | 'profileName' | 'profile'>
  readonly by: DescribedBy
}

/** Makes the profile of a run as its policy says and keeps it. */
export async function fileProfile(services: ProfileServices, source: ProfileSource): Promise<FiledProfile> {
  const { run, display, at, place } = source
  const settings = await studioSettings(services.data)
  const policy: ProfilePolicy = run.profile ?? settings.profile
  const tables = await tablesOf(services, source)
  const { signalBits: bits, signalRange: range } = place
  const sent = bits && range ? { bits, range } : undefined
  const proved = sent ? asArrived(source.readings, sent) : source.readings
  const fromBlack = <T extends readonly PatchReading[]>(readings: T) =>
    policy.black === 'none' ? withoutBlack(readings) : readings
  const panel = policy.kind === 'table' && tables ? await panelReadings(services, run) : null
  const subject = subjectOf(run, display, at)
  const facts = {
    description: profileDescription(settings.profileName, subject),
    copyright: 'No copyright: readings of a display.',
    createdAt: at,
    version: policy.version,
    sent,
    videoCurves: tables && place.tablesIn === 'card' ? sharesOf(tables) : undefined,
    meta: [
      ['display', `${display.maker} ${display.model} ${display.serial}`],
      ['firmware', display.firmware],
      ['slot', String(run.slot)],
      ['aim', run.label],
      ['run', String(run.id)],
    ] as const,
  }
  const behind = panel && tables ? { panel: fromBlack(panel), tables, sameRun: run.memoryHash !== null } : null
  const { bytes, by } = await services.threads.run(profileBytes, policy.kind, fromBlack(proved), facts, behind)
  return {
    row: {
      profile: policy,
      profileHash: await services.contents.put(bytes),
      profileName: profileFileName(settings.profileName, subject),
    },
    by,
  }
}
