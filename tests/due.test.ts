import type { DisplayDetail, DisplayListing, DueRules, Page, RoundsHouse } from '@bichroma/contract'
import { usualDays } from '@bichroma/core/rounds'
import { Studio } from './studio'

const day = 86_400_000

let studio: Studio
// Each has a studio of its own: rules and days that pass are all that they are about.
beforeEach(async () => {
  studio = await Studio.proven()
})
afterEach(() => studio.close())

const listing = async () => (await studio.admin.get<Page<DisplayListing>>('/displays')).items[0]
const detail = () => studio.admin.get<DisplayDetail>(`/displays/${studio.displayId}`)
/** Days pass; whoever was signed in signs in again. */
async function later(days: number) {
  studio.clock.jumpTo(studio.clock.now() + days * day)
  studio.admin = await studio.as('administrator')
}
const rules = () => studio.admin.get<DueRules>('/due-rules')
/** What both ways to a display say of its due line, which must be one. */
async function due() {
  const [a, b] = [await listing(), await detail()]
  const of = (d: DisplayListing | DisplayDetail) => ({
    every: d.checkEveryDays,
    from: d.daysFrom,
    days: d.dueAt === null || d.calendarAt === null ? null : (d.dueAt - (d.calendarAt - d.checkEveryDays * day)) / day,
    state: d.dueState,
    rests: d.rests,
    matters: d.mattersName,
  })
  expect(of(b)).toEqual(of(a))
  return of(a)
}
const rule = (level: string, everyDays: number | null, of?: number | string) =>
  studio.admin.put('/due-rules', {
    level,
    everyDays,
    ...(typeof of === 'number' && { of }),
    ...(typeof of === 'string' && { panel: of }),
  })

test('the nearest rule decides the days: its own, its room’s, its aim’s, its limits’, its panel’s, the studio’s, the usual', async () => {
  const { panelKind, limitsId } = await detail()
  expect(await due()).toMatchObject({ every: 28, from: null, days: 28 })
  await rule('display', null, studio.displayId)
  expect(await due()).toMatchObject({ every: usualDays[panelKind].days, from: 'usual' })
  const steps = [
    ['studio', 40, undefined],
    ['panel', 35, panelKind],
    ['limits', 25, limitsId],
    ['aim', 20, studio.aimIds['Atlas web']],
    ['room', 10, studio.ids.room],
  ] as const
  for (const [level, days, of] of steps) {
    await rule(level, days, of)
    expect(await due()).toMatchObject({ every: days, from: level, days })
  }
  expect((await rules()).rules.map((r) => [r.level, r.displays])).toEqual([
    ['room', 1],
    ['aim', 0],
    ['limits', 0],
    ['panel', 0],
    ['studio', 0],
  ])
  for (const [level, , of] of [...steps].reverse()) await rule(level, null, of)
  expect(await due()).toMatchObject({ every: usualDays[panelKind].days, from: 'usual' })
})

test('days of its own, given on its page or as a rule, win over every rule, and stay when rules change', async () => {
  await rule('room', 10, studio.ids.room)
  await rule('display', null, studio.displayId)
  expect(await due()).toMatchObject({ every: 10, from: 'room' })
  const { name, limitsId } = await detail()
  await studio.admin.put(`/displays/${studio.displayId}`, { name, limitsId, checkEveryDays: 17 })
  expect(await due()).toMatchObject({ every: 17, from: null, days: 17 })
  await rule('room', 12, studio.ids.room)
  expect(await due()).toMatchObject({ every: 17, from: null })
  await rule('display', 19, studio.displayId)
  expect(await due()).toMatchObject({ every: 19, from: null })
  await rule('room', null, studio.ids.room)
})

test('a display that moves to another room, or shows another aim, follows the rules there', async () => {
  await rule('display', null, studio.displayId)
  const room = (await studio.admin.post<{ id: number }>('/rooms', { name: 'Plate Room' })).id
  await rule('room', 9, room)
  const workstation = { name: 'sedge-02', operatingSystem: 'linux', systemVersion: '12' }
  await studio.admin.put(`/workstations/${studio.ids.workstation}`, { ...workstation, roomId: room })
  await studio.server.rounds.due.apply()
  expect(await due()).toMatchObject({ every: 9, from: 'room' })
  await studio.admin.put(`/workstations/${studio.ids.workstation}`, { ...workstation, roomId: studio.ids.room })
  await studio.server.rounds.due.apply()
  expect((await due()).from).toBe('usual')
})

test('a day that matters moves the due line forward, until its displays are proven freshly enough @long', async () => {
  await rule('display', 28, studio.displayId)
  const date = new Date(studio.clock.now() + 12 * day).toISOString().slice(0, 10)
  const body = { name: 'Grading of the loop', date, level: 'room', of: studio.ids.room, freshDays: 5 }
  const { id } = await studio.admin.post<{ id: number }>('/due-days', body)
  const moved = await due()
  expect(moved.matters).toBe('Grading of the loop')
  expect(moved.days).toBeGreaterThan(10)
  expect(moved.days).toBeLessThan(13)
  expect((await rules()).days).toMatchObject([{ name: body.name, displays: 1, lacking: 1 }])
  // Too early a check does not count for it.
  const check = { kind: 'check', aimId: undefined, overwrites: undefined }
  await studio.finish(await studio.start(check))
  await studio.server.rounds.due.apply()
  expect((await due()).matters).toBe('Grading of the loop')
  await later(9)
  await studio.finish(await studio.start(check))
  await studio.server.rounds.due.apply()
  expect(await due()).toMatchObject({ matters: null, days: 28 })
  expect((await rules()).days).toMatchObject([{ lacking: 0 }])
  await studio.admin.delete(`/due-days/${id}`)
  expect((await rules()).days).toEqual([])
})

test('a day begins when the zone of the studio has it, also when that changes', async () => {
  const date = new Date(studio.clock.now() + 30 * day).toISOString().slice(0, 10)
  const { id } = await studio.admin.post<{ id: number }>('/due-days', {
    name: 'Show',
    date,
    level: 'studio',
    freshDays: 5,
  })
  const { hours, minutes, walk, heads } = await studio.admin.get<RoundsHouse>('/rounds/house')
  for (const [zone, offset] of [
    ['UTC', 0],
    ['Asia/Kathmandu', -5.75],
  ] as const) {
    await studio.admin.put('/rounds/settings', { hours: { ...hours, zone }, minutes, walk, heads })
    expect((await rules()).days[0].at).toBe(Date.parse(date) + (offset * day) / 24)
  }
  await studio.admin.put('/rounds/settings', { hours, minutes, walk, heads })
  await studio.admin.delete(`/due-days/${id}`)
})

test('a display that rests has no due line and is in no plan, and comes back by itself on its day', async () => {
  const until = new Date(studio.clock.now() + 60 * day).toISOString().slice(0, 10)
  await studio.admin.put(`/displays/${studio.displayId}/rest`, { kind: 'paused', why: 'It is in the store.', until })
  expect(await due()).toMatchObject({
    state: 'rests',
    days: null,
    rests: { kind: 'paused', why: 'It is in the store.', until },
  })
  for (const [asked, total] of [
    ['overdue', 0],
    ['later', 0],
    ['rests', 1],
  ] as const)
    expect((await studio.admin.get<Page<DisplayListing>>(`/displays?due=${asked}`)).total).toBe(total)
  expect((await rules()).resting).toMatchObject([{ kind: 'paused', by: 'administrator', until }])
  await later(50)
  expect((await studio.admin.get<{ overdue: number }>('/floor')).overdue).toBe(0)
  await studio.admin.post('/rounds/plan', { days: 14 })
  expect((await studio.admin.get<{ plan: { planned: number; unplanned: number } }>('/rounds/plan')).plan).toMatchObject(
    {
      planned: 0,
      unplanned: 0,
    },
  )
  await later(11)
  await studio.server.rounds.planner.look()
  await studio.server.rounds.due.apply()
  expect(await due()).toMatchObject({ state: 'overdue', rests: null })
})

test('what does not fit is refused with a sentence, and changes nothing', async () => {
  const before = await rules()
  const refused = async (method: string, path: string, body: object) => {
    const response = await studio.admin.raw(method, path, body)
    return [response.status, ((await response.json()) as { detail: string }).detail] as const
  }
  expect(await refused('PUT', '/due-rules', { level: 'room', of: 4711, everyDays: 3 })).toEqual([
    400,
    expect.stringMatching(/names no room/),
  ])
  expect((await refused('PUT', '/due-rules', { level: 'room', everyDays: 3 }))[0]).toBe(400)
  expect((await refused('PUT', '/due-rules', { level: 'panel', panel: 'slate', everyDays: 3 }))[0]).toBe(400)
  expect((await refused('PUT', '/due-rules', { level: 'studio', everyDays: 1e308 }))[0]).toBe(400)
  const past = { name: 'Past', date: '2020-01-01', level: 'studio', freshDays: 3 }
  expect(await refused('POST', '/due-days', past)).toEqual([400, expect.stringMatching(/must not be past/)])
  expect((await refused('POST', '/due-days', { ...past, date: '2026-02-30' }))[0]).toBe(400)
  expect(await refused('PUT', `/displays/${studio.displayId}/rest`, { kind: 'never' })).toEqual([
    400,
    expect.stringMatching(/why it rests/),
  ])
  expect(await rules()).toEqual(before)
})
