import { fenLantern } from '@bichroma/bench'
import type {
  DisplayDetail,
  DisplayListing,
  FloorSummary,
  FoundDisplay,
  Instrument,
  LedgerEntry,
  ModelFacts,
  Page,
  Pulse,
  PutAwayDisplay,
  RolloutRow,
  Room,
  SlotHistory,
  SlotOutlook,
  Workstation,
} from '@bichroma/contract'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
const other = fenLantern.workstations.find((w) => w.host.name === 'dome-02')!
let otherId = 0
beforeAll(async () => {
  studio = await Studio.proven()
  const { name, operatingSystem, systemVersion } = other.host
  otherId = (
    await studio.admin.post<{ id: number }>('/workstations', {
      name,
      operatingSystem,
      systemVersion,
      roomId: studio.ids.room,
    })
  ).id
  const { key } = await studio.admin.post<{ key: string }>(`/workstations/${otherId}/courier-key`)
  Object.assign(studio.keys, { [name]: key })
})
afterAll(() => studio.close())

let serial = 0
const addDisplay = async (change: object = {}) =>
  (
    await studio.admin.post<{ id: number }>('/displays', {
      name: `Desk ${++serial}`,
      maker: 'Quillon',
      model: 'Q27',
      serial: `QL-27-8${String(serial).padStart(4, '0')}`,
      firmware: '3.1',
      panelKind: 'wide-gamut-led',
      workstationId: studio.ids.workstation,
      limitsId: studio.ids.limits,
      checkEveryDays: 28,
      slots: 2,
      ...change,
    })
  ).id
const detail = (id: number) => studio.admin.get<DisplayDetail>(`/displays/${id}`)
const listed = async () => (await studio.admin.list<DisplayListing>('/displays')).map((d) => d.id)
const floor = () => studio.admin.get<FloorSummary>('/floor')
const keep = (id: number, body: object) => studio.admin.post(`/displays/${id}/keep`, body)
const history = async (thing: string, id: number) =>
  (await studio.admin.get<Page<LedgerEntry>>(`/ledger/${thing}/${id}`)).items

describe('a display that is put away', () => {
  test('is on no list of what is in use, keeps its history, and comes back to a desk of its choice', async () => {
    const id = studio.displayId
    await studio.admin.post('/placements', { runId: 1 })
    const before = await floor()
    const { runs } = await detail(id)
    const drifting = (await studio.admin.get<Page<SlotOutlook>>('/drift/slots')).total
    await keep(id, { kept: 'stored', why: 'The museum is closed until spring.' })
    expect(await listed()).not.toContain(id)
    const after = await floor()
    expect(after.displays).toBe(before.displays - 1)
    expect((await studio.admin.get<Page<SlotOutlook>>('/drift/slots')).total).toBe(drifting - 1)
    expect((await studio.admin.list<RolloutRow>('/rollout')).map((r) => r.displayId)).not.toContain(id)
    const putAway = await studio.admin.get<PutAwayDisplay[]>('/put-away')
    expect(putAway.filter((d) => d.kept === 'stored')).toEqual([
      expect.objectContaining({
        id,
        keptWhy: 'The museum is closed until spring.',
        workstation: live.workstation,
      }),
    ])
    const away = await detail(id)
    expect(away).toMatchObject({ kept: 'stored', rollout: null })
    expect(away.slots[0].label).toBe('Atlas web')
    expect(away.runs).toEqual(runs)
    await expect(studio.start({ kind: 'check' })).rejects.toThrow('Sedge 2 is stored. Take it back into use first.')
    await expect(keep(id, { kept: 'stored' })).rejects.toThrow('is stored already')
    await expect(studio.admin.post(`/displays/${id}/move`, { workstationId: otherId })).rejects.toThrow('is stored')
    // Its courier still sees it: somebody put it back on its desk without a word.
    const found = await studio.admin.get<FoundDisplay[]>('/found')
    expect(found.find((f) => f.serial === live.serial)).toMatchObject({ moved: { displayId: id, kept: 'stored' } })
    await keep(id, { kept: 'in use', workstationId: studio.ids.workstation })
    expect(await listed()).toContain(id)
    expect((await floor()).displays).toBe(before.displays)
    expect(await detail(id)).toMatchObject({ kept: 'in use', live: true })
    const { events } = await studio.admin.get<SlotHistory>(`/drift/${id}?slot=1`)
    expect(events.map((e) => e.text)).toEqual(
      expect.arrayContaining([`Stored, from ${live.workstation}`, `Came back into use at ${live.workstation}`]),
    )
    expect((await history('display', id)).slice(0, 2)).toMatchObject([
      { act: 'returned' },
      { act: 'stored', why: 'The museum is closed until spring.' },
    ])
  })

  test('is not put away in the middle of a run, nor with one in the queue @long', async () => {
    const run = await studio.start({ sampling: 'brief' })
    await expect(keep(studio.displayId, { kept: 'retired' })).rejects.toThrow('is in a run')
    await studio.finish(run)
    const queued = await studio.start({ kind: 'check', begins: 'night' })
    await expect(keep(studio.displayId, { kept: 'retired' })).rejects.toThrow('has a run in the queue')
    await studio.admin.post(`/runs/${queued}/stop`)
    await studio.server.engine.ended(queued)
    expect((await detail(studio.displayId)).kept).toBe('in use')
  })
})

describe('a display that another takes the place of', () => {
  const facts = { maker: 'Marlgate', model: 'M32', firmware: '1.0', panelKind: 'oled', slots: 4, old: 'retired' }

  test('leaves its desk and its name; what it did stays with its serial number', async () => {
    const id = await addDisplay({ name: 'Plate 7', checkEveryDays: 9 })
    const { serial: oldSerial } = await detail(id)
    const made = await studio.admin.post<{ id: number }>(`/displays/${id}/replace`, {
      ...facts,
      serial: 'MG-32-00001',
      why: 'A dead row.',
    })
    expect(await detail(made.id)).toMatchObject({
      name: 'Plate 7',
      serial: 'MG-32-00001',
      checkEveryDays: 9,
      limitsId: studio.ids.limits,
      workstation: { id: studio.ids.workstation },
      kept: 'in use',
    })
    expect((await detail(made.id)).slots.map((s) => s.label)).toEqual([null, null, null, null])
    expect(await detail(id)).toMatchObject({
      name: `Plate 7 (${oldSerial})`,
      serial: oldSerial,
      kept: 'retired',
      keptWhy: 'A dead row.',
    })
    const eventsOf = async (d: number) => (await studio.admin.get<SlotHistory>(`/drift/${d}`)).events.map((e) => e.text)
    expect(await eventsOf(id)).toContain('Replaced by M32 MG-32-00001')
    expect(await eventsOf(made.id)).toContain(`Took the place of Q27 ${oldSerial}`)
    // The same request a second time: the serial number is there already, and nothing is changed.
    const again = studio.admin.post(`/displays/${made.id}/replace`, { ...facts, serial: 'MG-32-00001' })
    await expect(again).rejects.toThrow('serial number already')
    expect(await detail(made.id)).toMatchObject({ name: 'Plate 7', kept: 'in use' })
  })

  test('keeps a name that fits, however long both are', async () => {
    const id = await addDisplay({ name: 'N'.repeat(60), serial: 'S'.repeat(60) })
    await studio.admin.post(`/displays/${id}/replace`, { ...facts, serial: 'MG-32-00002' })
    expect((await detail(id)).name.length).toBeLessThanOrEqual(60)
  })

  test.each([
    [{ ...facts, serial: 'X', old: 'in use' }, 'Old display'],
    [{ ...facts, serial: '' }, 'Serial number'],
    [{ ...facts, serial: 'X', slots: 9 }, 'Slots'],
    [{ ...facts, serial: 'X', panelKind: 'plasma' }, 'Panel'],
  ])('%j is refused', async (body, words) => {
    await expect(studio.admin.post(`/displays/${studio.displayId}/replace`, body)).rejects.toThrow(words)
  })
})

test('what a courier sees where another is registered is told: perhaps one took the other’s place, or two were swapped', async () => {
  const desk = await addDisplay({ name: 'Dome 1', workstationId: otherId })
  studio.bench.connect(other.host.name)
  const found = () => studio.admin.get<FoundDisplay[]>('/found')
  await until(async () => (await found()).length > 0, 'the other courier is connected')
  const [stranger] = await found()
  expect(stranger).toMatchObject({ moved: null, insteadOf: { displayId: desk, name: 'Dome 1' } })
  const { maker, model, serial: there, firmware, panelKind, slots } = stranger
  const { id: dome } = await studio.admin.post<{ id: number }>(`/displays/${desk}/replace`, {
    ...{ maker, model, serial: there, firmware, panelKind, slots },
    old: 'retired',
  })
  expect((await found()).some((f) => f.serial === there)).toBe(false)
  // By the register each stands where the other is seen.
  await studio.admin.post('/displays/swap', { first: dome, second: studio.displayId })
  const both = (await found()).filter((f) => f.moved)
  expect(both.map((f) => [f.moved!.displayId, f.moved!.swappedWith?.displayId]).sort()).toEqual(
    [
      [dome, studio.displayId],
      [studio.displayId, dome],
    ].sort(),
  )
  await studio.admin.post('/displays/swap', { first: dome, second: studio.displayId })
  expect((await found()).filter((f) => f.moved)).toEqual([])
  expect(await detail(studio.displayId)).toMatchObject({ live: true, workstationId: studio.ids.workstation })
  expect((await history('display', dome))[0]).toMatchObject({ act: 'swapped', evidence: { other: studio.displayId } })
})

test.each([
  [() => ({ first: studio.displayId, second: studio.displayId }), 'two different displays'],
  [() => ({ first: studio.displayId, second: 4711 }), 'no display 4711'],
  [() => ({ first: studio.displayId }), 'Second'],
])('a swap that cannot be is refused', async (body, words) => {
  await expect(studio.admin.post('/displays/swap', body())).rejects.toThrow(words)
})

describe('rooms, workstations, buildings and instruments', () => {
  test('a workstation is renamed, goes to another room, and goes when nothing stands there; its name is free again', async () => {
    const { id: loft } = await studio.admin.post<{ id: number }>('/rooms', { name: 'Loft', building: 'Mill' })
    const body = { name: 'loft-01', operatingSystem: 'linux', systemVersion: '12', roomId: studio.ids.room }
    const { id } = await studio.admin.post<{ id: number }>('/workstations', body)
    await studio.admin.put(`/workstations/${id}`, { ...body, name: 'loft-02', roomId: loft })
    const display = await addDisplay({ workstationId: id })
    expect(await detail(display)).toMatchObject({ room: { name: 'Loft' }, workstation: { name: 'loft-02' } })
    await expect(studio.admin.put(`/workstations/${id}`, { ...body, name: live.workstation })).rejects.toThrow(
      'name already',
    )
    await expect(studio.admin.delete(`/rooms/${loft}`)).rejects.toThrow('loft-02 is in Loft')
    await expect(studio.admin.delete(`/workstations/${id}`)).rejects.toThrow('stands at loft-02')
    await keep(display, { kept: 'retired' })
    await studio.admin.delete(`/workstations/${id}`)
    await studio.admin.delete(`/rooms/${loft}`)
    expect((await studio.admin.list<Workstation>('/workstations')).map((w) => w.id)).not.toContain(id)
    expect((await studio.admin.get<Room[]>('/rooms')).map((r) => r.id)).not.toContain(loft)
    expect((await floor()).rooms.map((r) => r.id)).not.toContain(loft)
    // What it was called then still tells where the display stood.
    expect((await detail(display)).workstation.name).toMatch(/^loft-02, until \d{4}-\d\d-\d\d$/)
    await expect(keep(display, { kept: 'in use' })).rejects.toThrow('names none that is there')
    await expect(studio.admin.post(`/workstations/${id}/courier-key`)).rejects.toThrow(`no workstation ${id}`)
    await studio.admin.post('/rooms', { name: 'Loft' })
    await studio.admin.post('/workstations', { ...body, name: 'loft-02' })
  })

  test('a workstation that goes takes its courier’s key along', async () => {
    const body = { name: 'short', operatingSystem: 'linux', systemVersion: '12', roomId: studio.ids.room }
    const { id } = await studio.admin.post<{ id: number }>('/workstations', body)
    await studio.admin.post(`/workstations/${id}/courier-key`)
    const before = await studio.admin.get<Pulse>('/pulse')
    await studio.admin.delete(`/workstations/${id}`)
    expect((await studio.admin.get<Pulse>('/pulse')).couriers).toBe(before.couriers - 1)
  })

  test('a building is renamed in all its rooms', async () => {
    for (const name of ['Hall', 'Attic']) await studio.admin.post('/rooms', { name, building: 'Old mill' })
    await studio.admin.put('/buildings', { from: 'Old mill', to: 'Water mill' })
    const rooms = await studio.admin.get<Room[]>('/rooms')
    expect(rooms.filter((r) => r.building === 'Water mill').map((r) => r.name)).toEqual(['Hall', 'Attic'])
    await expect(studio.admin.put('/buildings', { from: 'Old mill', to: 'X' })).rejects.toThrow('called Old mill')
  })

  test('an instrument that is put away is used for nothing, and comes back @long', async () => {
    const instruments = () => studio.admin.get<Instrument[]>('/instruments')
    const here = (await instruments()).find((i) => i.serial === live.instrument)!
    const { instruments: count } = await studio.admin.get<Pulse>('/pulse')
    await studio.admin.put(`/instruments/${here.id}`, { kept: 'stored', why: 'At its maker.' })
    expect((await instruments()).find((i) => i.id === here.id)).toMatchObject({
      kept: 'stored',
      keptWhy: 'At its maker.',
    })
    expect((await studio.admin.get<Pulse>('/pulse')).instruments).toBe(count - 1)
    await expect(studio.start({ kind: 'check', instrumentId: here.id })).rejects.toThrow('is stored')
    await expect(studio.admin.put(`/instruments/${here.id}`, { kept: 'stored' })).rejects.toThrow('is stored already')
    await studio.admin.put(`/instruments/${here.id}`, { kept: 'in use' })
    const run = await studio.start({ sampling: 'brief' })
    await expect(studio.admin.put(`/instruments/${here.id}`, { kept: 'retired' })).rejects.toThrow('in a run')
    await studio.finish(run)
  })
})

describe('many at once', () => {
  test('those named, or all of a model: each tells of it, and what stays the same tells nothing', async () => {
    const ids = [await addDisplay({ model: 'Bulk' }), await addDisplay({ model: 'Bulk', checkEveryDays: 14 })]
    expect(await studio.admin.post('/displays/change', { ids, checkEveryDays: 14 })).toEqual({ changed: 1 })
    expect((await history('display', ids[0]))[0]).toMatchObject({
      act: 'changed',
      changes: [{ field: 'checkEveryDays', from: 28, to: 14 }],
    })
    expect((await history('display', ids[1]))[0].act).toBe('added')
    const change = { maker: 'Quillon', model: 'Bulk', checkEveryDays: 7 }
    expect(await studio.admin.post('/displays/change', change)).toEqual({ changed: 2 })
    expect(await Promise.all(ids.map(async (id) => (await detail(id)).checkEveryDays))).toEqual([7, 7])
  })

  test('of sixty at once each is changed, with an entry of its own, and the same again changes nothing @long', async () => {
    const ids: number[] = []
    for (let i = 0; i < 60; i++) ids.push(await addDisplay({ model: 'Sixty' }))
    expect(await studio.admin.post('/displays/change', { ids, checkEveryDays: 5 })).toEqual({ changed: 60 })
    const told = (await studio.admin.get<Page<LedgerEntry>>('/ledger?limit=60')).items
    expect(told.map((e) => e.thingId).sort((a, b) => a! - b!)).toEqual(ids)
    expect(new Set(told.map((e) => JSON.stringify(e.changes)))).toEqual(
      new Set([JSON.stringify([{ field: 'checkEveryDays', from: 28, to: 5 }])]),
    )
    expect(await studio.admin.post('/displays/change', { ids, checkEveryDays: 5 })).toEqual({ changed: 0 })
  })

  test.each([
    [{ checkEveryDays: 7 }, 'Say which displays'],
    [{ ids: [1], maker: 'Q', model: 'Q', checkEveryDays: 7 }, 'Say which displays'],
    [{ maker: 'Quillon', checkEveryDays: 7 }, 'Say which displays'],
    [{ ids: [1] }, 'Say what is to change'],
    [{ ids: [], checkEveryDays: 7 }, 'Displays'],
    [{ ids: [1, 4711], checkEveryDays: 7 }, 'names one that is not there'],
    [{ ids: [1], limitsId: 4711 }, 'Limits'],
    [{ ids: [1], checkEveryDays: 0 }, 'Days between checks'],
    [{ maker: 'Nobody', model: 'X', checkEveryDays: 7 }, 'no display of the model'],
    [{ ids: Array.from({ length: 501 }, (_, i) => i + 1), checkEveryDays: 7 }, 'Displays'],
  ])('%j is refused, and nothing is changed', async (body, words) => {
    const before = await detail(studio.displayId)
    await expect(studio.admin.post('/displays/change', body)).rejects.toThrow(words)
    expect((await detail(studio.displayId)).checkEveryDays).toBe(before.checkEveryDays)
  })

  test('a model’s facts are told in one place, the most frequent first', async () => {
    for (const firmware of ['2', '2', '1']) await addDisplay({ maker: 'Orrery', model: 'O1', firmware })
    const away = await addDisplay({ maker: 'Orrery', model: 'O1', firmware: '9' })
    await keep(away, { kept: 'retired' })
    const [facts] = (await studio.admin.get<ModelFacts[]>('/models')).filter((m) => m.model === 'O1')
    expect(facts).toEqual({
      maker: 'Orrery',
      model: 'O1',
      displays: 3,
      panelKinds: [{ value: 'wide-gamut-led', displays: 3 }],
      slots: [{ value: 2, displays: 3 }],
      firmware: [
        { value: '2', displays: 2 },
        { value: '1', displays: 1 },
      ],
      checkEveryDays: [{ value: 28, displays: 3 }],
      limits: [{ value: 'Plate work', displays: 3 }],
      delayMs: null,
      corrections: [],
    })
    const measured = (await studio.admin.get<ModelFacts[]>('/models')).find((m) => m.delayMs)
    expect(measured?.model).toBe((await detail(studio.displayId)).model)
  })
})
