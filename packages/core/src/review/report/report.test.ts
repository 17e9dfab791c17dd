import Papa from 'papaparse'
import { resolveAim, targetXyz, type Aim } from '../../aims/aim'
import { judge } from '../../aims/limits'
import { computeMetrics } from '../../aims/metrics'
import { namedLimits } from '../../aims/namedLimits'
import { readReadings } from '../../formats/readings'
import { provePatches } from '../../runs/patches'
import { achievedRows, ruleRows } from '../achieved'
import { fleetReport, type FleetRow } from './fleetReport'
import { runReport, type RunReportFacts } from './runReport'
import { writeFleetCsv, writePatchesCsv, writeRunReadings } from './writeFigures'
import { writeHtmlReport } from './writeHtml'

const aim: Aim = {
  white: { kind: 'standard', name: 'D50' },
  luminance: 90,
  toneResponse: { kind: 'L*' },
  primaries: { kind: 'standard', name: 'opRGB' },
}
const resolved = resolveAim(aim, { white: { x: 0.3, y: 0.3 }, primaries: null as never, black: [0.1, 0.1, 0.1] })
const metrics = computeMetrics(
  provePatches.map(({ name, rgb }) => {
    const [x, y, z] = targetXyz(resolved, rgb)
    return { name, rgb, xyz: [x * 1.013, y, z * 0.97] as const }
  }),
  resolved,
)
const { limits } = namedLimits[0]
const facts: RunReportFacts = {
  studio: 'Fen & Lantern',
  version: '9.9.9',
  run: { id: 41, kind: 'check', at: Date.UTC(2026, 10, 24, 9), startedAt: Date.UTC(2026, 10, 24, 8) },
  display: { name: '<b>Sedge 1', maker: 'Quillon', model: 'Q27', serial: 'Q-1', firmware: '3.1' },
  workstation: 'sedge-02',
  room: 'Sedge Room',
  slot: 2,
  aimName: 'Atlas print',
  aim,
  instrument: 'Colorimeter C3 T-1',
  certifiedAt: Date.UTC(2026, 1, 3),
  by: 'Marit "M" Oyen',
  dueAt: Date.UTC(2026, 11, 22),
  profileName: 'p.icc',
  importedFrom: null,
  withdrawn: null,
  anew: null,
  readsMore: null,
  metrics,
  judgement: judge(metrics, limits),
  limits,
  baseline: metrics,
  evidence: {
    stages: [
      {
        stage: 'ready',
        tookMs: 61_400,
        evidence: ['Warm for 90 minutes'],
        conditions: [{ label: 'Screen saver', found: 'off', ok: true }],
      },
    ],
    readings: 39,
    readingsHash: 'f'.repeat(64),
    correction: 'none',
    tablesHash: 'a'.repeat(64),
    profileHash: 'b'.repeat(64),
  },
}
const html = (whole = false) => writeHtmlReport(runReport(facts, { whole }), { font: null, logo: null })
const words = (text: string) =>
  text
    .replace(/<[^>]+>/g, ' ')
    .replaceAll('&#39;', '’')
    .replace(/\s+/g, ' ')

test('a report holds what the screen holds, to the digit', () => {
  const text = words(html())
  expect(text).toContain(facts.judgement.sentence)
  for (const { name, aim: wanted, achieved, difference } of achievedRows(metrics)) {
    expect(text).toContain(name)
    expect(text).toContain(`${wanted} ${achieved} ${difference}`)
  }
  for (const row of ruleRows(facts.judgement))
    expect(text).toContain(`${row.name} ${row.achieved} ${row.near} ${row.hard}`)
  for (const { name } of provePatches) expect(text).toContain(name)
  for (const rule of limits.rules) expect(text).toContain(rule.reason!)
})

test('says its version and evidence; all evidence when asked for', () => {
  expect(words(html())).toContain(`Made by Bichroma 9.9.9 from run 41: 39 readings, SHA-256 ${'f'.repeat(64)}.`)
  expect(html()).not.toContain('Warm for 90 minutes')
  const whole = words(html(true))
  for (const part of ['Warm for 90 minutes', 'Screen saver', 'certified 3 Feb 2026', '61 s', 'a'.repeat(64)])
    expect(whole).toContain(part)
})

test('escapes what people typed, asks for nothing from outside, and is the same each time', () => {
  expect(html()).not.toContain('<b>Sedge')
  expect(html()).toContain('&lt;b&gt;Sedge 1')
  expect(html().replaceAll('http://www.w3.org/2000/svg', '')).not.toMatch(
    /src="(?!data:)|href=|<script|url\((?!data:)|https?:/,
  )
  expect(html()).toBe(html())
})

test('its charts are strokes within their frame', () => {
  const charts = runReport(facts, { whole: false }).blocks.flatMap((b) => (b.kind === 'charts' ? b.charts : []))
  expect(charts.map((c) => c.title)).toEqual(['Tone error by level', 'Grey tracking', 'Patches', 'Chromaticity'])
  for (const { svg, width, height } of charts) {
    const strokes = [...svg.matchAll(/ d="M([^"]+)"/g)].flatMap((m) => m[1].split('L'))
    expect(strokes.length).toBeGreaterThan(8)
    for (const point of strokes) {
      const [x, y] = point.split(' ').map(Number)
      expect(x >= 0 && x <= width && y >= 0 && y <= height).toBe(true)
    }
  }
})

test('figures as CSV and readings as CGATS give back what was read', () => {
  const { data } = Papa.parse<Record<string, string>>(writePatchesCsv(metrics), { header: true, skipEmptyLines: true })
  expect(data).toHaveLength(39)
  data.forEach((row, i) => {
    expect(row.patch).toBe(metrics.patches[i].name)
    expect(Number(row['read Y cd/m2']) / metrics.patches[i].xyz[1]).toBeCloseTo(1, 7)
    expect(Number(row['ΔE2000'])).toBeCloseTo(metrics.patches[i].deltaE, 7)
  })
  const read = readReadings(writeRunReadings(facts))
  expect(read.format).toBe('CGATS')
  expect(computeMetrics(read.readings, resolved).worstDeltaE).toBeCloseTo(metrics.worstDeltaE, 9)
})

describe('the fleet', () => {
  const row = (n: number, verdict: FleetRow['verdict'], room = 'Sedge Room'): FleetRow => ({
    room,
    displayName: `Display ${n}`,
    model: 'Quillon Q27',
    slot: 1,
    label: '=Atlas',
    verdict,
    validation: {
      runId: n,
      at: Date.UTC(2026, 10, n),
      averageDeltaE: 0.5,
      worstDeltaE: 1.25,
      whiteDeltaUv: 0.0012,
      luminanceOff: -1.26,
      instrument: 'T-1',
    },
  })
  const fleet = {
    studio: '',
    version: '9.9.9',
    on: Date.UTC(2026, 10, 24),
    rows: [row(1, 'within'), row(2, 'outside'), row(3, 'within', 'Dome'), row(5, 'lapsed')],
    kept: {
      days: 30,
      share: 0.914,
      rest: '8 lapsed, 2 out of step',
      rooms: [
        { name: 'Dome', share: 0.5, rest: '8 lapsed' },
        { name: 'Empty hall', share: null, rest: '' },
      ],
    },
  }

  test('is counted by verdict, told by room with the worst first, and names its runs', () => {
    const report = fleetReport(fleet)
    expect(report.sentence).toBe('2 of 4 calibrated slots were within their limits (50 %); 1 outside, 1 lapsed.')
    expect(report.origin).toContain('runs 1–3, 5.')
    const text = words(writeHtmlReport(report, { font: null, logo: null }))
    expect(text.indexOf('Display 2')).toBeLessThan(text.indexOf('Display 1'))
    expect(text).toContain('0.50 1.25 0.0012 −1.3 %')
    expect(text).toContain('91.4 % of display-days in 30 days were proven within limits')
    expect(text).toMatch(/Dome 50\.0 % 8 lapsed Empty hall – none All displays 91\.4 % 8 lapsed, 2 out of step/)
    const without = words(writeHtmlReport(fleetReport({ ...fleet, kept: null }), { font: null, logo: null }))
    expect(without).not.toContain('display-days')
  })

  test('as CSV keeps every digit, and no cell can be taken for a formula', () => {
    const { data } = Papa.parse<Record<string, string>>(writeFleetCsv(fleet), { header: true, skipEmptyLines: true })
    expect(data).toHaveLength(4)
    expect(data[0]).toMatchObject({ aim: "'=Atlas", 'luminance off %': '-1.26', run: '1' })
  })

  test('without a calibration says so', () => {
    expect(fleetReport({ ...fleet, rows: [] }).sentence).toBe('No slot held a calibration by then.')
  })
})
