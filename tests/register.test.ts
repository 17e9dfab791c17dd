import { graceDays } from '@bichroma/core/rounds'
import type {
  DisplayDetail,
  DisplayListing,
  Instrument,
  Pulse,
  Room,
  RunSummary,
  StoredLimits,
  Workstation,
} from '@bichroma/contract'
import { passwords, Studio } from './studio'

const day = 86_400_000
let studio: Studio
// Each has a studio of its own: days go by, limits and slots change.
beforeEach(async () => {
  studio = await Studio.open()
})
afterEach(() => studio.close())

/** Days go by; the session of before has run out by then. */
async function later(days: number) {
  studio.clock.jumpTo(studio.clock.now() + days * day)
  await studio.admin.signIn('administrator', passwords.administrator)
}

const newDisplay = (change: Record<string, unknown> = {}) => ({
  name: 'Herbarium 1',
  maker: 'Ostrel',
  model: 'Reed 24',
  serial: 'OS-1',
  firmware: '1.0',
  panelKind: 'quantum-dot',
  slots: 2,
  checkEveryDays: 14,
  workstationId: studio.ids.workstation,
  limitsId: studio.ids.limits,
  ...change,
})

describe('a display in the register', () => {
  let id: number
  beforeEach(async () => {
    id = (await studio.admin.post<{ id: number }>('/displays', newDisplay())).id
  })

  test('has as many empty slots as it was said to have, and is due at once', async () => {
    const display = await studio.admin.get<DisplayDetail>(`/displays/${id}`)
    expect(display).toMatchObject({ verdict: 'unproven', dueAt: null, dueState: 'overdue', live: false, runId: null })
    expect(display.slots.map((s) => [s.number, s.label, s.active])).toEqual([
      [1, null, true],
      [2, null, false],
    ])
  })

  test.each([
    ['the same serial', { name: 'Other' }, 'this serial number already'],
    ['the same name', { serial: 'OS-2', name: 'Sedge 2' }, 'this name already'],
  ])('%s is refused, and nothing half is left behind', async (_, change, words) => {
    const before = await studio.admin.list<DisplayListing>('/displays')
    await expect(studio.admin.post('/displays', newDisplay(change))).rejects.toThrow(words)
    expect(await studio.admin.list('/displays')).toEqual(before)
  })

  test('its care can be changed, to what is there', async () => {
    await studio.admin.put(`/displays/${id}`, { name: 'Herbarium A', limitsId: studio.ids.limits, checkEveryDays: 7 })
    expect(await studio.admin.get(`/displays/${id}`)).toMatchObject({
      name: 'Herbarium A',
      checkEveryDays: 7,
      serial: 'OS-1',
    })
    await expect(
      studio.admin.put(`/displays/${id}`, { name: 'Herbarium A', limitsId: 77, checkEveryDays: 7 }),
    ).rejects.toThrow('“Limits” names none')
    await expect(
      studio.admin.put(`/displays/${id}`, { name: 'Sedge 2', limitsId: studio.ids.limits, checkEveryDays: 7 }),
    ).rejects.toThrow('this name already')
    await expect(
      studio.admin.put(`/displays/${id}`, { name: 'H', limitsId: studio.ids.limits, checkEveryDays: 0 }),
    ).rejects.toThrow('1 or more')
  })
})

test('rooms and workstations: names once, rooms that are there', async () => {
  await expect(studio.admin.post('/rooms', { name: 'Sedge Room' })).rejects.toThrow(
    'Another room has this name already',
  )
  await expect(
    studio.admin.post('/workstations', { name: 'w', roomId: 99, operatingSystem: 'linux', systemVersion: '1' }),
  ).rejects.toThrow('“Room” names none')
  await expect(
    studio.admin.post('/workstations', { name: 'w', roomId: 1, operatingSystem: 'plan9', systemVersion: '1' }),
  ).rejects.toThrow('windows, macos, linux')
  const [workstation] = await studio.admin.list<Workstation>('/workstations')
  expect(workstation).toMatchObject({ name: 'sedge-02', courierOnline: true })
  expect(Object.keys(workstation)).not.toContain('courierKeyHash')
})

test('instruments come into the register by themselves, and tell where they are', async () => {
  expect(await studio.admin.get<Instrument[]>('/instruments')).toEqual([
    expect.objectContaining({
      serial: 'TC-0417',
      model: 'Colorimeter C3',
      workstationId: studio.ids.workstation,
      runId: null,
    }),
  ])
})

/** Slot 1 holds a calibration. */
const calibrated = async () => studio.finish(await studio.start({ sampling: 'brief' }))

test('a verdict ages: fresh, due this week, overdue, lapsed; a check makes it fresh again @long', async () => {
  const run = await studio.finish(await studio.start())
  const verdict = run.judged!.verdict
  const state = async () => {
    const { verdict, dueState } = await studio.display()
    return [verdict, dueState]
  }
  expect(await state()).toEqual([verdict, 'later'])
  const { dueToday } = await studio.admin.get<Pulse>('/pulse')
  await later(22)
  expect(await state()).toEqual([verdict, 'this week'])
  await later(6.5)
  expect(await state()).toEqual([verdict, 'overdue'])
  await later(graceDays)
  expect(await state()).toEqual(['lapsed', 'overdue'])
  const lapsed = await studio.display()
  expect(lapsed.slots[0].judged!.verdict).toBe('lapsed')
  expect((await studio.admin.get<Pulse>('/pulse')).dueToday).toBe(dueToday + 1)
  const check = await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
  expect(check.judged!.at).toBeGreaterThan(run.judged!.at)
  expect(await state()).toEqual([check.judged!.verdict, 'later'])
})

test('harder limits speak at the next judgement; what was judged keeps the limits of its day @long', async () => {
  await calibrated()
  const stored = (await studio.admin.get<StoredLimits[]>('/limits')).find((l) => l.id === studio.ids.limits)!
  const before = await studio.display()
  await studio.admin.put(`/limits/${stored.id}`, {
    name: stored.name,
    limits: { decision: 'simple', rules: [{ metric: 'averageDeltaE', near: 0.01, hard: 0.02 }] },
  })
  expect((await studio.display()).verdict).toBe(before.verdict)
  const check = await studio.finish(await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined }))
  expect(check.judged).toMatchObject({
    verdict: 'outside',
    sentence: expect.stringMatching(/^Average ΔE2000 is 0\.\d\d: past the hard edge of 0\.02; the worst patch is /),
  })
  expect((await studio.display()).verdict).toBe('outside')
  const [newest, ...older] = await studio.admin.list<RunSummary>('/runs')
  expect(newest.judged?.verdict).toBe('outside')
  expect(older[0].judged?.verdict).toBe(before.verdict)
  await studio.admin.put(`/limits/${stored.id}`, { name: stored.name, limits: stored.limits })
})

test('the slot that is shown decides what is said of the display @long', async () => {
  await calibrated()
  const before = await studio.display()
  await studio.finish(await studio.start({ slot: 2, aimId: studio.aimIds['Loop video'] }))
  const display = await studio.display()
  expect(display.slots.map((s) => s.active)).toEqual([false, true, false])
  expect(display.verdict).toBe(display.slots[1].judged!.verdict)
  expect(display.slots[0].judged).toEqual(before.slots[0].judged)
})

test('a check of a slot that is not shown shows it, reads it, and says so in the register @long', async () => {
  await calibrated()
  await studio.finish(await studio.start({ slot: 2, aimId: studio.aimIds['Loop video'], sampling: 'brief' }))
  const check = await studio.finish(
    await studio.start({ kind: 'check', slot: 1, aimId: undefined, overwrites: undefined }),
  )
  expect(check).toMatchObject({ state: 'done', slot: 1, label: 'Atlas web' })
  expect((await studio.display()).slots.map((s) => s.active)).toEqual([true, false, false])
})

test('the pulse tells of what is going on @long', async () => {
  const id = await studio.start({ slot: 3 })
  await studio.reach(id, 'running', 10)
  const pulse = await studio.admin.get<Pulse>('/pulse')
  expect(pulse).toMatchObject({ couriersOnline: 1, couriers: 1, instruments: 1, instrumentsFree: 0 })
  expect(pulse.running).toEqual([
    expect.objectContaining({ runId: id, label: 'Full run', displayName: 'Sedge 2', slot: 3, state: 'running' }),
  ])
  expect(pulse.running[0].done).toBeGreaterThan(0)
  expect((await studio.display()).runId).toBe(id)
  await studio.admin.post(`/runs/${id}/stop`)
  await studio.finish(id)
  expect((await studio.admin.get<Pulse>('/pulse')).running).toEqual([])
})

test('a room may have a building: named, left as it is, and taken away', async () => {
  studio.admin = await studio.as('administrator')
  const building = async () =>
    (await studio.admin.get<Room[]>('/rooms')).find((r) => r.id === studio.ids.room)!.building
  const save = (change: object) => studio.admin.put(`/rooms/${studio.ids.room}`, { name: 'Sedge Room', ...change })
  expect(await building()).toBeNull()
  await save({ building: ' Boathouse ' })
  expect(await building()).toBe('Boathouse')
  await save({})
  expect(await building()).toBe('Boathouse')
  await expect(save({ building: '' })).rejects.toThrow('Building')
  await expect(save({ building: 'two\nlines' })).rejects.toThrow('plain text')
  await save({ building: null })
  expect(await building()).toBeNull()
})
