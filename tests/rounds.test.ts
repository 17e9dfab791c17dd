import { join } from 'node:path'
import Database from 'better-sqlite3'
import type {
  LedgerEntry,
  Page,
  PlanStanding,
  RoundsHouse,
  RunDetail,
  RunSummary,
  Tour,
  Visit,
  Week,
} from '@bichroma/contract'
import { FaultyDisk } from '../scripts/ordeal/faultyDriver'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

const hour = 3_600_000
const day = 24 * hour

let studio: Studio
beforeEach(async () => {
  studio = await Studio.open()
  // In the morning, and all day long, so that no test depends on the hour at which it is run.
  studio.clock.jumpTo(Math.ceil(studio.clock.now() / day) * day + 9 * hour)
  studio.admin = await studio.as('administrator')
  const { hours, minutes, walk } = await studio.admin.get<RoundsHouse>('/rounds/house')
  const always = { from: '00:00', to: '24:00' }
  await studio.admin.put('/rounds/settings', {
    hours: { ...hours, zone: 'UTC', desk: Array.from({ length: 7 }, () => always), lunch: null },
    minutes,
    walk,
  })
})
afterEach(() => studio.close())

const week = () => studio.admin.get<Week>('/rounds/week')
const plan = async (days = 7) => (await studio.admin.post<{ plan: PlanStanding }>('/rounds/plan', { days })).plan
const planned = async () => (await week()).visits.filter((v) => v.state === 'planned')
const settled = () => until(async () => !(await week()).plan?.working, 'nothing is being planned')

/** A studio whose one display is proved, and due again in so many days. */
async function proved(everyDays = 2) {
  await studio.finish(await studio.start({ sampling: 'brief' }))
  const { name, limitsId } = await studio.display()
  await studio.admin.put(`/displays/${studio.displayId}`, { name, limitsId, checkEveryDays: everyDays })
}

test('a display that was never judged is planned for a full run, and one that was proved for a check by its due line @long @long', async () => {
  await plan()
  const [first] = await planned()
  expect(first).toMatchObject({ kind: 'full', dueBy: 'never judged', whyThen: 'due', whyInstrument: 'only' })
  await proved()
  await plan()
  const [visit] = await planned()
  const { optionSets } = await week()
  const { dueAt } = await studio.display()
  expect(visit).toMatchObject({ kind: 'check', dueBy: 'calendar', dueAt, label: 'Atlas web' })
  expect(visit.at!).toBeLessThan(dueAt!)
  // With the minutes that its checks take, and warm on arrival.
  expect(visit.readyAt! - visit.at!).toBe((4 + optionSets[visit.optionSet][0].run) * 60_000)
  expect(visit.wakeAt).toBe(visit.at! - 30 * 60_000)
  const { people } = await week()
  expect(people.map((p) => p.name)).toEqual(['technician'])
})

test('starting a visit starts its run with everything chosen; its end closes the visit, and the next due line is planned', async () => {
  await proved()
  await plan()
  await studio.admin.post('/rounds/told')
  const [visit] = await planned()
  expect(visit.told).toEqual({ personId: visit.personId, instrumentId: visit.instrumentId, at: visit.at })
  const technician = await studio.as('technician')
  const tour = await technician.get<Tour>('/rounds/tour')
  expect(tour.visits.map((v) => v.id)).toEqual(
    tour.date === new Date(visit.at!).toISOString().slice(0, 10) ? [visit.id] : [],
  )
  // Pressed twice it is begun once.
  const pressed = await Promise.all([1, 2, 3].map(() => technician.raw('POST', `/visits/${visit.id}/begin`)))
  expect(pressed.map((p) => p.status).sort()).toEqual([201, 409, 409])
  const { id } = (await pressed.find((p) => p.status === 201)!.json()) as { id: number }
  const { items } = await studio.admin.get<Page<RunSummary>>('/runs')
  expect(items.filter((r) => r.kind === 'check')).toHaveLength(1)
  expect(await studio.run(id)).toMatchObject({ kind: 'check', slot: visit.slot, startedBy: 'technician' })
  expect((await week()).visits.find((v) => v.id === visit.id)).toMatchObject({ state: 'begun', runId: id })
  expect((await technician.raw('POST', `/visits/${visit.id}/begin`)).status).toBe(409)
  await studio.finish(id)
  await until(async () => (await week()).visits.some((v) => v.id === visit.id && v.state === 'done'), 'it is done')
  await studio.server.rounds.planner.again()
  const [next] = await planned()
  expect(next.id).not.toBe(visit.id)
  expect(next.dueAt).toBe((await studio.display()).dueAt)
})

test('a run that is stopped lets its visit lie ahead again, and one that somebody else starts ends it @long', async () => {
  await proved()
  await plan()
  const [visit] = await planned()
  const { id } = await studio.admin.post<{ id: number }>(`/visits/${visit.id}/begin`)
  await studio.admin.post(`/runs/${id}/stop`)
  await studio.server.engine.ended(id)
  await until(async () => (await planned()).some((v) => v.id === visit.id), 'it lies ahead')
  await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
  await until(async () => (await week()).visits.some((v) => v.id === visit.id && v.state === 'done'), 'it is done')
})

test('nobody came: it is missed, and planned anew; it was not possible: not before tomorrow @long', async () => {
  await proved()
  await plan()
  await studio.admin.post('/rounds/told')
  const [visit] = await planned()
  studio.clock.jumpTo(visit.at! + 2 * hour)
  await studio.server.rounds.planner.look()
  const all = async () => (await week()).visits
  expect((await all()).find((v) => v.id === visit.id)?.state ?? 'missed').toBe('missed')
  const [again] = await planned()
  expect(again.at!).toBeGreaterThan(visit.at! + 2 * hour)
  await studio.admin.post(`/visits/${again.id}/block`, { why: 'The artist is in a review.' })
  await studio.server.rounds.planner.again()
  await settled()
  const [later] = await planned()
  const tomorrow = Math.floor(studio.clock.now() / day) * day + day
  expect(later.at!).toBeGreaterThanOrEqual(tomorrow)
})

test('what people were told does not depend on who is connected: a server that starts anew while couriers are away moves nothing @long @long', async () => {
  await proved()
  await plan()
  await studio.admin.post('/rounds/told')
  const [before] = await planned()
  const { optionSets } = await week()
  expect(optionSets[before.optionSet].length).toBeGreaterThan(0)
  studio.bench.disconnect(live.workstation)
  await until(async () => !(await studio.display()).live, 'the courier is away')
  await studio.server.rounds.planner.again()
  const [after] = await planned()
  expect([after.at, after.personId, after.instrumentId]).toEqual([before.at, before.personId, before.instrumentId])
  const again = await week()
  expect(again.optionSets[after.optionSet]).toEqual(optionSets[before.optionSet])
})

test('what is dropped is left alone until its next due line, also where it is due at every moment @long', async () => {
  await plan()
  const [never] = await planned()
  await studio.admin.post(`/visits/${never.id}/drop`, { why: 'It is being set up.' })
  studio.clock.jumpTo(studio.clock.now() + hour)
  await plan()
  expect(await planned()).toEqual([])
  await proved()
  await plan()
  const [visit] = await planned()
  await studio.admin.post(`/visits/${visit.id}/drop`, { why: 'It goes into store.' })
  await settled()
  await plan()
  expect(await planned()).toEqual([])
  await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
  await plan()
  expect(await planned()).toHaveLength(1)
})

test('a visit is moved and stays there; what stands against a move is said, and nothing is lost by asking @long', async () => {
  await proved()
  await plan()
  const [visit] = await planned()
  const at = visit.at! + 3 * hour
  const move = (change: object = {}) => ({ personId: visit.personId, instrumentId: visit.instrumentId, at, ...change })
  const refused = async (change: object) => {
    const response = await studio.admin.raw('PUT', `/visits/${visit.id}`, move(change))
    return [response.status, ((await response.json()) as { detail: string }).detail] as const
  }
  expect(await refused({ at: Math.floor(studio.clock.now()) })).toEqual([409, expect.stringMatching(/warm|used/)])
  expect(await refused({ personId: 999 })).toEqual([409, expect.stringMatching(/goes to displays/)])
  expect(await refused({ instrumentId: 999 })).toEqual([409, expect.stringMatching(/no such instrument/)])
  expect(await refused({ at: 1e308 })).toEqual([400, expect.stringMatching(/Time/)])
  expect((await planned())[0]).toEqual(visit)
  await studio.admin.put(`/visits/${visit.id}`, move())
  expect((await planned())[0]).toMatchObject({ at, pinned: true, whyThen: 'pinned' })
  await plan()
  expect((await planned())[0]).toMatchObject({ at, pinned: true })
  await studio.admin.delete(`/visits/${visit.id}/pin`)
  await settled()
  expect((await planned())[0].pinned).toBe(false)
  const { items } = await studio.admin.get<Page<LedgerEntry>>('/ledger?thing=visit')
  expect(items.map((e) => e.act)).toEqual(['let go', 'moved'])
})

test('what cannot be planned says why, and what one thing more would come to', async () => {
  await studio.admin.put('/rounds/times', { level: 'studio', times: [] })
  await plan()
  const { items } = await studio.admin.get<Page<Visit>>('/rounds/unplanned')
  expect(items.map((v) => [v.display.id, v.whyNot])).toEqual([[studio.displayId, 'no time']])
  await studio.admin.put('/rounds/times', { level: 'studio', times: null })
  const technician = (await studio.admin.get<RoundsHouse>('/rounds/house')).people.find((p) => p.goes)!
  await studio.admin.put(`/rounds/people/${technician.id}`, {
    ...off,
    off: [{ from: '2020-01-01', to: '2099-12-31', why: 'away' }],
  })
  await settled()
  await plan()
  const away = (await studio.admin.get<Page<Visit>>('/rounds/unplanned')).items
  expect(away.map((v) => v.whyNot)).toEqual(['no room'])
  expect(away[0].reliefs).toEqual([])
  const capacity = await studio.admin.get<{ displays: number; keeps: number }>('/rounds/capacity')
  expect(capacity).toMatchObject({ displays: 1, keeps: 0 })
})
const off = { goes: true, roomId: null, carries: 2, week: null, off: [] }

test('what rounds are made from is kept, told back and in the ledger; what does not fit is refused and changes nothing @long', async () => {
  const house = async () => {
    const { now: _now, ...told } = await studio.admin.get<RoundsHouse>('/rounds/house')
    return told
  }
  const before = await house()
  const { hours, minutes, walk, people, instruments } = before
  const refused = async (path: string, body: object) => {
    const response = await studio.admin.raw('PUT', path, body)
    return [response.status, ((await response.json()) as { detail: string }).detail] as const
  }
  const settings = { hours, minutes, walk }
  expect(await refused('/rounds/settings', { ...settings, hours: { ...hours, zone: 'Mars/Olympus' } })).toEqual([
    400,
    expect.stringMatching(/time zone by its name/),
  ])
  const backwards = [...hours.desk.slice(1), { from: '12:00', to: '09:00' }]
  expect(await refused('/rounds/settings', { ...settings, hours: { ...hours, desk: backwards } })).toEqual([
    400,
    expect.stringMatching(/end later than it begins/),
  ])
  expect(await refused('/rounds/settings', { ...settings, hours: { ...hours, desk: hours.desk.slice(1) } })).toEqual([
    400,
    expect.stringMatching(/Desk hours/),
  ])
  const person = people.find((p) => p.goes)!
  const { id: _i, name: _n, ...said } = person
  expect(await refused(`/rounds/people/${person.id}`, { ...said, roomId: 4711 })).toEqual([
    400,
    expect.stringMatching(/roomId/),
  ])
  const backToFront = [{ from: '2026-12-24', to: '2026-12-23', why: '' }]
  expect(await refused(`/rounds/people/${person.id}`, { ...said, off: backToFront })).toEqual([
    400,
    expect.stringMatching(/before it begins/),
  ])
  const viewer = (await studio.admin.get<{ id: number; role: string }[]>('/people')).find((p) => p.role === 'viewer')!
  expect((await refused(`/rounds/people/${viewer.id}`, said))[0]).toBe(404)
  const both = { roomId: null, carrierId: person.id, hangsAt: studio.displayId }
  expect(await refused(`/rounds/instruments/${instruments[0].id}`, both)).toEqual([
    400,
    expect.stringMatching(/exclude each other/),
  ])
  expect(await refused('/rounds/ways', { kind: 'building', a: 'Nowhere', b: 'Barn', minutes: 3 })).toEqual([
    400,
    expect.stringMatching(/names no building/),
  ])
  expect(await house()).toEqual(before)

  const other = (await studio.admin.post<{ id: number }>('/rooms', { name: 'Dome' })).id
  await studio.admin.put(`/rounds/people/${person.id}`, { ...said, carries: 3, roomId: other })
  await studio.admin.put(`/rounds/instruments/${instruments[0].id}`, { ...both, hangsAt: null })
  await studio.admin.put('/rounds/ways', { kind: 'room', a: String(other), b: String(studio.ids.room), minutes: 7 })
  await studio.admin.put('/rounds/times', { level: 'room', of: other, times: ['night', 'night'] })
  expect(await house()).toMatchObject({
    people: expect.arrayContaining([expect.objectContaining({ id: person.id, carries: 3, roomId: other })]) as unknown,
    instruments: [{ carrierId: person.id, hangsAt: null }],
    between: [{ kind: 'room', minutes: 7 }],
    times: [{ level: 'room', of: other, name: 'Dome', times: ['night'] }],
  })
  const { items } = await studio.admin.get<Page<LedgerEntry>>('/ledger')
  expect(items.slice(0, 4).map((e) => [e.thing, e.name])).toEqual([
    ['settings', 'when workstations of Dome may be used'],
    ['settings', expect.stringMatching(/^the way from/)],
    ['instrument', expect.any(String)],
    ['account', 'rounds of technician'],
  ])
  for (const path of ['/rounds/times', '/rounds/ways'])
    await studio.admin.put(
      path,
      path.endsWith('ways')
        ? { kind: 'room', a: String(other), b: String(studio.ids.room), minutes: null }
        : { level: 'room', of: other, times: null },
    )
  expect(await house()).toMatchObject({ between: [], times: [] })
})

test('what hangs at a display reads it by itself when its time has come, and nobody is sent @long', async () => {
  await proved()
  const [instrument] = (await studio.admin.get<RoundsHouse>('/rounds/house')).instruments
  await studio.admin.put(`/rounds/instruments/${instrument.id}`, {
    roomId: null,
    carrierId: null,
    hangsAt: studio.displayId,
  })
  await plan()
  const [visit] = await planned()
  expect(visit.personId).toBeNull()
  studio.clock.jumpTo(visit.at! + 60_000)
  await studio.server.rounds.planner.look()
  await until(
    async () => (await week()).visits.some((v) => v.id === visit.id && v.state === 'done'),
    'it has read the display by itself',
  )
})

test('two plans at once, a plan while a visit begins, and a server that starts anew leave one visit a display @long', async () => {
  await proved()
  await Promise.all([plan(7), plan(14), plan(21)])
  const [visit] = await planned()
  const planning = plan()
  const { id } = await studio.admin.post<{ id: number }>(`/visits/${visit.id}/begin`)
  await planning
  await settled()
  const begun = (await week()).visits.filter((v) => v.display.id === studio.displayId && v.state !== 'done')
  expect(begun.map((v) => v.state)).toEqual(['begun'])
  await studio.server.engine.ended(id)
  const run: RunDetail = await studio.run(id)
  expect(run.state).toBe('done')
  await studio.restartServer()
  expect((await week()).visits.filter((v) => v.id === visit.id).map((v) => v.state)).toEqual(['done'])
})

test('on a disk that fails a plan is whole or not at all, and so is telling it @long', async () => {
  const disk = new FaultyDisk()
  const other = await Studio.open(undefined, { storeDriver: disk.driver })
  try {
    const rows = () => {
      const store = new Database(join(other.folder, 'data', 'bichroma.sqlite'), { readonly: true })
      try {
        return ['visit', 'round_plan', 'ledger'].map((table) => store.prepare(`SELECT * FROM ${table}`).all())
      } finally {
        store.close()
      }
    }
    for (const [path, body] of [
      ['/rounds/plan', { days: 7 }],
      ['/rounds/told', {}],
    ] as const) {
      let failed = 0
      for (let at = 1; ; at++) {
        const before = rows()
        disk.arm('io', at)
        const response = await other.admin.raw('POST', path, body)
        const hit = disk.failed.length
        disk.mend()
        // What follows from it (a desk is told) may fail, and undoes nothing.
        if (!hit || response.status === 200) {
          expect(response.status).toBe(200)
          expect(rows()).not.toEqual(before)
          break
        }
        failed++
        expect(response.status).toBe(503)
        expect(rows()).toEqual(before)
      }
      expect(failed).toBeGreaterThan(0)
    }
  } finally {
    await other.close()
  }
})
