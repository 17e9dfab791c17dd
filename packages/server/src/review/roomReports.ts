import { ZipFile } from 'yazl'
import type { Response } from 'express'
import { distinctNames, fileNameOf } from '@bichroma/core/basics'
import { Refusal } from '../http/problem'
import { logFault } from '../data/log'
import { roomEntity } from '../register/entities'
import { studioLogo } from '../studio/logo'
import { studioSettings } from '../studio/settings'
import { version } from '../data/version'
import { judgedRun } from './judgedRun'
import { fleetRows, runReportFacts } from './reportFacts'
import { reportForms, writeFleetReport, writeRunReport, type ReportForm } from './reports'
import { type ReviewServices } from './services'
import { dayOf } from '../data/dayOf'

const forms = Object.keys(reportForms) as ReportForm[]

/** Sends the newest report of every slot of a room, in all forms, and what they come to, as one ZIP. */
export async function sendRoomReports(
  { data, contents, threads, now }: ReviewServices,
  roomId: number,
  response: Response,
): Promise<undefined> {
  const room = await data.getRepository(roomEntity).findOneBy({ id: roomId })
  if (!room) throw new Refusal('not-found', `There is no room ${roomId}.`)
  const at = now()
  const rows = await fleetRows(data, at, roomId)
  const validated = rows.flatMap((r) => (r.validation ? [{ ...r, validation: r.validation }] : []))
  if (!validated.length)
    throw new Refusal('conflict', `Nothing in ${room.name} has been validated yet, so there is nothing to report.`)
  const logo = await studioLogo(data, contents)
  const roomName = fileNameOf(room.name, `room-${roomId}`)
  const overview = { studio: (await studioSettings(data)).studioName, version, on: at, rows, kept: null }
  const archive = new ZipFile()
  for (const form of ['pdf', 'csv'] as const)
    archive.addBuffer(
      Buffer.from(await threads.run(writeFleetReport, overview, form, logo)),
      `${roomName}.${reportForms[form].ending}`,
      { mtime: new Date(at) },
    )
  response.attachment(`${roomName}-${dayOf(at)}.zip`).type('application/zip')
  archive.outputStream.pipe(response)
  try {
    const folders = foldersOf(validated)
    for (const { displayId, slot, validation } of validated) {
      if (response.destroyed) return undefined
      const facts = await runReportFacts(data, await judgedRun(data, validation.runId))
      for (const form of forms)
        archive.addBuffer(
          Buffer.from(await threads.run(writeRunReport, facts, form, { whole: false, logo })),
          `${folders.get(displayId)}/${fileNameOf(`slot ${slot}`, 'slot')}.${reportForms[form].ending}`,
          { mtime: new Date(validation.at) },
        )
    }
    archive.end()
  } catch (error) {
    // It is on its way already: cut off, so that nobody takes a part for the whole.
    logFault(`The reports of room ${roomId}`, error)
    response.destroy()
  }
  return undefined
}

/** A folder for each display: its name where that tells it from the others. */
function foldersOf(rows: readonly { displayId: number; displayName: string }[]): Map<number, string> {
  const distinct = distinctNames()
  const folders = new Map<number, string>()
  for (const { displayId, displayName } of rows)
    if (!folders.has(displayId)) folders.set(displayId, distinct(fileNameOf(displayName, `display-${displayId}`)))
  return folders
}
