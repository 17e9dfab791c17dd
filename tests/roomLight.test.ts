import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { Aim } from '@bichroma/core/aims'
import type {
  Instrument,
  LightDay,
  LightWeeks,
  Page,
  LedgerEntry,
  Room,
  RoomLightEntry,
  RoundsHouse,
  StudioSettings,
  Week,
} from '@bichroma/contract'
import { demoAims } from '../scripts/demoStudio'
import { FaultyDisk } from '../scripts/ordeal/faultyDriver'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

const minute = 60_000
const hour = 60 * minute
const day = 24 * hour
/** A second instrument, so that one can watch while the other reads. */
const other = 'TC-0522'

let studio: Studio
afterEach(() => studio.close())

const room = async () => (await studio.admin.get<Room[]>('/rooms')).find((r) => r.id === studio.ids.room)!
const watch = async () => (await room()).watch!
const change = async (body: object) =>
  studio.admin.put(`/rooms/${studio.ids.room}`, { name: (await room()).name, ...body })
const idOf = async (serial: string) =>
  (await studio.admin.get<Instrument[]>('/instruments')).find((i) => i.serial === serial)!.id
const look = () => studio.server.light.look()
/** Lets so many minutes pass, and looks. */
async function pass(minutes: number) {
  studio.clock.jumpTo(studio.clock.now() + minutes * minute)
  await look()
}
/** Signs in anew: days may have passed. */
const signIn = async () => (studio.admin = await studio.as('administrator'))
const today = () => studio.admin.get<LightDay>(`/rooms/${studio.ids.room}/light/day`)
const light = (illuminanceLux: number) => studio.bench.setRoom('Sedge Room', { illuminanceLux })
const seat = (serial: string, optics: 'open' | 'diffuser') => {
  const instrument = studio.bench.instrument(serial)
  instrument.seat = { ...instrument.seat, optics }
}

/** A studio with an instrument left in its room, in the middle of a day. */
async function watched(serial = other) {
  studio = await Studio.open()
  studio.clock.jumpTo(Math.ceil(studio.clock.now() / day) * day + 9 * hour)
  await signIn()
  const { hours, minutes, walk } = await studio.admin.get<RoundsHouse>('/rounds/house')
  const always = { from: '00:00', to: '24:00' }
  const settings = { ...hours, zone: 'UTC', desk: Array.from({ length: 7 }, () => always), lunch: null }
  await studio.admin.put('/rounds/settings', { hours: settings, minutes, walk })
  studio.bench.carry(serial, live.workstation)
  await until(
    async () =>
      (await studio.admin.get<Instrument[]>('/instruments')).some(
        (i) => i.serial === serial && i.workstationId !== null,
      ),
    'it is there',
  )
  await change({ light: { lux: { from: 30, to: 80 } } })
  seat(serial, 'diffuser')
  await studio.admin.post(`/rooms/${studio.ids.room}/watch`, { instrumentId: await idOf(serial) })
}

test('an instrument that is left in a room reads its light every five minutes, and what each hour was adds up', async () => {
  await watched()
  expect(await watch()).toMatchObject({ state: 'reading', standing: 'within', out: null, by: 'administrator' })
  await pass(2)
  expect((await today()).readings).toHaveLength(1)
  const shown: number[] = []
  for (let i = 0; i < 30; i++) {
    light((shown[i] = 40 + i))
    await pass(5)
  }
  const { readings, hours, times } = await today()
  expect(readings).toHaveLength(31)
  // As the room was, by the instrument's own noise and wear.
  for (const [i, lux] of shown.entries()) expect(readings[i + 1].illuminanceLux / lux).toBeCloseTo(1, 1)
  expect(times).toEqual([])
  for (const h of hours) {
    const of = readings.filter((r) => Math.floor(r.at / hour) * hour === h.at)
    expect(h.readings).toBe(of.length)
    expect(h.lux).toBeCloseTo(of.reduce((sum, r) => sum + r.illuminanceLux, 0) / of.length, 9)
    expect(h.least).toBe(Math.min(...of.map((r) => r.illuminanceLux)))
    expect(h.most).toBe(Math.max(...of.map((r) => r.illuminanceLux)))
    expect(1e6 / h.kelvin!).toBeCloseTo(of.reduce((sum, r) => sum + 1e6 / r.kelvin!, 0) / of.length, 6)
  }
  const log = await studio.admin.get<RoomLightEntry[]>(`/rooms/${studio.ids.room}/light`)
  expect(log[0]).toMatchObject({ by: 'its watch', instrument: expect.stringContaining(other) })
  // One at a time, wherever it is.
  const refused = await studio.admin.raw('POST', `/rooms/${studio.ids.room}/watch`, { instrumentId: await idOf(other) })
  expect(refused.status).toBe(409)
  const { id } = await studio.admin.post<{ id: number }>('/rooms', { name: 'Reed Loft' })
  const elsewhere = await studio.admin.raw('POST', `/rooms/${id}/watch`, { instrumentId: await idOf(other) })
  expect(await elsewhere.json()).toMatchObject({ detail: expect.stringContaining('watches Sedge Room') })
})

test('out of what is wanted for longer than the room allows: told at the desks once a day, and quiet once it is back @long @long', async () => {
  await watched()
  const said = async () => {
    await studio.server.rounds.reminders.look()
    return (studio.bench.desks()[live.workstation]?.messages ?? []).map((m: { text: string }) => m.text)
  }
  light(300)
  await pass(5)
  expect(await watch()).toMatchObject({
    standing: 'out',
    out: { problem: expect.stringMatching(/^\d+ lx, wanted 30 to 80 lx$/) },
  })
  expect(await said()).toEqual([])
  for (let i = 0; i < 3; i++) await pass(5)
  expect(await watch()).toMatchObject({ standing: 'out too long' })
  expect(await said()).toEqual([
    expect.stringMatching(/^The light of Sedge Room is not as it is wanted since 09:05: \d+ lx/),
  ])
  const { token } = await studio.admin.post<{ token: string }>(`/workstations/${studio.ids.workstation}/desk-link`)
  const page = () => studio.admin.get<{ light: string | null }>(`/desk/${token}`)
  expect((await page()).light).toContain('Sedge Room')
  light(60)
  await pass(5)
  await pass(5)
  expect(await watch()).toMatchObject({ standing: 'within', out: null })
  expect(await said()).toEqual([])
  expect((await page()).light).toBeNull()
  // A second time on one day stands on the page, and is not said again.
  light(500)
  for (let i = 0; i < 5; i++) await pass(5)
  expect(await watch()).toMatchObject({ standing: 'out too long' })
  expect(await said()).toEqual([])
  expect((await page()).light).toContain('Sedge Room')
  light(60)
  await pass(5)
  await pass(5)
  const { times } = await today()
  // Each reading takes its second.
  expect(times.map((t) => [t.told, Math.round((t.until! - t.from) / minute)])).toEqual([
    [true, 20],
    [true, 25],
  ])
  studio.clock.jumpTo((Math.floor(studio.clock.now() / day) + 1) * day + 9 * hour)
  await signIn()
  light(500)
  await look()
  for (let i = 0; i < 4; i++) await pass(5)
  expect(await said()).toHaveLength(1)
}, 60_000)

test('a run takes the instrument away and gives it back; until its diffuser is in front again the watch says so @long @long', async () => {
  await watched(live.instrument)
  seat(live.instrument, 'open')
  const puck = studio.bench.instrument(live.instrument)
  puck.knock(60)
  const id = await studio.start({ sampling: 'brief' })
  await studio.reach(id, 'waiting')
  await pass(6)
  expect(await watch()).toMatchObject({ state: 'in a run' })
  puck.seat = { place: { x: 0, y: 0 }, tilt: 0, optics: 'open' }
  await studio.admin.post(`/runs/${id}/resume`, {})
  expect((await studio.finish(id)).state).toBe('done')
  await look()
  expect(await watch()).toMatchObject({ state: 'refused', says: expect.stringContaining('diffuser') })
  seat(live.instrument, 'diffuser')
  await pass(2)
  expect(await watch()).toMatchObject({ state: 'reading', says: null })
}, 60_000)

test('an instrument that is carried away, pulled or put away is told; a run may start in the moment of a reading @long @long', async () => {
  await watched()
  studio.bench.instrument(other).pluggedIn = false
  await pass(6)
  expect(await watch()).toMatchObject({ state: 'refused', says: expect.stringContaining('does not answer') })
  studio.bench.instrument(other).pluggedIn = true
  studio.bench.disconnect(live.workstation)
  await until(async () => !(await studio.display()).live, 'the courier is away')
  await look()
  // Couriers come and go: it is told after a minute.
  expect((await watch()).state).toBe('refused')
  await pass(2)
  expect((await watch()).state).toBe('away')
  expect((await watch()).standing).toBe('within')
  await pass(30)
  expect((await watch()).standing).toBe('unknown')
  await studio.connect()
  await until(async () => (await watch()).state === 'reading', 'it reads again')
  // Both at once: whoever starts a run waits for the reading instead of being refused.
  studio.clock.jumpTo(studio.clock.now() + 6 * minute)
  const looking = look()
  const [started] = await Promise.all([
    studio.admin.raw('POST', `/rooms/${studio.ids.room}/light`, { instrumentId: await idOf(other) }),
    looking,
  ])
  expect(started.status).toBe(201)
  await studio.admin.put(`/instruments/${await idOf(other)}`, { kept: 'stored', why: 'at its maker’s' })
  expect((await room()).watch).toBeNull()
})

test('a queued run that the light would spoil waits for it, and begins by itself; others do not wait @long', async () => {
  await watched()
  const follows: Aim = { ...demoAims['Atlas web'], luminance: 90, fromRoom: true }
  const aimId = await studio.addAim('Follows', follows)
  const nobody = await studio.admin.raw('POST', '/runs', {
    displayId: studio.displayId,
    kind: 'full',
    slot: 1,
    aimId,
    overwrites: '',
  })
  expect(await nobody.json()).toMatchObject({
    detail: expect.stringContaining('nobody has agreed on one for Sedge Room'),
  })
  await change({ level: { lux: 400 } })
  light(300)
  for (let i = 0; i < 5; i++) await pass(5)
  const id = await studio.start({ aimId, sampling: 'brief', begins: 'turn', instrumentId: await idOf(live.instrument) })
  await until(async () => ((await studio.run(id)).message ?? '').includes('waits for light'), 'it waits')
  expect((await studio.run(id)).message).toMatch(
    /It waits for light\. The light of Sedge Room is \d+ lx, wanted 30 to 80 lx, since 09:05\./,
  )
  light(60)
  await pass(5)
  await pass(5)
  await until(async () => (await studio.run(id)).state !== 'queued', 'it has begun')
  const run = await studio.finish(id)
  expect(run.state).toBe('done')
  // 0.85 E ÷ π of what was agreed, and the slot keeps that it follows.
  expect(run.aim).toMatchObject({ luminance: 108, fromRoom: true })
  expect(run.judged!.luminance).toBeCloseTo(108, -1)
}, 60_000)

test('a run that was begun waits in Ready, and goes on by itself when the light is back @long', async () => {
  await watched()
  await change({ holdsRuns: 'all' })
  light(300)
  for (let i = 0; i < 5; i++) await pass(5)
  const id = await studio.start({ sampling: 'brief', instrumentId: await idOf(live.instrument) })
  const waiting = await studio.reach(id, 'waiting')
  expect(waiting).toMatchObject({ asks: 'light', message: expect.stringContaining('goes on by itself') })
  // A server that starts anew lets it wait again.
  await studio.restartServer()
  await studio.admin.post(`/runs/${id}/resume`, {})
  await studio.reach(id, 'waiting')
  light(60)
  await pass(5)
  await pass(5)
  expect((await studio.finish(id)).state).toBe('done')
  // With the instrument that watches, nobody reads the room meanwhile: somebody says to go on.
  light(300)
  for (let i = 0; i < 5; i++) await pass(5)
  const own = await studio.start({
    kind: 'check',
    aimId: undefined,
    overwrites: undefined,
    instrumentId: await idOf(other),
  })
  seat(other, 'open')
  const asks = await studio.reach(own, 'waiting')
  expect(asks.message).toContain('press “Go on”')
  await studio.admin.post(`/runs/${own}/resume`, {})
  await studio.finish(own)
}, 120_000)

test('the light asks for another level: proposed, declined once, agreed on, and what follows is planned to be calibrated @long @long', async () => {
  await watched()
  const aimId = await studio.addAim('Follows', { ...demoAims['Atlas web'], luminance: 90, fromRoom: true })
  await change({ light: { lux: { from: 300, to: 600 } }, level: { lux: 500 } })
  light(500)
  await studio.finish(await studio.start({ aimId, sampling: 'brief', instrumentId: await idOf(live.instrument) }))
  light(400)
  const days = async (n: number) => {
    for (let h = 0; h < 24 * n; h++) await pass(60)
    await signIn()
  }
  await days(7)
  const { proposal } = await room()
  expect(proposal).toMatchObject({ fromLux: 500, toLux: 400 })
  await studio.admin.put(`/rooms/${studio.ids.room}/light/level`, { proposalId: proposal!.id, decision: 'decline' })
  await days(2)
  // What was declined is not proposed again, until the light is another.
  expect((await room()).proposal).toBeNull()
  light(340)
  await days(10)
  const next = (await room()).proposal!
  expect(next.toLux).toBe(340)
  const viewer = await studio.as('technician')
  const body = { proposalId: next.id, decision: 'accept' }
  expect((await viewer.raw('PUT', `/rooms/${studio.ids.room}/light/level`, body)).status).toBe(403)
  await studio.admin.post('/rounds/plan', { days: 7 })
  await studio.admin.put(`/rooms/${studio.ids.room}/light/level`, body)
  expect((await studio.admin.raw('PUT', `/rooms/${studio.ids.room}/light/level`, body)).status).toBe(409)
  expect((await room()).level).toMatchObject({ lux: 340 })
  const weeks = await studio.admin.get<LightWeeks>(`/rooms/${studio.ids.room}/light/weeks`)
  expect(weeks.followers).toEqual([expect.objectContaining({ slot: 1, luminance: 135, wanted: 92 })])
  await studio.server.rounds.planner.again()
  const { visits } = await studio.admin.get<Week>('/rounds/week')
  expect(visits.filter((v) => v.state === 'planned')).toEqual([
    expect.objectContaining({ kind: 'full', dueBy: 'light' }),
  ])
  const { items } = await studio.admin.get<Page<LedgerEntry>>(`/ledger/room/${studio.ids.room}`)
  expect(items.map((e) => e.act)).toEqual(expect.arrayContaining(['declined', 'changed']))
}, 120_000)

test('within what the administrator allowed, the level follows by itself, once a day at most @long', async () => {
  await watched()
  await change({ light: null, level: { lux: 500, allowed: { from: 300, to: 600 } } })
  light(400)
  for (let h = 0; h < 24 * 7; h++) await pass(60)
  await signIn()
  expect((await room()).level).toMatchObject({ lux: 400, allowed: { from: 300, to: 600 } })
  expect((await room()).proposal).toBeNull()
  const { items } = await studio.admin.get<Page<LedgerEntry>>(`/ledger/room/${studio.ids.room}`)
  expect(items.filter((e) => e.by === 'Bichroma')).toHaveLength(1)
}, 60_000)

test('readings are kept for a month, those by hand always, and what each hour was for good @long', async () => {
  await watched()
  await studio.admin.post(`/rooms/${studio.ids.room}/light`, { instrumentId: await idOf(other) })
  const count = () => {
    const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'), { readonly: true })
    const one = (sql: string) => store.prepare(sql).pluck().get() as number
    const found = [
      one('SELECT COUNT(*) FROM room_light'),
      one('SELECT COUNT(*) FROM room_light WHERE account_id IS NOT NULL'),
      one('SELECT SUM(readings) FROM light_hour'),
    ]
    store.close()
    return found
  }
  for (let i = 0; i < 12; i++) await pass(5)
  const before = count()
  await pass(31 * 24 * 60 - 65)
  expect(count()[0]).toBe(before[0] + 1)
  await pass(3 * 60)
  expect(count()).toEqual([3, 1, before[2] + 2])
  await signIn()
  const old = new Date(studio.clock.now() - 32 * day).toISOString().slice(0, 10)
  await studio.admin.get<LightDay>(`/rooms/${studio.ids.room}/light/day?date=${old}`)
})

test('bad input is refused with a sentence, and a watch that cannot be written down does not stop @long', async () => {
  const disk = new FaultyDisk()
  studio = await Studio.open(undefined, { storeDriver: disk.driver })
  const at = `/rooms/${studio.ids.room}`
  const said = async (method: 'GET' | 'POST' | 'PUT', path: string, body?: object) => {
    const response = await studio.admin.raw(method, path, body)
    return [response.status, ((await response.json()) as { detail?: string }).detail]
  }
  expect(await said('GET', `${at}/light/day?date=2026-13-40`)).toEqual([400, '“date” must be a day, as 2026-11-27.'])
  expect((await said('GET', `${at}/light/weeks?weeks=0`))[0]).toBe(400)
  expect(await said('POST', `${at}/watch`, { instrumentId: 4711 })).toEqual([
    409,
    'This instrument is not in use. Choose another.',
  ])
  expect((await said('PUT', at, { name: 'Sedge Room', allowMinutes: -1 }))[0]).toBe(400)
  expect((await said('PUT', at, { name: 'Sedge Room', level: { lux: 1e308 } }))[0]).toBe(400)
  expect((await said('PUT', at, { name: 'Sedge Room', level: { lux: 400, allowed: { from: 500, to: 300 } } }))[0]).toBe(
    400,
  )
  expect((await said('PUT', `${at}/light/level`, { proposalId: 1, decision: 'perhaps' }))[0]).toBe(400)
  const both = { ...demoAims['Atlas web'], asBright: true, fromRoom: true }
  expect((await said('POST', '/aims', { name: 'Both', aim: both }))[1]).toContain('choose one of')
  seat(live.instrument, 'diffuser')
  // Whole or not at all, at whichever write the disk fails.
  const told = async () => (await studio.admin.get<Page<LedgerEntry>>(`/ledger/room/${studio.ids.room}`)).total
  for (const method of ['POST', 'DELETE'] as const) {
    // What was left there reads of its own accord; the next time is minutes away.
    if (method === 'DELETE') await until(async () => (await look(), (await watch()).state === 'reading'), 'it has read')
    const before = [await watch(), await told()]
    for (let n = 1; ; n++) {
      disk.arm('full', n)
      const { status } = await studio.admin.raw(method, `${at}/watch`, { instrumentId: await idOf(live.instrument) })
      disk.mend()
      if (status < 300) break
      expect(status).toBe(503)
      expect([await watch(), await told()]).toEqual(before)
    }
    expect(await told()).toBe((before[1] as number) + 1)
  }
  await studio.admin.post(`${at}/watch`, { instrumentId: await idOf(live.instrument) })
  await pass(1)
  const held = (await today()).readings.length
  disk.arm('full', 1)
  await pass(6)
  disk.mend()
  expect((await today()).readings).toHaveLength(held)
  await pass(6)
  expect((await today()).readings).toHaveLength(held + 1)
  expect((await watch()).state).toBe('reading')
})

test('a display that sleeps is woken before somebody comes, so that it is warm; one that was woken is not woken again @long', async () => {
  await watched()
  const settings = await studio.admin.get<StudioSettings>('/settings')
  expect(settings).toBeDefined()
  await studio.admin.post('/rounds/plan', { days: 7 })
  const planned = async () => (await studio.admin.get<Week>('/rounds/week')).visits.find((v) => v.state === 'planned')!
  const visit = await planned()
  const display = studio.bench.display(live.serial)
  display.sleep()
  expect(display.sleeps).toBe(true)
  studio.clock.jumpTo(visit.wakeAt! - minute)
  await studio.server.rounds.planner.look()
  expect(display.sleeps).toBe(studio.clock.now() < visit.wakeAt!)
  studio.clock.jumpTo(visit.wakeAt! + minute)
  await studio.server.rounds.planner.look()
  expect(display.sleeps).toBe(false)
  const { wokenAt } = await planned()
  expect(wokenAt).toBeGreaterThanOrEqual(visit.wakeAt!)
  // It stays awake until the visit ends, whatever its own timer wants.
  display.sleep()
  expect(display.sleeps).toBe(false)
  await studio.server.rounds.planner.look()
  expect((await planned()).wokenAt).toBe(wokenAt)
  studio.clock.jumpTo(visit.at!)
  const { warmMinutes } = await display.getControls()
  expect(warmMinutes ?? 30).toBeGreaterThanOrEqual(28)
})
