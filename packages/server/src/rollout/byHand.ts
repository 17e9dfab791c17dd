import { ZipFile } from 'yazl'
import type { Response } from 'express'
import type { DataSource } from 'typeorm'
import { operatingSystemNames } from '@bichroma/core/register'
import { handScript, readFoundText, type FoundByHand } from '@bichroma/core/rollout'
import type { FoundByHandAnswer, Selection } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { atomically, written } from '../data/atomically'
import type { ContentStore } from '../data/contents'
import { dayOf } from '../data/dayOf'
import { logFault } from '../data/log'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { runEntity } from '../runs/entities'
import { displayEntity, type DisplayRow, type WorkstationRow } from '../register/entities'
import { displaysSought, recordFound } from './recordFound'
import type { Rollout } from './rollout'
import { rulesOf } from './upkeep'
import { planWave } from './waves/preview'

interface HandServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly contents: ContentStore
  readonly ledger: Ledger
  readonly rollout: Rollout
  readonly now: () => number
}

/** Profiles that one ZIP holds. */
const mostFiles = 500

const readme = (places: boolean) => `${places ? 'Profiles to be placed by hand' : 'What is in force, by hand'}

For workstations where no courier runs. On each, run the script of its system:
  Windows   powershell -ExecutionPolicy Bypass -File ${places ? 'place' : 'look'}-windows.ps1
  macOS     sh ${places ? 'place' : 'look'}-macos.sh
  Linux     sh ${places ? 'place' : 'look'}-linux.sh
If the workstation has another name than in Bichroma, give that name after the script.
Give what it prints to Rollout, “Read back by hand”. It is marked there as told by hand.
`

/** Sends what a selection wants as a ZIP with a script for each system; or, with nothing to place, the scripts that only look. */
export async function sendHandFiles(
  { data, hub, contents, now }: HandServices,
  selection: Selection,
  does: 'place' | 'look',
  response: Response,
): Promise<undefined> {
  const rows = does === 'look' ? [] : (await planWave(data, hub, selection, now())).filter((r) => r.action === 'place')
  if (does === 'place' && !rows.length)
    throw new Refusal('conflict', 'There is nothing to place: everything that was chosen is as wanted.', 'selection')
  if (rows.length > mostFiles)
    throw new Refusal('conflict', `One ZIP holds ${mostFiles} profiles at most; choose fewer displays.`, 'selection')
  const archive = new ZipFile()
  const at = { mtime: new Date(now()) }
  archive.addBuffer(Buffer.from(readme(does === 'place')), 'README.txt', at)
  for (const system of operatingSystemNames) {
    const own = rows.filter((r) => r.operatingSystem === system)
    if (does === 'place' && !own.length) continue
    const serials = new Map(
      (
        await data.query<{ id: number; serial: string }[]>(
          'SELECT id, serial FROM display WHERE id IN (SELECT value FROM json_each(?))',
          [JSON.stringify(own.map((r) => r.displayId))],
        )
      ).map((d) => [d.id, d.serial]),
    )
    const { name, text } = handScript(
      system,
      own.map((r) => ({
        workstation: r.workstationName,
        serial: serials.get(r.displayId)!,
        fileName: r.fileName!,
        hash: r.profileHash!,
      })),
    )
    archive.addBuffer(Buffer.from(text), name, { ...at, mode: 0o100755 })
  }
  response.attachment(`rollout-${does}-${dayOf(now())}.zip`).type('application/zip')
  archive.outputStream.pipe(response)
  try {
    const added = new Set<string>()
    for (const { fileName, profileHash } of rows) {
      if (response.destroyed) return undefined
      if (added.has(fileName!)) continue
      added.add(fileName!)
      const bytes = await contents.get(profileHash!)
      if (!bytes) throw new Error(`The profile ${profileHash} is not among the contents.`)
      archive.addBuffer(Buffer.from(bytes), `profiles/${fileName}`, at)
    }
    archive.end()
  } catch (error) {
    logFault('Profiles to be placed by hand', error)
    response.destroy()
  }
  return undefined
}

/** What a script printed, or a Refusal that says what is wrong with it. */
function foundTextOf(text: string): FoundByHand {
  try {
    return readFoundText(text)
  } catch (error) {
    throw new Refusal('invalid-input', (error as Error).message, 'text')
  }
}

/** The workstation that a script ran on; systems differ in the case of its letters. */
const workstationNamed = async (data: DataSource, host: string): Promise<WorkstationRow | null> =>
  (
    await data.query<WorkstationRow[]>(
      `SELECT id, name, room_id AS roomId FROM workstation WHERE lower(name) = lower(?) AND retired_at IS NULL LIMIT 1`,
      [host],
    )
  )[0] ?? null

/**
 * Takes what a script printed for what is found on its workstation, marked as told by hand. A profile that is wanted and was
 * found counts as placed from then on.
 */
export async function takeFoundByHand(
  { data, hub, ledger, rollout, now }: HandServices,
  text: string,
  who: { id: number; name: string },
): Promise<FoundByHandAnswer> {
  const told = foundTextOf(text)
  const workstation = await workstationNamed(data, told.host)
  if (!workstation)
    throw new Refusal(
      'not-found',
      `There is no workstation “${told.host}”. Give the script its name in Bichroma.`,
      'text',
    )
  if (hub.helloOf(workstation.id))
    throw new Refusal('conflict', `The courier on ${workstation.name} is connected and reads back by itself.`, 'text')
  const sought = (await displaysSought(data, workstation.id)).filter((d) =>
    told.displays.some((t) => t.serial === d.serial),
  )
  const at = now()
  const bindings = told.displays.flatMap(({ serial, path, hash }) =>
    path === null
      ? []
      : [
          {
            serial,
            scope: 'user' as const,
            path,
            hash,
            waitsFor: null,
            associations: { machine: [], user: [path.slice(path.search(/[^/\\]*$/)).slice(0, 255)], perUser: true },
            by: null,
          },
        ],
  )
  await recordFound(
    data,
    workstation.id,
    sought,
    { bindings, slots: [], loaders: [], programs: [] },
    at,
    'hand',
    (take) =>
      take(
        ledger.entry(who, {
          act: 'verified',
          thing: 'workstation',
          id: workstation.id,
          name: workstation.name,
          evidence: { told: 'by hand', displays: sought.length },
        }),
      ),
  )
  const wanted = await rulesOf(
    data,
    sought.map((d) => d.id),
  )
  let placed = 0
  for (const { id, serial } of sought) {
    const bound = bindings.find((b) => b.serial === serial)
    const want = wanted.get(id)
    if (!bound?.hash || !want?.runId || want.profileHash !== bound.hash) continue
    const display: DisplayRow = await data.getRepository(displayEntity).findOneByOrFail({ id })
    const current = await rollout.agreements.currentOf(id, workstation.id)
    if (current?.state === 'sent' && current.profileHash === bound.hash) continue
    const run = await data.getRepository(runEntity).findOneByOrFail({ id: want.runId })
    const placing = await rollout.agreements.placing(run, display, workstation.id)
    atomically(data, (take) => {
      const made = rollout.agreements.agreeTo(take, who, display, {
        ...placing,
        fileName: bound.associations.user[0],
        scope: 'user',
        why: 'hand',
      })
      take(
        written(
          `UPDATE placement SET state = 'sent', tries = 1, placed_at = ?, verified_at = ?, path = ? WHERE id = ?`,
          [at, at, bound.path, made],
        ),
      )
    })
    placed++
  }
  rollout.tend([workstation.id])
  return {
    workstation: workstation.name,
    displays: sought.length,
    placed,
    unknown: told.displays.filter((t) => !sought.some((d) => d.serial === t.serial)).map((t) => t.serial),
  }
}
