import { fenLantern, type Scenario } from '@bichroma/bench'
import type { Metrics } from '@bichroma/core/aims'
import { convertChromaticityToXyz, convertXyzToUv, type PatchReading } from '@bichroma/core/color'
import { furthestOf, howAlike, usualPeerLimits } from '@bichroma/core/peers'
import type {
  DisplayDetail,
  LedgerEntry,
  Page,
  PeerSetDetail,
  PeerSetListing,
  Problem,
  RunDetail,
  RoundsHouse,
  RunReview,
  StartedPeerRuns,
  Week,
} from '@bichroma/contract'
import { displayBody } from '../scripts/displayBody'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

/** The workstation that tests work on, with a second and a third display beside its own: another flagship, and another kind. */
const beside = ['quillon-q27', 'ostrel-reed-24'].map((model) => {
  const all = fenLantern.workstations.flatMap((w) => (w.host.name === live.workstation ? [] : w.displays))
  const names: Readonly<Record<string, string>> = { 'quillon-q27': 'Q27', 'ostrel-reed-24': 'Reed 24' }
  return all.find((d) => d.panel.model === names[model])!
})
const scenario: Scenario = {
  ...fenLantern,
  workstations: fenLantern.workstations.map((w) =>
    w.host.name === live.workstation
      ? { ...w, displays: [w.displays[0], ...beside] }
      : { ...w, displays: w.displays.filter((d) => !beside.includes(d)) },
  ),
}

let studio: Studio
/** The three displays, the studio's own first. */
let ids: number[]

beforeEach(async () => {
  studio = await Studio.open(scenario)
  const care = { workstationId: studio.ids.workstation, limitsId: studio.ids.limits, checkEveryDays: 28 }
  ids = [studio.displayId]
  for (const display of beside)
    ids.push((await studio.admin.post<{ id: number }>('/displays', displayBody(display, care))).id)
})
afterEach(() => studio.close())

const asked = {
  ...{ reference: null, white: { kind: 'standard', name: 'D65' }, toneResponse: { kind: 'power', exponent: 2.2 } },
  ...{ standard: 'sRGB', share: 0.98, headroom: 0.03, black: 'own', limits: usualPeerLimits },
}
const bodyOf = (of: readonly number[], change: object = {}) => ({
  name: 'Plate desks',
  members: of.map((displayId) => ({ displayId, slot: 1 })),
  ...asked,
  ...change,
})
const make = async (of: readonly number[] = ids, change: object = {}) =>
  (await studio.admin.post<{ id: number }>('/peer-sets', bodyOf(of, change))).id
const setOf = (id: number) => studio.admin.get<PeerSetDetail>(`/peer-sets/${id}`)
/** A set once nothing is being worked out of it. */
async function settled(id: number): Promise<PeerSetDetail> {
  await until(async () => !(await setOf(id)).working, 'the standing is worked out')
  return setOf(id)
}
const baselines = async (of: readonly number[] = ids) => {
  for (const displayId of of)
    await studio.finish(await studio.start({ displayId, kind: 'baseline', aimId: studio.aimIds['Atlas web'] }))
}
/** Starts runs of all members and waits until their look has ended. */
async function through(id: number, body: object): Promise<PeerSetDetail> {
  const { refused } = await studio.admin.post<StartedPeerRuns>(`/peer-sets/${id}/runs`, body)
  expect(refused).toEqual([])
  await until(async () => (await setOf(id)).looks[0].state !== 'under way', 'the look has ended')
  return settled(id)
}

test('from a set to its verdict: baselines, common ground, aim, runs of all, one verdict @long', async () => {
  const id = await make()
  const first = await setOf(id)
  expect(first.standing).toMatchObject({
    lack: { why: 'unknown', members: ids },
    ground: null,
    alike: null,
    unread: ids,
  })
  expect((await studio.admin.raw('POST', `/peer-sets/${id}/aim`, { luminance: 100 })).status).toBe(409)
  await baselines()
  const { standing } = await settled(id)
  expect(standing!.lights.map((l) => l.state)).toEqual(['read', 'read', 'read'])
  const ground = standing!.ground!
  // What a member reaches is what its brightest white leaves for the set's; the set has the least of them, less its headroom.
  const whites = await Promise.all(
    ids.map(async (displayId) => {
      const { items } = await studio.admin.get<Page<{ id: number }>>(`/runs?display=${displayId}&kind=baseline`)
      const { log } = await studio.admin.get<RunDetail>(`/runs/${items[0].id}`)
      return Math.max(...log.filter((r) => r.rgb.every((v) => v === 1)).map((r) => r.xyz[1]))
    }),
  )
  ground.members.forEach((m, i) => {
    expect(m.reach).toBeLessThanOrEqual(whites[i])
    expect(m.reach).toBeGreaterThan(0.5 * whites[i])
  })
  expect(ground.luminance).toBeCloseTo(0.97 * Math.min(...ground.members.map((m) => m.reachWhenDue)), 3)
  expect(ground.standard).toBe('sRGB')

  const luminance = Math.floor(ground.luminance)
  await studio.admin.post(`/peer-sets/${id}/aim`, { luminance })
  const adopted = await settled(id)
  expect(adopted.aim).toMatchObject({ name: 'Plate desks, common ground', aim: { luminance } })
  expect(adopted.standing!.moved).toEqual([])

  const done = await through(id, { kind: 'full', holds: ids.map((displayId) => ({ displayId, label: '' })) })
  expect(done.looks[0]).toMatchObject({ kind: 'full', state: 'judged', by: 'administrator' })
  expect(done.members.map((m) => m.label)).toEqual(ids.map(() => 'Plate desks, common ground'))
  const alike = done.standing!.alike!
  expect(done.looks[0].verdict).toBe(alike.verdict.verdict)
  expect(alike.oneInstrument).toBe(true)
  // The figures are those of the readings that Review shows.
  const shown = await Promise.all(
    done.members.map(async (m) => {
      const { metrics } = await studio.admin.get<RunReview>(`/runs/${m.judged!.runId}/review`)
      return { id: m.displayId, readings: (metrics as Metrics).patches as readonly PatchReading[] }
    }),
  )
  const brightest = Math.max(...shown.flatMap((m) => m.readings.map((p) => p.xyz[1])))
  const again = howAlike(shown, convertChromaticityToXyz({ x: 0.3127, y: 0.329 }, brightest))
  expect(furthestOf(again).average).toBeCloseTo(furthestOf(alike).average, 9)
  // Calibrated to one ground, neighbours are alike.
  expect(furthestOf(alike).average).toBeLessThan(1)
  const { items } = await studio.admin.get<Page<PeerSetListing>>('/peer-sets')
  expect(items).toEqual([
    expect.objectContaining({
      name: 'Plate desks',
      verdict: alike.verdict.verdict,
      moved: [],
      aimName: adopted.aim!.name,
    }),
  ])
  const ledger = await studio.admin.get<Page<LedgerEntry>>(`/ledger?thing=${encodeURIComponent('peer set')}`)
  expect(ledger.items.map((e) => e.act)).toEqual(['started', 'changed', 'added'])
})

const problemOf = async (method: 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown) => {
  const response = await studio.admin.raw(method, path, body)
  return { ...((await response.json()) as Problem), status: response.status }
}

test('bad sets are refused by the field at fault, and nothing is stored @long', async () => {
  const [one, two] = ids
  const bad: [object, string, RegExp][] = [
    [{ name: '  ' }, 'name', /Name/],
    [{ members: [{ displayId: one, slot: 1 }] }, 'members', /Members/],
    [{ members: [one, one].map((displayId) => ({ displayId, slot: 1 })) }, 'members', /each display once/],
    [{ members: [one, 999].map((displayId) => ({ displayId, slot: 1 })) }, 'members', /display 999/],
    [{ members: [one, two].map((displayId) => ({ displayId, slot: 8 })) }, 'members[0].slot', /no slot 8/],
    [{ members: Array.from({ length: 13 }, (_, i) => ({ displayId: i + 1, slot: 1 })) }, 'members', /12/],
    [{ reference: ids[2] }, 'reference', /one of the members/],
    [{ white: { kind: 'panel' } }, 'white.kind', /white/],
    [{ share: 0.2 }, 'share', /Share/],
    [{ headroom: Infinity }, 'headroom', /Light kept in hand/],
    [{ limits: { ...usualPeerLimits, white: { near: 0.003, hard: 0.002 } } }, 'limits.white', /near edge/],
    [{ limits: { average: usualPeerLimits.average } }, 'limits.white', /white/],
    [{ standard: 'Rec. 9999' }, 'standard', /standard/],
    [{ surprise: 1 }, '', /surprise/],
  ]
  for (const [change, field, says] of bad) {
    const problem = await problemOf('POST', '/peer-sets', bodyOf([one, two], change))
    expect([change, problem.status]).toEqual([change, 400])
    expect(problem.detail).toMatch(says)
    if (field) expect(problem.field).toMatch(field)
  }
  expect(await studio.admin.get('/peer-sets')).toMatchObject({ items: [], total: 0 })
  await make([one, two])
  expect(await problemOf('POST', '/peer-sets', bodyOf([one, two]))).toMatchObject({ status: 409, field: 'name' })
  for (const path of ['/peer-sets/99', '/peer-sets/0', '/peer-sets/x'])
    expect((await studio.admin.raw('GET', path)).status).toBe(404)
})

test('who may: viewers look, technicians start runs in their own rooms only @long', async () => {
  const id = await make(ids.slice(0, 2))
  const viewer = await studio.as('viewer')
  expect((await viewer.get<PeerSetDetail>(`/peer-sets/${id}`)).members).toHaveLength(2)
  for (const path of ['/peer-sets', `/peer-sets/${id}/aim`, `/peer-sets/${id}/runs`])
    expect((await viewer.raw('POST', path, {})).status).toBe(403)
  const technician = await studio.as('technician')
  expect((await technician.raw('PUT', `/peer-sets/${id}`, bodyOf(ids))).status).toBe(403)
  const elsewhere = (await studio.admin.post<{ id: number }>('/rooms', { name: 'Elsewhere' })).id
  const people = await studio.admin.get<{ id: number; name: string; role: string }[]>('/people')
  const { id: who, name, role } = people.find((p) => p.role === 'technician')!
  await studio.admin.put(`/people/${who}`, { name, role, rooms: [elsewhere] })
  expect((await technician.raw('POST', `/peer-sets/${id}/runs`, { kind: 'baseline' })).status).toBe(403)
})

test('full runs want an aim, an aim a ground that is still as it was shown, and one look goes on at a time @long', async () => {
  const id = await make(ids.slice(0, 2))
  expect(await problemOf('POST', `/peer-sets/${id}/runs`, { kind: 'full' })).toMatchObject({
    status: 409,
    detail: expect.stringMatching(/Adopt its common ground first/) as string,
  })
  // An empty slot has nothing to check: every run is refused, and no look is left open.
  expect(await problemOf('POST', `/peer-sets/${id}/runs`, { kind: 'check' })).toMatchObject({ status: 409 })
  expect((await setOf(id)).looks.map((l) => l.state)).toEqual(['broken off'])
  const read = await through(id, { kind: 'baseline' })
  expect(read.looks[0]).toMatchObject({ kind: 'baseline', state: 'judged', verdict: null, furthest: null })
  const { luminance } = read.standing!.ground!
  expect(await problemOf('POST', `/peer-sets/${id}/aim`, { luminance: Math.floor(luminance) + 20 })).toMatchObject({
    status: 409,
    field: 'luminance',
  })
  expect((await setOf(id)).aim).toBeNull()
  await studio.admin.post(`/peer-sets/${id}/aim`, { luminance: Math.floor(luminance) })
  // The instrument is away: the runs wait in the queue for it, and for no other.
  const { id: instrumentId } = (await studio.admin.get<{ id: number; serial: string }[]>('/instruments')).find(
    (i) => i.serial === live.instrument,
  )!
  studio.bench.carry(live.instrument, 'sedge-01')
  await until(
    async () => (await studio.admin.get<{ workstationId: number | null }[]>('/instruments'))[0].workstationId === null,
    'the instrument is gone',
  )
  const started = await studio.admin.post<StartedPeerRuns>(`/peer-sets/${id}/runs`, { kind: 'full', instrumentId })
  expect(started).toMatchObject({ refused: [], started: [{ displayId: ids[0] }, { displayId: ids[1] }] })
  const [first, second] = started.started.map((r) => r.runId)
  await until(async () => (await studio.run(second)).message !== null, 'it says what it waits for')
  expect((await studio.run(first)).message).toContain(live.instrument)
  expect(await problemOf('POST', `/peer-sets/${id}/runs`, { kind: 'baseline' })).toMatchObject({
    status: 409,
    detail: expect.stringMatching(/under way already/) as string,
  })
  expect((await problemOf('DELETE', `/peer-sets/${id}`)).status).toBe(409)
  // A server that stops meanwhile knows of them when it is back.
  await studio.restartServer()
  expect((await setOf(id)).looks[0]).toMatchObject({ state: 'under way' })
  await studio.admin.post(`/runs/${second}/stop`)
  studio.bench.carry(live.instrument, live.workstation)
  await until(async () => (await setOf(id)).looks[0].state !== 'under way', 'the look has ended')
  // Without one of its runs it has no verdict.
  expect((await setOf(id)).looks[0]).toMatchObject({ state: 'broken off', verdict: null })
  expect((await studio.run(first)).state).toBe('done')
})

test('a member that is replaced or put away moves the ground; a set that is removed leaves its aim and its runs @long @long', async () => {
  const id = await make(ids.slice(0, 2), { reference: ids[1] })
  await through(id, { kind: 'baseline' })
  const { standing } = await setOf(id)
  await studio.admin.post(`/peer-sets/${id}/aim`, { luminance: Math.floor(standing!.ground!.luminance) })
  const { maker, model, panelKind } = (await studio.admin.get<DisplayDetail>(`/displays/${ids[1]}`)) as DisplayDetail
  const made = await studio.admin.post<{ id: number }>(`/displays/${ids[1]}/replace`, {
    ...{ maker, model, panelKind, serial: 'QL-27-99999', firmware: '3.1', slots: 3, old: 'stored' },
  })
  const moved = await settled(id)
  expect(moved.members.map((m) => m.displayId)).toEqual([ids[0], made.id])
  expect(moved.reference).toBe(made.id)
  expect(moved.standing).toMatchObject({ moved: ['none'], lack: { why: 'unknown', members: [made.id] } })
  const { items } = await studio.admin.get<Page<PeerSetListing>>(`/peer-sets?display=${made.id}`)
  expect(items).toMatchObject([{ id, moved: ['none'], luminance: null }])
  expect(await studio.admin.get(`/peer-sets?display=${ids[1]}`)).toMatchObject({ items: [] })
  await studio.admin.post(`/displays/${made.id}/keep`, { kept: 'stored' })
  expect((await settled(id)).standing).toMatchObject({ lack: { why: 'too few' }, moved: ['none'] })
  expect((await setOf(id)).members.map((m) => m.kept)).toEqual(['in use', 'stored'])

  const { aim } = await setOf(id)
  await studio.admin.raw('DELETE', `/peer-sets/${id}`)
  expect((await studio.admin.raw('GET', `/peer-sets/${id}`)).status).toBe(404)
  expect(await studio.admin.get<{ id: number }[]>('/aims')).toContainEqual(expect.objectContaining({ id: aim!.id }))
})

test('an aim that is taken away leaves its set without one, and adopting makes another', async () => {
  const id = await make(ids.slice(0, 2))
  await through(id, { kind: 'baseline' })
  const luminance = Math.floor((await setOf(id)).standing!.ground!.luminance)
  const { id: aimId } = await studio.admin.post<{ id: number }>(`/peer-sets/${id}/aim`, { luminance })
  // Adopted once more it is the same aim, changed in place.
  await studio.admin.put(`/peer-sets/${id}`, bodyOf(ids.slice(0, 2), { headroom: 0.2 }))
  const dimmer = Math.floor((await settled(id)).standing!.ground!.luminance)
  expect((await setOf(id)).standing!.moved).toEqual(['less light'])
  expect(await studio.admin.post(`/peer-sets/${id}/aim`, { luminance: dimmer })).toEqual({ id: aimId })
  expect(await setOf(id)).toMatchObject({ aim: { id: aimId, aim: { luminance: dimmer } }, standing: { moved: [] } })
  await studio.admin.raw('DELETE', `/aims/${aimId}`)
  expect((await setOf(id)).aim).toBeNull()
  const again = await studio.admin.post<{ id: number }>(`/peer-sets/${id}/aim`, { luminance: dimmer })
  expect(again.id).not.toBe(aimId)
})

test('a member matched by eye gets an aim of its own, is calibrated to it, and is compared with that taken off @long @long', async () => {
  const two = ids.slice(0, 2)
  const id = await make(two)
  const [one, other] = two
  const pair = { displayId: other, besideId: one }
  const match = (body: object) => problemOf('POST', `/peer-sets/${id}/match`, { ...pair, u: 0, v: 0, ...body })
  const keep = (body: object) => problemOf('POST', `/peer-sets/${id}/matches`, { ...pair, ...body })
  // Nothing is known of what an empty slot shows.
  expect(await match({})).toMatchObject({ status: 409, detail: expect.stringMatching(/holds nothing yet/) as string })
  await through(id, { kind: 'baseline' })
  const { luminance } = (await setOf(id)).standing!.ground!
  await studio.admin.post(`/peer-sets/${id}/aim`, { luminance: Math.floor(luminance) })
  const before = await through(id, { kind: 'full', holds: two.map((displayId) => ({ displayId, label: '' })) })

  expect(await match({ u: 0.2 })).toMatchObject({ status: 400, field: 'u' })
  expect(await match({ besideId: other })).toMatchObject({
    status: 400,
    detail: expect.stringMatching(/another member/) as string,
  })
  expect(await match({ besideId: ids[2] })).toMatchObject({ status: 400, field: 'besideId' })
  expect(await match({ u: 0.05, v: -0.05 })).toMatchObject({ status: 409, field: 'u' })
  // What the panels show: the one moved by what was asked, the other still, both as bright.
  const shows = [live.serial, beside[0].serial].map((serial) => {
    const showing = jest.spyOn(studio.bench.display(serial), 'showPatch')
    return () => convertXyzToUv(studio.bench.truth(serial, [showing.mock.lastCall![0]])[0])
  })
  await studio.admin.post(`/peer-sets/${id}/match`, { ...pair, u: 0, v: 0 })
  const [still, from] = shows.map((white) => white())
  await studio.admin.post(`/peer-sets/${id}/match`, { ...pair, u: 0.004, v: -0.003 })
  const [unmoved, moved] = shows.map((white) => white())
  expect(Math.hypot(moved.u - from.u - 0.004, moved.v - from.v + 0.003)).toBeLessThan(0.0004)
  expect(Math.hypot(unmoved.u - still.u, unmoved.v - still.v)).toBeLessThan(1e-5)

  const repeats = [
    { side: 0, u: 0.0038, v: -0.003 },
    { side: 1, u: 0.0042, v: -0.003 },
  ]
  expect(await keep({ repeats: repeats.slice(1) })).toMatchObject({ status: 400, field: 'repeats' })
  expect(await keep({ repeats: [repeats[0], repeats[0]] })).toMatchObject({ status: 400, field: 'repeats' })
  expect(await keep({ repeats: [repeats[0], { side: 2, u: -0.03, v: 0.02 }] })).toMatchObject({
    status: 409,
    field: 'repeats',
  })
  expect((await setOf(id)).matches).toEqual([])
  const technician = await studio.as('technician')
  await technician.post(`/peer-sets/${id}/matches`, { ...pair, repeats })
  const matched = await settled(id)
  const [kept] = matched.matches
  expect(kept).toMatchObject({ displayId: other, besideId: one, by: 'technician', state: 'in force' })
  const [mine, theirs] = [other, one].map((m) => matched.members.find((x) => x.displayId === m)!.judged!.white)
  const at = (xy: { x: number; y: number }) => convertXyzToUv(convertChromaticityToXyz(xy))
  expect(kept.offset.u).toBeCloseTo(at(mine).u + 0.004 - at(theirs).u, 9)
  // Until it is calibrated to that, the two look as far apart as was found.
  expect(furthestOf(matched.standing!.alike!).white).toBeGreaterThan(0.0035)
  const aims = await studio.admin.get<{ id: number; aim: { white: object; luminance: number } }[]>('/aims')
  expect(aims.find((a) => a.id === kept.aim!.id)!.aim).toMatchObject({
    white: { kind: 'by eye', of: { kind: 'standard', name: 'D65' } },
    luminance: Math.floor(luminance),
  })

  const after = await through(id, {
    kind: 'full',
    holds: two.map((displayId) => ({ displayId, label: 'Plate desks, common ground' })),
  })
  expect(after.members.map((m) => m.label)).toEqual(['Plate desks, common ground', kept.aim!.name])
  expect(furthestOf(after.standing!.alike!).white).toBeLessThan(furthestOf(before.standing!.alike!).white + 0.002)
  // It is judged against what was found, and measures that far from its neighbour.
  const [plain, eyed] = after.members.map((m) => at(m.judged!.white))
  expect(eyed.u - plain.u).toBeCloseTo(kept.offset.u, 2.5)
  expect(after.members.map((m) => m.judged!.verdict)).not.toContain('outside')

  // Ground that is adopted anew moves with it; a match made anew takes the same aim.
  await studio.admin.put(`/peer-sets/${id}`, bodyOf(two, { headroom: 0.2 }))
  const dimmer = Math.floor((await settled(id)).standing!.ground!.luminance)
  await studio.admin.post(`/peer-sets/${id}/aim`, { luminance: dimmer })
  const own2 = (await studio.admin.get<typeof aims>('/aims')).find((a) => a.id === kept.aim!.id)!
  expect(own2.aim).toMatchObject({ white: { kind: 'by eye' }, luminance: dimmer })
  await studio.admin.post(`/peer-sets/${id}/matches`, { ...pair, repeats })
  const anew = (await setOf(id)).matches
  expect(anew.map((m) => [m.state, m.aim?.id])).toEqual([
    ['in force', kept.aim!.id],
    ['ended', kept.aim!.id],
  ])
  // Two who keep one at the same time are both heard, and the later one holds.
  const kept2 = await Promise.all(
    [0, 1].map(() => studio.admin.raw('POST', `/peer-sets/${id}/matches`, { ...pair, repeats })),
  )
  expect(kept2.map((r) => r.status)).toEqual([201, 201])
  expect((await setOf(id)).matches.filter((m) => m.state === 'in force')).toHaveLength(1)
  const inForce = (await setOf(id)).matches[0]
  const away = (path: string) => problemOf('DELETE', path)
  expect((await technician.raw('DELETE', `/peer-matches/${inForce.id}`)).status).toBe(403)
  await studio.admin.raw('DELETE', `/peer-matches/${inForce.id}`)
  expect(await away(`/peer-matches/${inForce.id}`)).toMatchObject({ status: 409 })
  expect((await setOf(id)).matches.map((m) => m.state)).toEqual(Array(4).fill('ended'))
  // A member that leaves takes its match with it.
  await studio.admin.post(`/peer-sets/${id}/matches`, { ...pair, repeats })
  await studio.admin.put(`/peer-sets/${id}`, bodyOf([one, ids[2]]))
  expect((await setOf(id)).matches.map((m) => m.state)).toEqual(Array(5).fill('ended'))
})

test('black is lifted for all only where every member can lift it', async () => {
  const id = await make(ids, { black: 'common' })
  await baselines()
  const luminance = Math.floor((await settled(id)).standing!.ground!.luminance)
  expect(await problemOf('POST', `/peer-sets/${id}/aim`, { luminance })).toMatchObject({
    status: 409,
    detail: expect.stringMatching(/: This display holds no 3D table/) as string,
  })
  await studio.admin.put(`/peer-sets/${id}`, bodyOf(ids.slice(0, 2), { black: 'common' }))
  const two = (await settled(id)).standing!.ground!
  await studio.admin.post(`/peer-sets/${id}/aim`, { luminance: Math.floor(two.luminance) })
  const { aim } = (await setOf(id)).aim!
  expect(aim.black).toMatchObject({ kind: 'fixed' })
  const { luminance: black } = aim.black as { luminance: number }
  expect(black).toBeGreaterThanOrEqual(Math.max(...two.members.map((m) => m.black)))
})

test('Rounds plans a set’s members for one instrument, together with the first of them that falls due @long', async () => {
  const hour = 3_600_000
  studio.clock.jumpTo(Math.ceil(studio.clock.now() / (24 * hour)) * 24 * hour + 9 * hour)
  studio.admin = await studio.as('administrator')
  const house = await studio.admin.get<RoundsHouse>('/rounds/house')
  const desk = Array.from({ length: 7 }, () => ({ from: '00:00', to: '24:00' }))
  const { hours, minutes, walk } = house
  await studio.admin.put('/rounds/settings', { hours: { ...hours, zone: 'UTC', desk, lunch: null }, minutes, walk })
  studio.bench.carry('TC-0522', live.workstation)
  const known = () => studio.admin.get<{ serial: string; workstationId: number | null }[]>('/instruments')
  await until(async () => (await known()).filter((i) => i.workstationId !== null).length === 2, 'both are here')
  for (const displayId of ids.slice(0, 2))
    await studio.finish(await studio.start({ displayId, sampling: 'brief', overwrites: '' }))
  const dueEvery = async (displayId: number, checkEveryDays: number) => {
    const { name, limitsId } = await studio.admin.get<DisplayDetail>(`/displays/${displayId}`)
    await studio.admin.put(`/displays/${displayId}`, { name, limitsId, checkEveryDays })
  }
  await dueEvery(ids[0], 2)
  await dueEvery(ids[1], 30)
  const planned = async () => {
    await studio.admin.post('/rounds/plan', { days: 7 })
    return (await studio.admin.get<Week>('/rounds/week')).visits.filter(
      (v) => v.state === 'planned' && ids.slice(0, 2).includes(v.display.id),
    )
  }
  expect((await planned()).map((v) => v.display.id)).toEqual([ids[0]])
  // Due a month later it stays away; within half of its calendar it comes along.
  const set = await make(ids.slice(0, 2))
  expect((await planned()).map((v) => v.display.id)).toEqual([ids[0]])
  expect((await setOf(set)).ahead).toMatchObject({ members: 1 })
  await dueEvery(ids[0], 6)
  await dueEvery(ids[1], 10)
  const both = await planned()
  expect(both.map((v) => [v.display.id, v.dueBy]).sort()).toEqual([
    [ids[0], 'calendar'],
    [ids[1], 'set'],
  ])
  expect(new Set(both.map((v) => v.instrumentId)).size).toBe(1)
  expect(new Set(both.map((v) => v.peerSet))).toEqual(new Set(['Plate desks']))
  expect(new Set(both.map((v) => v.dueAt)).size).toBe(1)
  expect(Math.abs(both[0].at! - both[1].at!)).toBeLessThan(3 * hour)
  const times = both.map((v) => v.at!)
  expect((await setOf(set)).ahead).toEqual({
    ...{ from: Math.min(...times), to: Math.max(...times), members: 2 },
    instrument: expect.stringContaining('TC-') as string,
  })
})
