import type { Response } from 'express'
import type { DataSource } from 'typeorm'
import { IsNull, LessThanOrEqual, Not } from 'typeorm'
import { fileNameOf } from '@bichroma/core/basics'
import {
  importReadingsSchema,
  validate,
  withdrawSchema,
  yup,
  type RunReview,
  type TrailPoint,
} from '@bichroma/contract'
import { validationEntity } from '../drift/entities'
import { studioLogo } from '../studio/logo'
import { studioSettings } from '../studio/settings'
import { version } from '../data/version'
import { idOf, type Api } from '../http/api'
import { queryOf } from '../http/query'
import { displayEntity } from '../register/entities'
import { fleetKept } from '../rounds/keptTask'
import { roundsSettings } from '../rounds/settings'
import { runEntity, runFacts, type RunFacts } from '../runs/entities'
import { summarizeRuns } from '../runs/summaries'
import { importReadings } from './importReadings'
import { judgedRun, metricsTextOf, type JudgedRun } from './judgedRun'
import { fleetRows, runReportFacts } from './reportFacts'
import { reportForms, writeFleetReport, writeRunReport, type ReportForm } from './reports'
import { sendRoomReports } from './roomReports'
import { type ReviewServices } from './services'
import { dayOf } from '../data/dayOf'
import { withdrawValidation } from './withdraw'

/** Validations of a slot that lead up to one, newest last. */
const longestTrail = 12

async function trailOf(data: DataSource, row: JudgedRun): Promise<{ ids: number[]; trail: TrailPoint[] }> {
  const at = row.summary?.at ?? row.startedAt
  const before = await data.getRepository(validationEntity).find({
    select: { id: true, runId: true, at: true },
    where: { displayId: row.displayId, slot: row.slot, label: row.label, at: LessThanOrEqual(at) },
    order: { at: 'DESC', id: 'DESC' },
    take: longestTrail,
  })
  const ids = before.map((v) => v.runId).filter((id) => id !== row.id)
  // Only what the trail shows, one run after another: the figures of every patch can be many.
  const whitesOf = new Map<number, { white: string; primaries: string | null }>()
  for (const id of ids) {
    const [found] = await data.query<{ white: string; primaries: string | null }[]>(
      `SELECT metrics -> '$.white' AS white, metrics -> '$.primaries' AS primaries FROM run
       WHERE id = ? AND metrics IS NOT NULL`,
      [id],
    )
    if (found) whitesOf.set(id, found)
    await new Promise((resolve) => setImmediate(resolve))
  }
  const trail = before
    .filter((v) => v.runId !== row.id)
    .reverse()
    .flatMap(({ runId, at }): TrailPoint[] => {
      const found = whitesOf.get(runId)
      return found
        ? [{ runId, at, white: JSON.parse(found.white), primaries: JSON.parse(found.primaries ?? 'null') }]
        : []
    })
  return { ids, trail }
}

export function reviewRoutes(api: Api, services: ReviewServices): void {
  const { data, contents, threads, now, changed } = services

  api.on('GET /runs/:id/review', async (request, response) => {
    // Figures of thousands of patches are sent on as they are stored.
    response.type('application/json').send(await reviewOf(data, await judgedRun(data, idOf(request))))
  })
  api.on('POST /displays/:id/validations', async (request, response) => {
    const input = validate(importReadingsSchema, request.body)
    const id = await importReadings(services, idOf(request), input, request.account)
    changed(id)
    response.status(201)
    return { id }
  })

  api.on('POST /runs/:id/withdraw', async (request) => {
    const { reason } = validate(withdrawSchema, request.body)
    const run = await judgedRun(data, idOf(request))
    await withdrawValidation(services, run, reason, request.account)
    changed(run.id)
    return {}
  })

  api.on('GET /runs/:id/report', async (request, response) => {
    const { as, evidence } = queryOf(request, runReportQuery)
    const facts = await runReportFacts(data, await judgedRun(data, idOf(request)))
    const logo = await studioLogo(data, contents)
    const name = `${facts.display.name} slot ${facts.slot} ${dayOf(facts.run.at)}`
    sendReport(response, as, name, await threads.run(writeRunReport, facts, as, { whole: evidence === '1', logo }))
  })
  api.on('GET /reports/fleet', async (request, response) => {
    const { as, on } = queryOf(request, fleetReportQuery)
    const end = on === undefined ? now() : Date.parse(`${on}T23:59:59.999Z`)
    const studio = (await studioSettings(data)).studioName
    const kept = await threads.run(fleetKept, {
      file: String(data.options.database),
      now: end,
      zone: (await roundsSettings(data)).hours.zone,
    })
    const facts = { studio, version, on: end, rows: await fleetRows(data, end), kept }
    const logo = await studioLogo(data, contents)
    sendReport(response, as, `Fleet ${dayOf(end)}`, await threads.run(writeFleetReport, facts, as, logo))
  })
  api.on('GET /rooms/:id/reports', (request, response) => sendRoomReports(services, idOf(request), response))
}

const isDay = (value: string | undefined) =>
  value === undefined ||
  // A day that no calendar has, as in 2026-02-31, is read as another: it does not come back as it was written.
  (/^\d{4}-\d{2}-\d{2}$/.test(value) && !Number.isNaN(Date.parse(value)) && dayOf(Date.parse(value)) === value)

/** What a report can be asked as. */
export const runReportQuery = yup
  .object({
    as: yup
      .string<ReportForm>()
      .oneOf(Object.keys(reportForms) as ReportForm[])
      .default('html'),
    evidence: yup.string().oneOf(['0', '1']).default('0'),
  })
  .noUnknown()
const fleetForms = ['html', 'pdf', 'csv'] as const
/** What the fleet's report can be asked as, and as of which day. */
export const fleetReportQuery = yup
  .object({
    as: yup
      .string<(typeof fleetForms)[number]>()
      .oneOf([...fleetForms])
      .default('html'),
    on: yup
      .string()
      .strict()
      .test('day', ({ path }) => `“${path}” must be a day, as in 2026-11-24.`, isDay)
      .optional(),
  })
  .noUnknown()

/** Sends a report: pages to look at, figures and PDF to keep. */
function sendReport(response: Response, form: ReportForm, name: string, bytes: Uint8Array): void {
  const { type, ending } = reportForms[form]
  if (form !== 'html') response.attachment(`${fileNameOf(name, 'report')}.${ending}`)
  response
    .set('content-type', type)
    .set('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'; font-src data:; img-src data:")
    .send(Buffer.from(bytes))
}

/** The newest map of a display's screen. */
async function uniformityBefore(data: DataSource, displayId: number): Promise<RunReview['uniformity']> {
  const run = await data.getRepository(runEntity).findOne({
    select: { id: true, endedAt: true, startedAt: true, uniformity: true },
    where: { displayId, state: 'done', kind: 'uniformity', uniformity: Not(IsNull()) },
    order: { id: 'DESC' },
  })
  return run?.uniformity ? { runId: run.id, at: run.endedAt ?? run.startedAt, map: run.uniformity } : null
}

/** What Review shows of a run, as JSON: a RunReview. */
async function reviewOf(data: DataSource, row: JudgedRun): Promise<string> {
  const { ids, trail } = await trailOf(data, row)
  const before: RunFacts | null = ids.length
    ? await data.getRepository(runEntity).findOne({ select: runFacts, where: { id: ids[0] } })
    : null
  const [run, previous] = await summarizeRuns(data, before ? [row, before] : [row])
  const { name } = await data.getRepository(displayEntity).findOneByOrFail({ id: row.displayId })
  const review: Omit<RunReview, 'metrics' | 'previous'> = {
    run,
    displayName: name,
    aim: row.aim,
    resolvedAim: row.resolvedAim,
    limits: row.limits,
    judgement: row.judgement,
    baseline: row.baseline,
    uniformity: await uniformityBefore(data, row.displayId),
    trail,
    profileHash: row.profileHash,
    profileName: row.profileName,
  }
  const metricsBefore = before && (await metricsTextOf(data, before.id))
  const previousText = metricsBefore ? `{"run":${JSON.stringify(previous)},"metrics":${metricsBefore}}` : 'null'
  return `${JSON.stringify(review).slice(0, -1)},"metrics":${row.metricsText},"previous":${previousText}}`
}
