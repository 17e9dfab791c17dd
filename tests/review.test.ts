import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { PNG } from 'pngjs'
import yauzl from 'yauzl'
import { targetXyz, type ResolvedAim } from '@bichroma/core/aims'
import type { PatchReading } from '@bichroma/core/color'
import { writeReadings } from '@bichroma/core/formats'
import { achievedRows } from '@bichroma/core/review'
import { checkPlans } from '@bichroma/core/runs'
import type {
  DisplayListing,
  Problem,
  RunDetail,
  RunReview,
  SlotHistory,
  SlotOutlook,
  StudioSettings,
} from '@bichroma/contract'
import { runCli } from '../packages/cli/src/cli'
import { demoAims, demoLimits } from '../scripts/demoStudio'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

const day = 86_400_000
let studio: Studio
let run: RunDetail
let aim: ResolvedAim
const folder = mkdtempSync(join(tmpdir(), 'bichroma-review-'))
const put = (name: string, contents: string | Uint8Array) => {
  writeFileSync(join(folder, name), contents)
  return join(folder, name)
}

// Each has a studio of its own: what it imports counts for the others' verdicts and trends.
beforeEach(async () => {
  studio = await Studio.proven()
  run = await studio.run(1)
  expect(run.state).toBe('done')
  aim = (await review(run.id)).resolvedAim!
})
afterEach(() => studio.close())
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const review = (id: number) => studio.admin.get<RunReview>(`/runs/${id}/review`)
const checked = async (change: Record<string, unknown> = {}) =>
  studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined, ...change }))
const bytesOf = async (path: string) => {
  const response = await studio.admin.raw('GET', path)
  return {
    status: response.status,
    type: response.headers.get('content-type')!,
    bytes: Buffer.from(await response.arrayBuffer()),
  }
}

/** Sends a picture as the studio's logo; throws the sentence of a refusal. */
const sendLogo = async (bytes: Uint8Array) => {
  const response = await fetch(`${studio.server.url}/api/settings/logo`, {
    method: 'PUT',
    headers: { cookie: studio.admin.cookie, 'content-type': 'image/png' },
    body: new Uint8Array(bytes),
  })
  if (!response.ok) throw new Error(((await response.json()) as Problem).detail)
}

/** Readings of a display that lost so much of its light since it was on the aim. */
const readingsAt = (lost: number): PatchReading[] =>
  checkPlans.many.patches.map(({ name, rgb }) => {
    const [x, y, z] = targetXyz(aim, rgb)
    return { name, rgb, xyz: [x * (1 - lost), y * (1 - lost), z * (1 - lost) * 0.995] }
  })
const cgats = (readings: readonly PatchReading[]) => writeReadings(readings, { description: 'elsewhere', createdAt: 0 })
const importing = (change: Record<string, unknown> = {}) => ({
  slot: 1,
  fileName: 'old.cgats',
  text: cgats(readingsAt(0.02)),
  readAt: Math.floor(studio.clock.now()) - 5000,
  instrument: 'Old puck',
  ...change,
})
const doImport = (change: Record<string, unknown> = {}) =>
  studio.admin.post<{ id: number }>(`/displays/${studio.displayId}/validations`, importing(change))

describe('a check reads the patches that it was asked to', () => {
  test('few of them, and judges by what they tell @long', async () => {
    const check = await checked({ patches: { kind: 'plan', name: 'few' } })
    expect(check).toMatchObject({ state: 'done', message: null, patches: { kind: 'plan', name: 'few' } })
    const { metrics } = await review(check.id)
    expect(metrics.patches.map((p) => p.name)).toEqual(checkPlans.few.patches.map((p) => p.name))
  })

  test('those of a list of one’s own; a broken one is refused with its line, other kinds refuse any @long', async () => {
    const text = 'name,R,G,B\nFern,20,60,10\nWall,90,88,80\n'
    const check = await checked({ patches: { kind: 'own', fileName: 'mine.csv', text } })
    expect((await review(check.id)).metrics.patches.map((p) => p.name)).toEqual(['White', 'Black', 'Fern', 'Wall'])
    // Figures that such a list does not tell are said not to have been read.
    expect(check.judged!.sentence).not.toContain('undefined')
    const refused = (change: object) =>
      studio.admin.raw('POST', '/runs', { displayId: studio.displayId, kind: 'check', slot: 1, ...change })
    const broken = await refused({ patches: { kind: 'own', fileName: 'mine.csv', text: 'R,G,B\n1,2,x\n' } })
    expect(broken.status).toBe(400)
    expect(((await broken.json()) as Problem).detail).toMatch(/^mine\.csv, line 2: “B” must be a number/)
    const spot = await refused({ kind: 'spot', patches: { kind: 'plan', name: 'few' } })
    expect(((await spot.json()) as Problem).detail).toContain('Only a check run chooses its patches')
    const unknown = await refused({ patches: { kind: 'plan', name: 'all' } })
    expect(((await unknown.json()) as Problem).detail).toContain('must be one of: few, some, usual, many, most')
  })
})

describe('readings from elsewhere', () => {
  test('are judged like a run’s, with the figures of the judge command, and become the slot’s verdict', async () => {
    const { id } = await doImport({ readAt: Math.floor(studio.clock.now()) })
    const { metrics, judgement, run: summary } = await review(id)
    expect(summary).toMatchObject({
      imported: { fileName: 'old.cgats', format: 'CGATS' },
      instrument: 'Old puck',
      readings: 64,
    })
    const printed: string[] = []
    runCli(
      [
        'judge',
        put('old.cgats', cgats(readingsAt(0.02))),
        ...['--aim', put('aim.json', JSON.stringify(demoAims['Atlas web']))],
        ...['--limits', put('limits.json', JSON.stringify(demoLimits['Plate work']))],
        '--json',
      ],
      { print: (line) => printed.push(line), complain: (line) => printed.push(line), now: () => 0 },
    )
    const told = JSON.parse(printed.join('\n')) as { metrics: typeof metrics; verdict: string; sentence: string }
    for (const figure of ['averageDeltaE', 'worstDeltaE', 'luminanceOff', 'whiteDeltaUv', 'averageGreyChroma'] as const)
      expect(told.metrics[figure]).toBeCloseTo(metrics[figure], 9)
    expect([told.verdict, told.sentence]).toEqual([judgement.verdict, judgement.sentence])
    expect(metrics.luminanceOff).toBeCloseTo(-2, 9)
    expect((await studio.display()).slots[0].judged!.runId).toBe(id)
  })

  test('older than the newest validation join the history and leave the verdict alone', async () => {
    const judged = (await studio.display()).slots[0].judged!.runId
    const { id } = await doImport({ readAt: run.startedAt - 40 * day })
    expect((await studio.display()).slots[0].judged!.runId).toBe(judged)
    const { history } = await studio.admin.get<SlotHistory>(`/drift/${studio.displayId}`)
    expect(history[0]).toMatchObject({ runId: id, imported: true, instrument: 'Old puck' })
    // A calibration begins a new stretch.
    expect(history.map((h) => h.segment)).toEqual([...history.map((h) => h.segment)].sort())
    expect(history.find((h) => h.calibrated)!.runId).toBe(run.id)
  })

  test('for an empty slot are judged by an aim that is chosen', async () => {
    const response = await studio.admin.raw('POST', `/displays/${studio.displayId}/validations`, importing({ slot: 3 }))
    expect(response.status).toBe(409)
    expect(((await response.json()) as Problem).detail).toContain('Slot 3 holds no aim to judge by')
    const { id } = await doImport({ slot: 3, aimId: studio.aimIds['Panel wide'] })
    expect((await review(id)).aim.primaries.kind).toBe('panel')
  })

  const whole = () => cgats(readingsAt(0))
  test.each<[string, () => Record<string, unknown>, RegExp]>([
    ['cut short', () => ({ text: whole().slice(0, 900) }), /^old\.cgats, line \d+: /],
    ['without readings', () => ({ text: 'R,G,B\n1,1,1\n' }), /^old\.cgats: The columns XYZ_X/],
    ['without white', () => ({ text: whole().replace(/^1 .*$/m, '1 Grey 50 50 50 20 20 20') }), /^old\.cgats: .*white/],
    ['whose white is dark', () => ({ text: 'R,G,B,X,Y,Z\n1,1,1,0,0,0\n0,0,0,0,0,0\n' }), /^old\.cgats: .*no light/],
    ['that are no text of any format', () => ({ text: '\u0000\u0001\u0002' }), /^old\.cgats: /],
    ['from tomorrow', () => ({ readAt: Math.floor(studio.clock.now()) + day }), /lies ahead/],
    ['without an instrument', () => ({ instrument: ' ' }), /“Instrument” is missing/],
    ['of a slot that is not there', () => ({ slot: 7 }), /there is no slot 7/],
    ['by an aim that is not there', () => ({ aimId: 999 }), /This aim is not there any more/],
    ['on no scale', () => ({ scale: 7 }), /must be one of: 1, 100, 255, 1023/],
  ])('%s are refused in one sentence, and nothing is stored', async (_, change, sentence) => {
    const before = (await studio.admin.list<unknown>('/runs')).length
    const response = await studio.admin.raw('POST', `/displays/${studio.displayId}/validations`, importing(change()))
    expect(response.status).toBeGreaterThanOrEqual(400)
    expect(response.status).toBeLessThan(500)
    expect(((await response.json()) as Problem).detail).toMatch(sentence)
    expect((await studio.admin.list<unknown>('/runs')).length).toBe(before)
  })

  test('need a technician', async () => {
    const viewer = await studio.as('viewer')
    expect((await viewer.raw('POST', `/displays/${studio.displayId}/validations`, importing())).status).toBe(403)
  })
})

describe('drift', () => {
  // Slot 2 loses 0.4 % of its light a month.
  beforeEach(async () => {
    for (let i = 1; i <= 5; i++)
      await doImport({
        slot: 2,
        aimId: studio.aimIds['Atlas web'],
        text: cgats(readingsAt(0.004 * i)),
        readAt: run.startedAt - (200 - 30 * i) * day,
      })
  })

  test('a date is foretold from four checks on, is later where the limits are wider, and follows the limits', async () => {
    const slot = async () =>
      (await studio.admin.list<SlotOutlook>('/drift/slots')).find(
        (s) => s.slot === 2 && s.displayId === studio.displayId,
      )!
    const before = await slot()
    expect(before).toMatchObject({ validations: 5, instrument: 'Old puck' })
    if (before.forecast?.kind !== 'crosses') throw new Error(before.forecast?.kind)
    expect(before.rule).toBe('Luminance off aim')
    // 0.4 % a month from 0.4 %: 5 % of luminance is gone 11.5 months after the first check.
    expect(Math.abs(before.forecast.at - (run.startedAt - 170 * day + 11.6 * 30 * day))).toBeLessThan(20 * day)
    const { name, limits } = { name: 'Plate work', limits: demoLimits['Plate work'] }
    const wider = { ...limits, rules: limits.rules.map((r) => ({ ...r, hard: r.hard * 2 })) }
    await studio.admin.put(`/limits/${studio.ids.limits}`, { name, limits: wider })
    const after = await slot()
    if (after.forecast?.kind !== 'crosses') throw new Error(after.forecast?.kind)
    expect(after.forecast.at).toBeGreaterThan(before.forecast.at + 200 * day)
    await studio.admin.put(`/limits/${studio.ids.limits}`, { name, limits })
  })

  test('of one slot gives every figure with its rule, its trend and its forecast', async () => {
    const history = await studio.admin.get<SlotHistory>(`/drift/${studio.displayId}?slot=2`)
    expect(history.rules.map((r) => r.rule.metric)).toEqual(demoLimits['Plate work'].rules.map((r) => r.metric))
    expect(history.rules.every((r) => r.trend!.observations === 5)).toBe(true)
    await expect(studio.admin.get('/drift/999')).rejects.toThrow('There is no display 999')
    await expect(studio.admin.get(`/drift/${studio.displayId}?slot=9`)).rejects.toThrow(
      '“slot” must be a whole number from 1 to 8',
    )
  })

  test('what is missing from a store of an older version is filed when the server starts @long', async () => {
    const before = await studio.admin.get<SlotHistory>(`/drift/${studio.displayId}`)
    const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
    store.exec('DELETE FROM validation; DELETE FROM slot_drift')
    store.close()
    await studio.restartServer()
    expect(await studio.admin.get<SlotHistory>(`/drift/${studio.displayId}`)).toEqual(before)
  })

  test('a calibration that was taken back leaves the history @long', async () => {
    const again = await studio.finish(await studio.start({ sampling: 'brief' }))
    const runs = async () =>
      (await studio.admin.get<SlotHistory>(`/drift/${studio.displayId}?slot=1`)).history.map((h) => h.runId)
    expect(await runs()).toContain(again.id)
    await studio.admin.post(`/runs/${again.id}/put-back`, {})
    await studio.server.engine.ended(again.id)
    expect(await runs()).not.toContain(again.id)
  })

  test('moves the due line forward where the chance of being outside is more than the studio accepts @long', async () => {
    for (let i = 1; i <= 5; i++)
      await doImport({
        aimId: studio.aimIds['Atlas web'],
        text: cgats(readingsAt(0.004 * i)),
        readAt: run.startedAt - (200 - 30 * i) * day,
      })
    const listed = async () =>
      (await studio.admin.list<DisplayListing>('/displays')).find((d) => d.id === studio.displayId)!
    const { name, limitsId, checkEveryDays } = await studio.display()
    const every = (days: number) =>
      studio.admin.put(`/displays/${studio.displayId}`, { name, limitsId, checkEveryDays: days })
    const settings = await studio.admin.get<StudioSettings>('/settings')
    const accept = (accepted: number) => studio.admin.put('/settings', { ...settings, accepted })
    expect(settings.accepted).toBe(0.1)
    // Its calendar is over long before it leaves its limits.
    await every(20)
    let now = await listed()
    expect(now.dueAt).toBe(now.calendarAt)
    expect(now.forecastAt).toBeGreaterThan(now.calendarAt!)
    // With a calendar of two years the forecast is sooner, and is what the display’s own page says too.
    await every(730)
    now = await listed()
    expect(now.dueAt).toBe(now.forecastAt)
    expect(now.forecastAt).toBeLessThan(now.calendarAt!)
    const { dueAt, dueState, calendarAt, forecastAt } = await studio.display()
    expect({ dueAt, dueState, calendarAt, forecastAt }).toEqual({
      dueAt: now.dueAt,
      dueState: now.dueState,
      calendarAt: now.calendarAt,
      forecastAt: now.forecastAt,
    })
    // Who accepts more goes later.
    const forecasts: number[] = []
    for (const accepted of [0.02, 0.5]) {
      await accept(accepted)
      await until(async () => (await listed()).forecastAt !== now.forecastAt, 'forecasts are made anew')
      now = await listed()
      forecasts.push(now.forecastAt!)
    }
    expect(forecasts[0]).toBeLessThan(forecasts[1])
    await expect(accept(0.9)).rejects.toThrow('“Accepted chance”')
    await expect(accept(0)).rejects.toThrow('“Accepted chance”')
    expect((await listed()).forecastAt).toBe(forecasts[1])
    await accept(0.1)
    await every(checkEveryDays)
  })
})

describe('reports', () => {
  const logo = () =>
    PNG.sync.write(Object.assign(new PNG({ width: 40, height: 20 }), { data: Buffer.alloc(3200, 128) }))

  test('as PDF: text there, fonts embedded, charts not empty, the same bytes each time @long', async () => {
    const { bytes, type } = await bytesOf(`/runs/${run.id}/report?as=pdf&evidence=1`)
    expect(type).toBe('application/pdf')
    const file = put('report.pdf', bytes)
    const text = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ')
    const { metrics, judgement } = await review(run.id)
    expect(text).toContain(judgement.sentence)
    for (const r of achievedRows(metrics)) expect(text).toContain(`${r.aim} ${r.achieved} ${r.difference}`)
    for (const words of ['Evidence of the run', 'Readiness', '39 readings, SHA-256']) expect(text).toContain(words)
    const fonts = execFileSync('pdffonts', [file], { encoding: 'utf8' }).trim().split('\n').slice(2)
    expect(fonts.length).toBeGreaterThan(0)
    for (const line of fonts) expect(line).toMatch(/\byes\s+yes\s+yes\b/)
    execFileSync('pdftoppm', ['-r', '50', '-png', '-f', '1', '-l', '1', file, join(folder, 'page')])
    const page = PNG.sync.read(
      readFileSync(
        readdirSync(folder)
          .filter((f) => f.startsWith('page-'))
          .map((f) => join(folder, f))[0],
      ),
    )
    // The lower half of the first page holds the charts: strokes on paper, neither empty nor black.
    const dark = [...page.data].filter((v, i) => i % 4 === 0 && i > page.data.length / 2 && v < 200).length
    const share = dark / (page.width * page.height * 0.5)
    expect(share).toBeGreaterThan(0.005)
    expect(share).toBeLessThan(0.3)
    expect((await bytesOf(`/runs/${run.id}/report?as=pdf&evidence=1`)).bytes.equals(bytes)).toBe(true)
  })

  test('as HTML: one file that asks for nothing, with the studio’s name, logo and type', async () => {
    const settings = await studio.admin.get<object>('/settings')
    await studio.admin.put('/settings', { ...settings, studioName: 'Fen & Lantern' })
    await sendLogo(logo())
    const { bytes, type } = await bytesOf(`/runs/${run.id}/report`)
    expect(type).toContain('text/html')
    const html = bytes.toString('utf8')
    expect(html).toContain('Fen &amp; Lantern')
    expect(html).toContain('src="data:image/png;base64,')
    expect(html).toContain('url(data:font/woff2;base64,')
    expect(html.replaceAll('http://www.w3.org/2000/svg', '')).not.toMatch(/https?:|src="(?!data:)|<script/)
    expect((await bytesOf(`/runs/${run.id}/report?as=pdf`)).bytes.subarray(0, 5).toString()).toBe('%PDF-')
  })

  test('figures as CSV and readings as CGATS; what is none is refused', async () => {
    expect((await bytesOf(`/runs/${run.id}/report?as=csv`)).bytes.toString().trim().split('\n')).toHaveLength(40)
    const { id } = await doImport({ text: (await bytesOf(`/runs/${run.id}/report?as=cgats`)).bytes.toString() })
    expect((await review(id)).metrics.averageDeltaE).toBeCloseTo(run.judged!.averageDeltaE, 9)
    const { status, bytes } = await bytesOf(`/runs/${run.id}/report?as=doc`)
    expect([status, (JSON.parse(bytes.toString()) as Problem).detail]).toEqual([
      400,
      expect.stringContaining('must be one of: html, pdf, csv, cgats'),
    ])
  })

  test('a logo that is no picture, or a damaged one, is refused, and the old one stays', async () => {
    await sendLogo(logo())
    for (const bytes of [Buffer.from('no picture'), logo().subarray(0, 60)])
      await expect(sendLogo(bytes)).rejects.toThrow(/PNG|damaged/)
    expect((await bytesOf('/settings/logo')).bytes.equals(logo())).toBe(true)
    await studio.admin.ask('DELETE', '/settings/logo')
    expect((await bytesOf('/settings/logo')).status).toBe(404)
  })

  test('the fleet on a date tells what held then', async () => {
    const on = (at: number) => new Date(at).toISOString().slice(0, 10)
    const before = await bytesOf(`/reports/fleet?as=csv&on=${on(run.startedAt - 500 * day)}`)
    expect(before.bytes.toString().trim().split('\n')).toHaveLength(1)
    const now = await bytesOf(`/reports/fleet?as=csv&on=${on(studio.clock.now())}`)
    expect(now.bytes.toString()).toContain('Sedge 2')
    expect((await bytesOf('/reports/fleet?as=pdf')).bytes.subarray(0, 5).toString()).toBe('%PDF-')
    for (const bad of ['2026-13-40', 'tomorrow']) expect((await bytesOf(`/reports/fleet?on=${bad}`)).status).toBe(400)
  })

  test('of a room come as one ZIP, a folder for each display with every form @long', async () => {
    const { bytes, type } = await bytesOf(`/rooms/${studio.ids.room}/reports`)
    expect(type).toBe('application/zip')
    const names = await new Promise<string[]>((resolve, reject) =>
      yauzl.fromBuffer(bytes, { lazyEntries: false }, (error, zip) => {
        if (error) return reject(error)
        const found: string[] = []
        zip.on('entry', (entry: { fileName: string }) => found.push(entry.fileName))
        zip.on('end', () => resolve(found))
        zip.on('error', reject)
      }),
    )
    expect(names).toEqual(
      expect.arrayContaining([
        'Sedge-Room.pdf',
        'Sedge-Room.csv',
        'Sedge-2/slot-1.pdf',
        'Sedge-2/slot-1.html',
        'Sedge-2/slot-1.csv',
        'Sedge-2/slot-1.cgats',
      ]),
    )
    expect((await bytesOf('/rooms/999/reports')).status).toBe(404)
  })
})

test('a display that shows another slot than the one to be checked is refused, with the name of what it shows @long', async () => {
  await studio.finish(await studio.start({ slot: 2, aimId: studio.aimIds['Loop video'], sampling: 'brief' }))
  const display = studio.bench.display(live.serial)
  const obey = display.activateSlot.bind(display)
  display.activateSlot = async () => display.getControls()
  const check = await checked({ slot: 1 })
  display.activateSlot = obey
  expect(check).toMatchObject({ state: 'failed', judged: null })
  expect(check.message).toContain('shows slot 2 “Loop video”, not slot 1 “Atlas web”, and does not switch by command')
  expect((await checked({ slot: 1 })).state).toBe('done')
})
