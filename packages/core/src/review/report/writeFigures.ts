import { judgingWhite, patchDifference } from '../../aims/differenceFigures'
import type { Metrics } from '../../aims/metrics'
import { differenceFormulas, differenceLabels } from '../../color/differences'
import { writeCsv } from '../../formats/csv'
import { writeReadings } from '../../formats/readings'
import type { FleetReportFacts } from './fleetReport'
import type { RunReportFacts } from './runReport'

/** Digits that keep a figure as it was stored, to what an instrument could ever tell; nothing for one that is not told. */
const figure = (value: number | null | undefined) =>
  typeof value === 'number' && Number.isFinite(value) ? Number(value.toPrecision(9)) : ''

const patchFields = [
  'patch',
  ...['red %', 'green %', 'blue %'],
  ...['aimed X cd/m2', 'aimed Y cd/m2', 'aimed Z cd/m2'],
  ...['read X cd/m2', 'read Y cd/m2', 'read Z cd/m2'],
  ...differenceFormulas.map((f) => differenceLabels[f]),
]

/** Text that a spreadsheet would take for a formula is kept from being one. */
const safe = (text: string) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)

/** Every patch with aim, reading and its difference by every formula, as CSV. */
export function writePatchesCsv(metrics: Metrics): string {
  const white = judgingWhite(metrics)
  return writeCsv(
    patchFields,
    metrics.patches.map((p) => [
      safe(p.name),
      ...p.rgb.map((v) => figure(100 * v)),
      ...p.target.map(figure),
      ...p.xyz.map(figure),
      ...differenceFormulas.map((f) => figure(patchDifference(p, f, white))),
    ]),
  )
}

/** What a run read, as CGATS.17. */
export const writeRunReadings = (f: RunReportFacts): string =>
  writeReadings(f.metrics.patches, {
    description: `${f.display.name}, slot ${f.slot}, ${f.aimName}`,
    createdAt: f.run.at,
    keywords: [
      ['INSTRUMENTATION', f.instrument],
      ['DISPLAY_SERIAL', f.display.serial],
      ['BICHROMA_RUN', String(f.run.id)],
    ],
  })

const fleetFields = [
  ...['room', 'display', 'model', 'slot', 'aim', 'verdict'],
  ...['average ΔE2000', 'worst ΔE2000', 'white Δu′v′', 'luminance off %'],
  ...['read UTC', 'instrument', 'run'],
]

/** The fleet's slots on a date, as CSV. */
export const writeFleetCsv = ({ rows }: FleetReportFacts): string =>
  writeCsv(
    fleetFields,
    rows.map(({ validation: v, ...r }) => [
      ...[r.room, r.displayName, r.model].map(safe),
      r.slot,
      safe(r.label),
      r.verdict,
      ...(v ? [v.averageDeltaE, v.worstDeltaE, v.whiteDeltaUv, v.luminanceOff].map(figure) : ['', '', '', '']),
      ...(v ? [new Date(v.at).toISOString(), safe(v.instrument), v.runId] : ['', '', '']),
    ]),
  )
