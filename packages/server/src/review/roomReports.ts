import { ZipFile } from 'yazl'
import type { Response } from 'express'
import type { DataSource } from 'typeorm'
import type { ContentStore } from '../data/contents'
import { Refusal } from '../http/problem'
import { roomEntity } from '../register/entities'
import { studioLogo } from '../studio/logo'
import { studioSettings } from '../studio/settings'
import { version } from '../version'
import { judgedRun } from './judgedRun'
import { fleetRows, runReportFacts } from './reportFacts'
import { fileNameOf, reportForms, writeFleetReport, writeRunReport, type ReportForm } from './reports'

const forms = Object.keys(reportForms) as ReportForm[]

/** Sends the newest report of every slot of a room, in all forms, and what they come to, as one ZIP. */
export async function sendRoomReports(
  { data, contents, now }: { readonly data: DataSource; readonly contents: ContentStore; readonly now: () => number },
  roomId: number,
  response: Response,
): Promise<undefined> {
  const room = await data.getRepository(roomEntity).findOneBy({ id: roomId })
  if (!room) throw new Refusal('not-found', `There is no room ${roomId}.`)
  const rows = await fleetRows(data, now(), roomId)
  const validated = rows.flatMap((r) => (r.validation ? [{ ...r, validation: r.validation }] : []))
  if (!validated.length)
    throw new Refusal('conflict', `Nothing in ${room.name} has been validated yet, so there is nothing to report.`)
  const logo = await studioLogo(data, contents)
  const day = new Date(now()).toISOString().slice(0, 10)
  const archive = new ZipFile()
  response.attachment(fileNameOf(`${room.name} ${day}`, 'zip')).type('application/zip')
  archive.outputStream.pipe(response)
  const overview = { studio: (await studioSettings(data)).studioName, version, on: now(), rows }
  for (const form of ['pdf', 'csv'] as const)
    archive.addBuffer(await writeFleetReport(overview, form, logo), fileNameOf(room.name, form), {
      mtime: new Date(now()),
    })
  for (const { displayName, slot, validation } of validated) {
    if (response.destroyed) return undefined
    const facts = await runReportFacts(data, await judgedRun(data, validation.runId))
    for (const form of forms)
      archive.addBuffer(
        await writeRunReport(facts, form, { whole: false, logo }),
        `${folderOf(displayName)}/${fileNameOf(`slot ${slot}`, reportForms[form].ending)}`,
        { mtime: new Date(validation.at) },
      )
  }
  archive.end()
  return undefined
}

const folderOf = (displayName: string) => fileNameOf(displayName, '').replace(/\.$/, '')
