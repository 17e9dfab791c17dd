import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { Metrics } from '@bichroma/core/aims'
import type {
  DisplayDetail,
  Instrument,
  InstrumentOffsetTold,
  LedgerEntry,
  Page,
  Problem,
  RunDetail,
  RunReview,
  SlotHistory,
} from '@bichroma/contract'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'
import { others, twoColorimeters } from './twoColorimeters'

/** What the second colorimeter reads more. */
const more = 0.03

let studio: Studio
let one: number
let two: number
beforeEach(async () => {
  studio = await Studio.open(twoColorimeters(more))
  studio.bench.carry(others, live.workstation)
  const known = () => studio.admin.get<Instrument[]>('/instruments')
  await until(async () => (await known()).filter((i) => i.workstationId !== null).length === 2, 'both are here')
  const all = await known()
  ;[one, two] = [live.instrument, others].map((serial) => all.find((i) => i.serial === serial)!.id)
})
afterEach(() => studio.close())

const offsets = () => studio.admin.get<InstrumentOffsetTold[]>('/instrument-offsets')
const inState = (state: InstrumentOffsetTold['state']) =>
  until(async () => (await offsets())[0].state === state, `the offset is ${state}`)
const check = async (instrumentId: number) => studio.finish(await studio.start({ kind: 'check', instrumentId }))
const figuresOf = async (id: number) => {
  const { metrics, judgement } = await studio.admin.get<RunReview>(`/runs/${id}/review`)
  return { metrics: metrics as Metrics, judgement }
}
const problemOf = async (path: string, body: object = {}) => {
  const response = await studio.admin.raw('POST', path, body)
  return { ...((await response.json()) as Problem), status: response.status }
}
const told = (id: number) => studio.run(id).then(({ judged, anew, log }: RunDetail) => ({ judged, anew, log }))

/** A ring that has told that the second instrument reads more, as `tests/rings.test.ts` has one tell it. */
function ring(): number {
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
  const offset = (instrument: number, luminance: number) => ({
    instrument,
    luminance: { value: luminance, within: 0.002 },
    u: { value: 0, within: 0.0001 },
    v: { value: 0, within: 0.0001 },
  })
  const result = [{ panelKind: null, displays: 1, offsets: [offset(one, 0), offset(two, more)] }]
  const { lastInsertRowid } = store
    .prepare(
      `INSERT INTO ring (reference_id, wanted, uncertainty, started_at, by, state, ended_at, result)
       VALUES (?, 0.001, 0.001, ?, 'administrator', 'done', ?, ?)`,
    )
    .run(one, Math.round(studio.clock.now()), Math.round(studio.clock.now()), JSON.stringify(result))
  store.close()
  return Number(lastInsertRowid)
}

test('an offset is weighed, taken into account and put away: figures follow, readings and what was told before stay @long @long', async () => {
  await studio.finish(await studio.start({ sampling: 'brief', instrumentId: one }))
  const ringId = ring()
  const before = await check(two)
  const asRead = await figuresOf(before.id)
  const plain = await check(one)
  const weigh = { instrumentId: two, source: 'ring', ringId, since: before.startedAt - 1000 }
  const { id } = await studio.admin.post<{ id: number }>('/instrument-offsets', weigh)
  await inState('weighed')
  expect((await offsets())[0]).toMatchObject({ id, instrumentId: two, runs: 1, judged: 0, ringId })
  // Weighing changes nothing.
  expect(await figuresOf(before.id)).toEqual(asRead)
  expect(await problemOf('/instrument-offsets', weigh)).toMatchObject({ status: 409, field: 'instrumentId' })

  await studio.admin.post(`/instrument-offsets/${id}/take`)
  await inState('taken')
  const anew = await told(before.id)
  expect(anew.anew).toMatchObject({
    ...{ offsetId: id, by: 'administrator', since: weigh.since, verdict: asRead.judgement.verdict },
    averageDeltaE: asRead.metrics.averageDeltaE,
  })
  expect(anew.anew!.luminance).toBeCloseTo(more, 9)
  const after = await figuresOf(before.id)
  expect(after.metrics.luminance / asRead.metrics.luminance).toBeCloseTo(1 / (1 + more), 6)
  // Nothing that was read is another.
  expect(anew.log).toEqual(before.log)
  // It says of the display what the other instrument says.
  const own = await figuresOf(plain.id)
  expect(Math.abs(after.metrics.luminance / own.metrics.luminance - 1)).toBeLessThan(0.01)
  expect((await told(plain.id)).anew).toBeNull()
  const [other] = await offsets()
  expect(other).toMatchObject({
    runs: 1,
    judged: 1,
    others: Number(after.judgement.verdict !== asRead.judgement.verdict),
  })
  const report = await studio.admin.raw('GET', `/runs/${before.id}/report?as=html`)
  expect(await report.text()).toMatch(/Judged anew: .*TC-0522.* has read \+3\.0 %.*As it was read/s)

  // What is read from now on has it taken out as it is read; a spot run tells what the instrument reads.
  const next = await check(two)
  expect(next.anew).toBeNull()
  const white = (run: RunDetail) => run.log.find((r) => r.stage === 'prove' && r.rgb.every((v) => v === 1))!.xyz[1]
  expect(Math.abs(white(next) / white(plain) - 1)).toBeLessThan(0.01)
  const spot = await studio.finish(await studio.start({ kind: 'spot', instrumentId: two }))
  expect(white(spot) / white(plain)).toBeGreaterThan(1 + more / 2)

  // Put away, all is as it was read, to the last digit; what was read with it taken out keeps that.
  await studio.admin.post(`/instrument-offsets/${id}/end`)
  await inState('ended')
  expect(await figuresOf(before.id)).toEqual(asRead)
  expect((await told(before.id)).anew).toBeNull()
  expect(white(await studio.run(next.id))).toBe(white(next))
  expect(await problemOf(`/instrument-offsets/${id}/take`)).toMatchObject({ status: 409 })
  expect(await problemOf(`/instrument-offsets/${id}/end`)).toMatchObject({ status: 409 })
  const { items } = await studio.admin.get<Page<LedgerEntry>>('/ledger?thing=instrument')
  expect(items.filter((e) => e.changes?.some((c) => c.field === 'taken into account'))).toHaveLength(2)
})

test('the display stands as it was judged anew; a server that ends in between goes on where it was @long', async () => {
  await studio.finish(await studio.start({ sampling: 'brief', instrumentId: one }))
  const ringId = ring()
  const runs = [await check(two), await check(two), await check(two)]
  const since = runs[0].startedAt - 1000
  await studio.admin.post('/instrument-offsets', { instrumentId: two, source: 'ring', ringId, since })
  await studio.restartServer()
  await inState('weighed')
  expect((await offsets())[0].runs).toBe(3)
  const [{ id }] = await offsets()
  await studio.admin.post(`/instrument-offsets/${id}/take`)
  await studio.restartServer()
  await inState('taken')
  const display = await studio.admin.get<DisplayDetail>(`/displays/${studio.displayId}`)
  const newest = await figuresOf(runs[2].id)
  expect(display.slots[0].judged).toMatchObject({ runId: runs[2].id, luminance: newest.metrics.luminance })
  const { history } = await studio.admin.get<SlotHistory>(`/drift/${studio.displayId}?slot=1`)
  expect(history.at(-1)).toMatchObject({ runId: runs[2].id, verdict: newest.judgement.verdict })
  // One that is put away while it is still being weighed leaves nothing behind.
  await studio.admin.post(`/instrument-offsets/${id}/end`)
  await inState('ended')
  await studio.admin.post('/instrument-offsets', { instrumentId: two, source: 'ring', ringId, since })
  const second = (await offsets())[0].id
  await studio.admin.post(`/instrument-offsets/${second}/end`)
  await until(async () => (await offsets()).every((o) => o.state === 'ended'), 'it is put away')
  expect((await offsets()).map((o) => o.runs)).toEqual([0, 0])
})

test('a validation that cannot be judged anew stays as it is, and stands in no other’s way @long', async () => {
  await studio.finish(await studio.start({ sampling: 'brief', instrumentId: one }))
  const ringId = ring()
  const [odd, well] = [await check(two), await check(two)]
  const since = odd.startedAt - 1000
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
  const { metrics } = store.prepare('SELECT metrics FROM run WHERE id = ?').get(odd.id) as { metrics: string }
  const nowhere = JSON.stringify({ ...(JSON.parse(metrics) as Metrics), patches: [] })
  store.prepare('UPDATE run SET metrics = ? WHERE id = ?').run(nowhere, odd.id)
  store.close()
  await studio.admin.post('/instrument-offsets', { instrumentId: two, source: 'ring', ringId, since })
  await inState('weighed')
  await studio.admin.post(`/instrument-offsets/${(await offsets())[0].id}/take`)
  await inState('taken')
  expect((await offsets())[0]).toMatchObject({ runs: 2, judged: 2 })
  const as = async (run: RunDetail) => (await told(run.id)).judged!.luminance
  expect(await as(odd)).toBe(odd.judged!.luminance)
  expect(await as(well)).toBeLessThan(well.judged!.luminance)
})

test('a panel that contradicted its kind is not within by being judged anew @long', async () => {
  await studio.finish(await studio.start({ sampling: 'brief', instrumentId: one }))
  const ringId = ring()
  const [odd, well] = [await check(two), await check(two)]
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
  const step = store.prepare(`SELECT id, result FROM run_step WHERE run_id = ? AND key = 'own colours'`)
  const { id, result } = step.get(odd.id) as { id: number; result: string }
  const looked = JSON.parse(result) as { value: { value: Record<'red' | 'green', number[]> } }
  // As an instrument would see primaries that no panel of its kind has.
  looked.value.value.red = [...looked.value.value.green]
  store.prepare('UPDATE run_step SET result = ? WHERE id = ?').run(JSON.stringify(looked), id)
  await studio.admin.post('/instrument-offsets', {
    ...{ instrumentId: two, source: 'ring', ringId, since: odd.startedAt - 1000 },
  })
  await inState('weighed')
  const judged = (run: RunDetail) =>
    (store.prepare('SELECT judgement FROM run_anew WHERE run_id = ?').get(run.id) as { judgement: string }).judgement
  expect(judged(odd)).toContain('Nothing can be told while')
  expect(judged(well)).not.toContain('Nothing can be told while')
  store.close()
})

test('bad offsets are refused by the field at fault', async () => {
  const ringId = ring()
  const good = { instrumentId: two, source: 'ring', ringId, since: 1 }
  const bad: [object, number, string | undefined, RegExp][] = [
    [{ instrumentId: 999 }, 400, 'instrumentId', /not there/],
    [{ ringId: 999 }, 400, 'ringId', /not there/],
    [{ ringId: null }, 400, 'ringId', /needs the ring/],
    [{ since: null }, 400, 'since', /the day since when/],
    [{ since: 1e15 }, 400, 'since', /1970 to 2100/],
    [{ since: studio.clock.now() + 1e9 }, 400, 'since', /a day that has been|must be/],
    [{ source: 'guess' }, 400, 'source', /source/],
    [{ luminance: 0.5 }, 400, undefined, /luminance/],
    [{ instrumentId: one }, 409, 'instrumentId', /held against/],
    [{ source: 'checks', ringId: null, since: null }, 409, 'instrumentId', /do not tell/],
  ]
  for (const [change, status, field, says] of bad) {
    const problem = await problemOf('/instrument-offsets', { ...good, ...change })
    expect([change, problem.status]).toEqual([change, status])
    expect(problem.detail).toMatch(says)
    if (field) expect(problem.field).toBe(field)
  }
  expect(await offsets()).toEqual([])
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
  store.prepare('UPDATE ring SET started_at = 1').run()
  store.close()
  expect(await problemOf('/instrument-offsets', good)).toMatchObject({
    status: 409,
    detail: expect.stringMatching(/was certified after that ring/) as string,
  })
  for (const path of ['/instrument-offsets/9/take', '/instrument-offsets/x/end'])
    expect((await problemOf(path)).status).toBe(404)
  const technician = await studio.as('technician')
  expect((await technician.raw('POST', '/instrument-offsets', good)).status).toBe(403)
})
