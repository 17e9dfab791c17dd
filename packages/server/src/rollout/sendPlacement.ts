import type { DataSource } from 'typeorm'
import type { FaultKind } from '@bichroma/contract'
import { DeviceRefusal, type CourierHub } from '../couriers/hub'
import { placementEntity, type Before, type PlacementRow } from './entities'
import type { FoundRow } from './entities'

/** Names of files that were taken by others before another name is given up. */
const mostNames = 20
/** Waits between two tries of what a courier refused, ms. */
const retryMs = [60_000, 5 * 60_000, 15 * 60_000, 60 * 60_000]
/** Earlier profiles of ours that a file may hold to be written over. */
const mostReplaced = 256

export interface SendServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly now: () => number
}

/** A file name by which another of the same stem is told apart. */
const otherName = (fileName: string, n: number): string => fileName.replace(/\.icc$/, `-${n}.icc`)

/** A name that the longest path takes: the display and the placement by number. */
const shortName = ({ displayId, slot }: PlacementRow) => `d${displayId}-s${slot ?? 0}.icc`

/**
 * Sends one placement that is queued. What the system had before is stored first, once, so that it can be given back
 * whatever happens in between. What is refused is stored with its kind and tried again later; CourierGone is thrown.
 */
export async function sendPlacement(
  { data, hub, now }: SendServices,
  placement: PlacementRow,
  serial: string,
  found: FoundRow | undefined,
): Promise<void> {
  const placements = data.getRepository(placementEntity)
  if (placement.before === null && placement.action !== 'restore') {
    placement.before = await beforeOf(data, placement, found)
    await placements.update({ id: placement.id }, { before: placement.before as never })
  }
  let { fileName, scope } = placement
  const set = async (change: Partial<PlacementRow>) => {
    // Whoever took its place meanwhile has the last word.
    await placements.update({ id: placement.id, state: 'queued' }, change as never)
  }
  for (let n = 2; ; n++) {
    try {
      // Stored before it is sent: a file of this name may hold this profile from now on, whatever becomes of the answer.
      await set({ tries: placement.tries + 1, fileName, scope })
      const path = await carryOut({ data, hub }, { ...placement, fileName, scope }, serial, found)
      await set({ state: 'sent', placedAt: now(), path, fault: null, nextTryAt: null, message: null })
      return
    } catch (error) {
      if (!(error instanceof DeviceRefusal)) throw error
      if (error.kind === 'privilege' && scope === 'machine' && placement.action === 'place') {
        // Without administrator rights the user's own scope is what there is; the display is the same.
        scope = 'user'
        continue
      }
      if (error.kind === 'name-taken' && fileName !== null && n <= mostNames) {
        // Of the name that was asked for: a number at its end may be a day.
        fileName = otherName(placement.fileName ?? fileName, n)
        continue
      }
      if (error.kind === 'path' && fileName !== null && fileName !== shortName(placement)) {
        fileName = shortName(placement)
        continue
      }
      const wait = retryMs[Math.min(placement.tries, retryMs.length - 1)]
      await set({ fault: error.kind satisfies FaultKind, message: error.sentence, nextTryAt: now() + wait })
      return
    }
  }
}

/** What the system has for a display before anything is changed, and whose that is. */
async function beforeOf(data: DataSource, placement: PlacementRow, found: FoundRow | undefined): Promise<Before> {
  const { path = null, hash = null } = found ?? {}
  const associations = found?.associations ?? { machine: [], user: [], perUser: false }
  const [ours] =
    hash === null
      ? []
      : await data.query<{ id: number }[]>(
          `SELECT id FROM placement WHERE display_id = ? AND workstation_id = ? AND profile_hash = ? AND run_id IS NOT NULL
             AND id < ? ORDER BY id DESC LIMIT 1`,
          [placement.displayId, placement.workstationId, hash, placement.id],
        )
  return { path, hash, associations, placementId: ours?.id ?? null }
}

/** Names that a display’s profiles of ours have had on a workstation, the newest first. */
async function namesOf(data: DataSource, { displayId, workstationId }: PlacementRow): Promise<string[]> {
  const rows = await data.query<{ name: string }[]>(
    `SELECT file_name AS name FROM placement WHERE workstation_id = ? AND display_id = ? AND run_id IS NOT NULL
     GROUP BY file_name ORDER BY MAX(id) DESC`,
    [workstationId, displayId],
  )
  return rows.map((r) => r.name)
}

/** Tells the courier what to do; gives the path that it tells, where it wrote a file. */
async function carryOut(
  { data, hub }: Pick<SendServices, 'data' | 'hub'>,
  placement: PlacementRow,
  serial: string,
  found: FoundRow | undefined,
): Promise<string | null> {
  const { workstationId, action, fileName, profileHash, scope, runId } = placement
  let path: string | null = null
  if (action !== 'release' && runId !== null && fileName !== null && profileHash !== null) {
    const replaces = await data.query<{ hash: string }[]>(
      `SELECT DISTINCT profile_hash AS hash FROM (SELECT profile_hash, id FROM placement
         WHERE workstation_id = ? AND file_name = ? AND run_id IS NOT NULL AND tries > 0 ORDER BY id DESC LIMIT ${mostReplaced})`,
      [workstationId, fileName],
    )
    const { value } = await hub.send(workstationId, 'host.placeProfile', {
      display: serial,
      hash: profileHash,
      fileName,
      scope,
      replaces: replaces.map((r) => r.hash),
      unbinds: (await namesOf(data, placement)).filter((name) => name !== fileName).slice(0, mostReplaced),
    })
    path = value.path
  }
  const { restores } = placement
  // A file that had to take another name is bound already, and what the system had names the former one.
  const isNamed = fileName === null || [...(restores?.machine ?? []), ...(restores?.user ?? [])].includes(fileName)
  if (action === 'restore' && restores !== null && isNamed)
    await hub.send(workstationId, 'host.bind', { display: serial, associations: restores })
  if (action === 'release') {
    const ours = new Set((await namesOf(data, placement)).map((name) => name.toLowerCase()))
    const { machine = [], user = [], perUser = false } = found?.associations ?? {}
    const others = (names: readonly string[]) => names.filter((name) => !ours.has(name.toLowerCase()))
    await hub.send(workstationId, 'host.bind', {
      display: serial,
      associations: { machine: others(machine), user: others(user), perUser: perUser && others(user).length > 0 },
    })
  }
  return path
}
