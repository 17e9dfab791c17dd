import type { PatchReading } from '@bichroma/core/color'
import {
  profileDescription,
  profileFileName,
  signalsOfDrives,
  withoutBlack,
  type ProfileSubject,
} from '@bichroma/core/profiles'
import type { ShapeMemory } from '@bichroma/core/runs'
import { asArrived, decodeSlotTables, type SlotTables } from '@bichroma/core/tables'
import type { CourierDisplay, ProfilePolicy } from '@bichroma/contract'
import type { DisplayRow } from '../../register/entities'
import { slotEntity } from '../../register/entities'
import { studioSettings } from '../../studio/settings'
import type { RunRow } from '../entities'
import type { RunServices } from '../context/runServices'
import { profileBytes } from './profileBytes'

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

/** The tables that a slot holds, where they are the curves of the video card; else null. */
async function cardTables(
  { data, contents }: ProfileServices,
  { run, place: { tablesIn, pipeline } }: ProfileSource,
): Promise<SlotTables | null> {
  if (tablesIn !== 'card') return null
  const { tablesHash } = await data
    .getRepository(slotEntity)
    .findOneByOrFail({ displayId: run.displayId, number: run.slot })
  const bytes = tablesHash && (await contents.get(tablesHash))
  if (!bytes) return null
  const tables = decodeSlotTables(bytes, pipeline)
  return tables.shape.kind === '1D' ? tables : null
}

const sharesOf = (tables: SlotTables) => {
  const shape = tables.shape
  if (shape.kind !== '1D') return undefined
  const top = 2 ** shape.after.bits - 1
  const [red, green, blue] = tables.after!.map((table) => table.map((v) => v / top))
  return [red, green, blue] as const
}

/** What Shape read of the raw panel, as signals in front of the card's curves: as good as read through them. */
async function rawReadings({ contents }: ProfileServices, run: RunRow, curves: ReturnType<typeof sharesOf>) {
  const bytes = curves && run.memoryHash && !run.recalls && (await contents.get(run.memoryHash))
  if (!bytes) return []
  const memory = JSON.parse(new TextDecoder().decode(bytes)) as ShapeMemory
  return memory.kind === 'model' ? signalsOfDrives(memory.readings, curves) : []
}

/** Makes the profile of a run as its policy says, keeps it, and gives what the run's row holds of it. */
export async function fileProfile(
  services: ProfileServices,
  source: ProfileSource,
): Promise<Pick<RunRow, 'profileHash' | 'profileName' | 'profile'>> {
  const { run, display, at } = source
  const settings = await studioSettings(services.data)
  const policy: ProfilePolicy = run.profile ?? settings.profile
  const tables = await cardTables(services, source)
  const videoCurves = tables ? sharesOf(tables) : undefined
  const { signalBits: bits, signalRange: range } = source.place
  const proved = bits && range ? asArrived(source.readings, { bits, range }) : source.readings
  const all = [...proved, ...(policy.kind === 'table' ? await rawReadings(services, run, videoCurves) : [])]
  const readings = policy.black === 'none' ? withoutBlack(all) : all
  const subject = subjectOf(run, display, at)
  const facts = {
    description: profileDescription(settings.profileName, subject),
    copyright: 'No copyright: readings of a display.',
    createdAt: at,
    version: policy.version,
    videoCurves,
    meta: [
      ['display', `${display.maker} ${display.model} ${display.serial}`],
      ['firmware', display.firmware],
      ['slot', String(run.slot)],
      ['aim', run.label],
      ['run', String(run.id)],
    ] as const,
  }
  const bytes = await services.threads.run(profileBytes, policy.kind, readings, facts)
  return {
    profile: policy,
    profileHash: await services.contents.put(bytes),
    profileName: profileFileName(settings.profileName, subject),
  }
}
