import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import type { Metrics } from '@bichroma/core/aims'
import { writeReadings } from '@bichroma/core/formats'
import {
  fleetReport,
  runReport,
  writeFleetCsv,
  writeHtmlReport,
  writePatchesCsv,
  writeRunReadings,
  type FleetReportFacts,
  type ReportDocument,
  type RunReportFacts,
} from '@bichroma/core/review'
import { nodeHash } from '../data/nodeHash'
import type { Logo } from '../studio/lookAtPicture'
import { writePdfReport } from './writePdf'

/** What a report can be had as: its media type, and the ending of its name. */
export const reportForms = {
  html: { type: 'text/html; charset=utf-8', ending: 'html' },
  pdf: { type: 'application/pdf', ending: 'pdf' },
  csv: { type: 'text/csv; charset=utf-8', ending: 'csv' },
  cgats: { type: 'text/plain; charset=utf-8', ending: 'cgats' },
} as const
export type ReportForm = keyof typeof reportForms

let font: Promise<string> | null = null
/** The interface's own type, for reports that carry it with them. */
const reportFont = () =>
  (font ??= readFile(
    createRequire(import.meta.url).resolve('@fontsource/spline-sans/files/spline-sans-latin-400-normal.woff2'),
    'base64',
  ))

async function asDocument(report: ReportDocument, form: 'html' | 'pdf', logo: Logo | null): Promise<Buffer> {
  if (form === 'pdf') return writePdfReport(report, logo && Buffer.from(logo.bytes))
  const dataUrl = logo && `data:${logo.type};base64,${Buffer.from(logo.bytes).toString('base64')}`
  return Buffer.from(writeHtmlReport(report, { font: await reportFont(), logo: dataUrl }))
}

/** What a report tells, as it is stored: the figures are text, and what is told of the readings is worked out from them. */
export type StoredReportFacts = Omit<RunReportFacts, 'metrics' | 'evidence'> & {
  readonly metricsText: string
  readonly evidence: Omit<RunReportFacts['evidence'], 'readings' | 'readingsHash'>
}

function told({ metricsText, ...stored }: StoredReportFacts): RunReportFacts {
  const metrics = JSON.parse(metricsText) as Metrics
  const { id, at } = stored.run
  const readings = writeReadings(metrics.patches, { description: `Run ${id}`, createdAt: at })
  return {
    ...stored,
    metrics,
    evidence: {
      ...stored.evidence,
      readings: metrics.patches.length,
      readingsHash: nodeHash(new TextEncoder().encode(readings)),
    },
  }
}

/** A run's report in one of its forms; `whole` adds the evidence of every stage. */
export async function writeRunReport(
  stored: StoredReportFacts,
  form: ReportForm,
  { whole, logo }: { readonly whole: boolean; readonly logo: Logo | null },
): Promise<Uint8Array> {
  const facts = told(stored)
  if (form === 'csv') return Buffer.from(writePatchesCsv(facts.metrics))
  if (form === 'cgats') return Buffer.from(writeRunReadings(facts))
  return asDocument(runReport(facts, { whole }), form, logo)
}

/** The fleet's report; CGATS has no form for it. */
export async function writeFleetReport(
  facts: FleetReportFacts,
  form: Exclude<ReportForm, 'cgats'>,
  logo: Logo | null,
): Promise<Uint8Array> {
  return form === 'csv' ? Buffer.from(writeFleetCsv(facts)) : asDocument(fleetReport(facts), form, logo)
}
