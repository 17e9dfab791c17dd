import type { DataSource } from 'typeorm'
import { switchesWanted, usualRules, type Rules } from '@bichroma/core/rollout'
import { DeviceRefusal, type CourierHub } from '../couriers/hub'
import { studioSettings } from '../studio/settings'
import { wantedEntity, type WantedRow } from './entities'
import type { ReadBack, SoughtDisplay } from './recordFound'

/** Old files that are removed in one go. */
const mostRemoved = 20

interface Upkeep {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly now: () => number
  readonly workstationId: number
}

/** What holds for displays, as it was worked out last; the usual where it was not yet. */
export async function rulesOf(data: DataSource, displayIds: readonly number[]): Promise<Map<number, WantedRow>> {
  const rows = await data
    .getRepository(wantedEntity)
    .createQueryBuilder('w')
    .where(
      `w.id IN (SELECT MAX(id) FROM wanted WHERE display_id IN (SELECT value FROM json_each(:ids)) GROUP BY display_id)`,
      {
        ids: JSON.stringify(displayIds),
      },
    )
    .getMany()
  return new Map(rows.map((w) => [w.displayId, w]))
}

/** What the courier refuses is tried again at the next look: nothing hangs on it. */
async function mayFail(work: () => Promise<unknown>): Promise<void> {
  try {
    await work()
  } catch (error) {
    if (!(error instanceof DeviceRefusal)) throw error
  }
}

interface OldFile {
  readonly ids: string
  readonly fileName: string
  readonly scope: 'machine' | 'user'
  readonly hash: string
}

/**
 * Removes old files of ours beyond what the policy keeps: by their bytes, so that none is removed that another has put
 * there since. A display that left keeps none.
 */
export async function removeOldFiles(
  { data, hub, now, workstationId }: Upkeep,
  sought: readonly SoughtDisplay[],
  here: ReadonlySet<number>,
  rules: ReadonlyMap<number, WantedRow>,
): Promise<void> {
  for (const { id } of sought) {
    const keep = here.has(id) ? (rules.get(id)?.rules.keepOld ?? usualRules.keepOld) : 0
    // Names that an open placement has, or may yet have, stay: whatever was there under them was written over.
    const old = await data.query<OldFile[]>(
      `SELECT json_group_array(id) AS ids, file_name AS fileName, scope, profile_hash AS hash FROM placement
       WHERE display_id = ? AND workstation_id = ? AND state = 'withdrawn' AND run_id IS NOT NULL AND tries > 0
         AND removed_at IS NULL AND NOT EXISTS (SELECT 1 FROM placement AS open WHERE open.workstation_id = placement.workstation_id
           AND open.file_name = placement.file_name AND open.state <> 'withdrawn')
       GROUP BY file_name, scope, profile_hash ORDER BY MAX(id) DESC LIMIT ${mostRemoved} OFFSET ${keep}`,
      [id, workstationId],
    )
    for (const { ids, fileName, scope, hash } of old)
      await mayFail(async () => {
        // One that is not removed holds something else by now, or is still bound by somebody: it is not asked for again.
        await hub.send(workstationId, 'host.removeProfile', { fileName, scope, hash })
        await data.query('UPDATE placement SET removed_at = ? WHERE id IN (SELECT value FROM json_each(?))', [
          now(),
          ids,
        ])
      })
  }
}

/** Loads curves that the video card lost, and turns switches of programs, where a policy says so. */
export async function setRight(
  { data, hub, workstationId }: Upkeep,
  sought: readonly SoughtDisplay[],
  read: ReadBack,
  rules: ReadonlyMap<number, WantedRow>,
): Promise<boolean> {
  let did = false
  const does = (work: () => Promise<unknown>) =>
    mayFail(async () => {
      await work()
      did = true
    })
  for (const { serial, state } of read.loaders) {
    const display = sought.find((d) => d.serial === serial)
    if (state !== 'on' && display && rules.get(display.id)?.rules.loader === 'put back')
      await does(() => hub.send(workstationId, 'host.loadCurves', { display: serial }))
  }
  if (!sought.some((d) => rules.get(d.id)?.rules.programs === 'set')) return did
  const { profile } = await studioSettings(data)
  for (const program of read.programs) {
    const change = program.settable ? switchesWanted(program, profile.version) : null
    if (change) await does(() => hub.send(workstationId, 'host.setProgram', { program: program.name, ...change }))
  }
  return did
}

const noteFor = (waits: 'sign-out' | 'restart') =>
  waits === 'restart'
    ? 'The colours of this screen are ready to be renewed. Please restart the workstation when it suits you.'
    : 'The colours of this screen are ready to be renewed. Please sign out and in again when it suits you.'

/** Leaves a note for whoever works there as long as something waits for them, and takes it away after. */
export async function keepNote(
  { data, hub, workstationId }: Upkeep,
  waiting: readonly { waitsFor: 'sign-out' | 'restart'; rules: Pick<Rules, 'note'> }[],
): Promise<void> {
  const asking = waiting.filter((w) => w.rules.note === 'leave one')
  const text = asking.length ? noteFor(asking.some((w) => w.waitsFor === 'restart') ? 'restart' : 'sign-out') : null
  const [{ note }] = await data.query<{ note: string | null }[]>('SELECT note FROM workstation WHERE id = ?', [
    workstationId,
  ])
  if (note === text) return
  await mayFail(async () => {
    await hub.send(workstationId, 'host.leaveNote', { text })
    await data.query('UPDATE workstation SET note = ? WHERE id = ?', [text, workstationId])
  })
}
