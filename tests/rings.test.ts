import { join } from 'node:path'
import Database from 'better-sqlite3'
import { fenLantern } from '@bichroma/bench'
import type { Instrument, InstrumentsDue, LedgerEntry, Page, Problem, Ring } from '@bichroma/contract'
import { displayBody } from '../scripts/displayBody'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'
import { others, twoColorimeters } from './twoColorimeters'

const day = 86_400_000
/** What the second colorimeter reads more. */
const more = 0.02

let studio: Studio
beforeEach(async () => {
  studio = await Studio.open(twoColorimeters(more))
})
afterEach(() => studio.close())

/** Both instruments are known once they have been plugged in. */
async function instruments(): Promise<number[]> {
  const known = async () => studio.admin.get<Instrument[]>('/instruments')
  for (const serial of [others, live.instrument]) {
    studio.bench.carry(serial, live.workstation)
    await until(
      async () => (await known()).some((i) => i.serial === serial && i.workstationId !== null),
      `${serial} is here`,
    )
  }
  const all = await known()
  return [live.instrument, others].map((serial) => all.find((i) => i.serial === serial)!.id)
}
const rings = async () => (await studio.admin.get<Page<Ring>>('/rings')).items
const start = (body: object) => studio.admin.post<{ id: number }>('/rings', body)
const problemOf = async (path: string, body: object) => {
  const response = await studio.admin.raw('POST', path, body)
  return { ...((await response.json()) as Problem), status: response.status }
}

test('a ring reads each display there and back, one step after another, and tells what each instrument reads more @long @long', async () => {
  await studio.finish(await studio.start({ sampling: 'brief' }))
  const [one, two] = await instruments()
  // As certain as a few looks make it.
  await start({ instruments: [one, two], displays: [studio.displayId], reference: one, wanted: 0.0005 })
  const [begun] = await rings()
  expect(begun.state).toBe('under way')
  expect(begun.steps.slice(0, 4).map((s) => s.instrumentId)).toEqual([one, two, two, one])
  let last = begun
  // The next waits until the one before has ended, and for its own instrument.
  for (;;) {
    const [ring] = await rings()
    if (ring.state !== 'under way') break
    if (ring.steps.length) last = ring
    const open = ring.steps.filter((s) => s.runState && s.runState !== 'done')
    expect(open.length).toBeLessThanOrEqual(1)
    expect(ring.steps.findIndex((s) => s.runId === null)).not.toBe(0)
    const here = open[0] && (open[0].instrumentId === one ? live.instrument : others)
    if (here) studio.bench.carry(here, live.workstation)
    await until(async () => {
      const [now] = await rings()
      const run = open[0] && now.steps[open[0].seq]
      if (now.steps.length) last = now
      return now.state !== 'under way' || run?.runState === 'done' || !open[0]
    }, 'the step has ended')
  }
  const [ring] = await rings()
  expect(ring).toMatchObject({ state: 'done', says: null, referenceId: one })
  // Those of one that has ended are told by their number.
  expect(ring).toMatchObject({ steps: [], stepCount: begun.steps.length, displays: 1 })
  expect(last.steps.slice(0, -1).every((s) => s.runState === 'done')).toBe(true)
  const [{ offsets, panelKind, displays }] = ring.result!
  expect([panelKind, displays]).toEqual([null, 1])
  expect(offsets![0]).toMatchObject({ instrument: one, luminance: { value: 0 } })
  const { luminance } = offsets![1]
  // By its own interval, and surely not none.
  expect(Math.abs(luminance.value - more)).toBeLessThan(2 * luminance.within)
  expect(luminance.value).toBeGreaterThan(luminance.within)
  const ledger = await studio.admin.get<Page<LedgerEntry>>('/ledger?thing=ring')
  expect(ledger.items.map((e) => e.act)).toEqual(['started'])
})

test('a ring that cannot go on is broken off and says why; one goes on at a time @long', async () => {
  const [one, two] = await instruments()
  // Its slot holds nothing to read.
  await start({ instruments: [one, two], displays: [studio.displayId], reference: null, wanted: 0.002 })
  expect((await rings())[0]).toMatchObject({
    state: 'broken off',
    says: expect.stringMatching(/holds no calibration/) as string,
  })
  await studio.finish(await studio.start({ sampling: 'brief' }))
  studio.bench.carry(live.instrument, 'sedge-01')
  studio.bench.carry(others, 'sedge-01')
  await until(
    async () => (await studio.admin.get<Instrument[]>('/instruments')).every((i) => i.workstationId === null),
    'both are away',
  )
  const { id } = await start({ instruments: [one, two], displays: [studio.displayId], reference: null, wanted: 0.002 })
  expect(
    await problemOf('/rings', {
      instruments: [one, two],
      displays: [studio.displayId],
      reference: null,
      wanted: 0.002,
    }),
  ).toMatchObject({ status: 409, detail: expect.stringMatching(/under way already/) as string })
  await until(async () => (await rings())[0].steps[0].message !== null, 'it waits for hands')
  const waiting = (await rings())[0].steps[0].runId!
  // It goes on where it was when the server is back.
  await studio.restartServer()
  expect((await rings())[0]).toMatchObject({ id, state: 'under way' })
  await studio.admin.post(`/rings/${id}/stop`)
  expect((await rings())[0]).toMatchObject({ state: 'broken off', says: 'Stopped by administrator.' })
  await until(async () => (await studio.run(waiting)).state === 'stopped', 'its run is stopped as well')
  expect((await problemOf(`/rings/${id}/stop`, {})).status).toBe(409)
  expect((await problemOf('/rings/99/stop', {})).status).toBe(404)
})

test('a ring falls due twice a year and before a certificate ends, with what it may be laid with', async () => {
  const due = () => studio.admin.get<InstrumentsDue>('/rounds/instruments-due')
  const [one, two] = await instruments()
  await studio.finish(await studio.start({ sampling: 'brief' }))
  const first = (await due()).ring!
  expect(first).toMatchObject({ why: 'never laid', last: null, instrument: null })
  expect(first.instruments.map((i) => i.id)).toEqual([one, two])
  expect(first.displays).toEqual([expect.objectContaining({ id: studio.displayId, room: 'Sedge Room' })])
  const { id } = await start({ instruments: [one, two], displays: [studio.displayId], reference: null, wanted: 0.002 })
  expect((await due()).ring).toBeNull()
  await studio.admin.post(`/rings/${id}/stop`)
  // One that was broken off is none.
  expect((await due()).ring).toMatchObject({ why: 'never laid' })
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
  const ended = (daysAgo: number) =>
    store.prepare(`UPDATE ring SET state = 'done', ended_at = ?`).run(studio.clock.now() - daysAgo * day)
  ended(10)
  const certified = store.prepare('UPDATE instrument SET certified_at = ? WHERE id = ?')
  for (const instrument of [one, two]) certified.run(Math.round(studio.clock.now() - 20 * day), instrument)
  expect((await due()).ring).toBeNull()
  ended(150)
  expect((await due()).ring).toMatchObject({ why: 'half a year' })
  certified.run(Math.round(studio.clock.now() - 340 * day), two)
  expect((await due()).ring).toMatchObject({
    why: 'certificate ends',
    instrument: expect.stringContaining(others) as string,
  })
  // With one alone there is nobody to agree with.
  store.prepare(`UPDATE instrument SET kept = 'stored' WHERE id = ?`).run(two)
  store.close()
  expect(await due()).toEqual({ ring: null, corrections: [], correctionsInAll: 0 })
})

test('bad rings are refused by the field at fault @long', async () => {
  const [one, two] = await instruments()
  const { name: _name, ...body } = displayBody(fenLantern.workstations[0].displays[0], {
    ...{ workstationId: studio.ids.workstation, limitsId: studio.ids.limits, checkEveryDays: 28 },
  })
  const more: number[] = []
  for (let n = 0; n < 11; n++)
    more.push((await studio.admin.post<{ id: number }>('/displays', { ...body, name: `D${n}`, serial: `S-${n}` })).id)
  const good = { instruments: [one, two], displays: [studio.displayId], reference: null, wanted: 0.002 }
  const bad: [object, string][] = [
    [{ instruments: [one] }, 'instruments'],
    [{ instruments: [one, one] }, 'instruments'],
    [{ instruments: [one, 99] }, 'instruments'],
    [{ displays: [] }, 'displays'],
    [{ displays: [99] }, 'displays'],
    [{ reference: 99 }, 'reference'],
    [{ wanted: 0 }, 'wanted'],
    [{ displays: [studio.displayId, ...more], wanted: 0.0002 }, 'wanted'],
    [{ wanted: '0.1' }, 'wanted'],
  ]
  for (const [change, field] of bad)
    expect([change, await problemOf('/rings', { ...good, ...change })]).toMatchObject([change, { status: 400, field }])
  expect(await rings()).toEqual([])
})
