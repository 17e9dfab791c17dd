import type { DisplayRollout, RolloutRow, WavePreview } from '@bichroma/contract'
import { RolloutStudio } from '../scripts/ordeal/rolloutStudio'
import { HeldClient } from './heldClient'
import { until } from '../scripts/waiting'

let studio: RolloutStudio
/** The host’s own word for what is bound to a display. */
const bound = async (r: RolloutRow) =>
  (await studio.bench.host(r.workstationName).listInForce()).find((b) => b.serial === serialOf(r)) ?? null
const serialOf = ({ displayName }: RolloutRow) => {
  const [w, n] = displayName.replace('Reed ', '').split('-')
  return `RD-${w.padStart(3, '0')}-${n}`
}
const rule = (rules: object, level = 'studio', of?: number) =>
  studio.client.ask('PUT', '/policies', { level, ...(of && { of }), rules })
const signAllOut = () => studio.bench.names.forEach((name) => studio.bench.host(name).signOut())
const ended = (id: number, state = 'done') =>
  until(async () => (await studio.detail(id)).state === state, `wave ${id} is ${state}`, 20_000)
/** The first display of a workstation of each system. */
const windows = () => studio.row(1)
const macos = () => studio.row(3)
const linux = () => studio.row(5)

beforeEach(async () => {
  studio = await RolloutStudio.open(6, 2, HeldClient)
  for (const { displayId } of await studio.rows()) for (const slot of [1, 2]) studio.file(displayId, slot, 1)
  for (const name of studio.bench.names) studio.bench.connect(name)
  await until(async () => (await studio.rows()).every((r) => r.courierOnline), 'every courier is there')
  await studio.settle()
})
afterEach(() => studio.close())

test('a wave goes first to a few, then to the rest, and gives everything back; files of others are not touched', async () => {
  const before = await macos()
  await studio.bench.host(before.workstationName).replaceProfile(serialOf(before), 'Panel Pal')
  await studio.settle()
  const theirs = (await bound(before))!
  const id = await studio.wave({}, { first: 3, gate: 'word' })
  await until(async () => (await studio.detail(id)).counts.there === 3, 'the first few are there')
  const first = await studio.detail(id)
  expect(first).toMatchObject({ state: 'under way', says: expect.stringContaining('somebody’s word') })
  expect(first.counts['held back']).toBe(9)
  // One of each system goes first.
  expect(
    new Set(first.items.items.filter((i) => i.step === 1).map((i) => Number(i.workstationName.slice(5)) % 3)).size,
  ).toBe(3)
  expect((await studio.rows()).filter((r) => r.placement)).toHaveLength(3)

  await studio.client.post(`/waves/${id}/word`)
  await ended(id)
  signAllOut()
  await studio.settle()
  for (const row of await studio.rows()) {
    expect([row.displayId, row.placement?.state, row.differs]).toEqual([row.displayId, 'in force', false])
    expect((await bound(row))!.hash).toBe(row.wanted!.profileHash)
  }

  await studio.client.post(`/waves/${id}/undo`)
  await ended(id, 'undone')
  for (const row of await studio.rows())
    expect([row.displayId, (await bound(row))?.hash ?? null]).toEqual([
      row.displayId,
      row.displayId === before.displayId ? theirs.hash : null,
    ])
  expect((await bound(before))!.associations).toEqual(theirs.associations)
  const [{ wave }] = studio.ask<{ wave: string }>(`SELECT group_concat(act) AS wave FROM ledger WHERE thing = 'wave'`)
  expect(wave).toBe('started,confirmed,undid')
})

test('what would be done is shown first, and nothing is sent that was not looked at @long', async () => {
  studio.bench.disconnect('reed-001')
  await until(async () => !(await windows()).courierOnline, 'it is away')
  const preview = await studio.client.post<WavePreview>('/waves/preview', { selection: { systems: ['windows'] } })
  expect(preview).toMatchObject({ does: 4, chosen: 4, waits: { courier: 2, 'sign-out': 4 }, not: {} })
  expect(preview.rows[0]).toMatchObject({
    displayId: 1,
    action: 'place',
    slot: 1,
    fileName: 'Reed-1-slot-1-v1.icc',
    scope: 'machine',
    inPlaceOf: null,
    waits: ['courier', 'sign-out'],
  })
  expect((await studio.rows()).filter((r) => r.placement)).toEqual([])
  studio.file(1, 1, 2)
  const start = { name: 'Late', first: 0, gate: 'read-back', stopShare: 1, days: 14, digest: preview.digest }
  await expect(studio.client.post('/waves', { ...start, selection: { systems: ['windows'] } })).rejects.toThrow(
    'has changed since you looked',
  )
  await expect(studio.client.post('/waves', { ...start, selection: { models: ['None such'] } })).rejects.toThrow(
    'Look at it again',
  )
})

test('failures stop a wave; mended it goes on; what waits too long is left out', async () => {
  const rows = await studio.rows()
  for (const name of studio.bench.names.slice(0, 4)) studio.bench.host(name).diskFull = true
  studio.bench.disconnect('reed-006')
  await until(async () => !(await studio.row(11)).courierOnline, 'it is away')
  const id = await studio.wave({}, { first: 0, stopShare: 0.3 })
  await ended(id, 'stopped')
  const stopped = await studio.detail(id)
  expect(stopped.says).toMatch(/^8 of 12 failed/)
  expect(stopped.items.items.find((i) => i.displayId === 1)).toMatchObject({
    state: 'failed',
    mend: 'room',
    says: expect.stringContaining('The disk of reed-001 is full'),
  })
  for (const name of studio.bench.names) studio.bench.host(name).diskFull = false
  await studio.client.post(`/waves/${id}/go-on`)
  await until(async () => (await studio.detail(id)).counts.there === 10, 'ten are there')
  expect((await studio.detail(id)).items.items.find((i) => i.displayId === 11)).toMatchObject({
    state: 'under way',
    mend: 'courier',
  })
  await studio.laterBy(15)
  await studio.settle()
  expect(await studio.detail(id)).toMatchObject({ state: 'done', counts: { there: 10, 'left out': 2 } })
  expect(await studio.row(11)).toMatchObject({ placement: null, differs: true, mend: 'decision' })
  expect(rows).toHaveLength(12)
})

test('what a wave could not place by its last day is not placed after it, although it was tried @long', async () => {
  studio.bench.host('reed-002').diskFull = true
  const id = await studio.wave({ displays: [3, 4] }, { first: 0 })
  await until(async () => (await studio.detail(id)).counts.failed === 2, 'both failed')
  await studio.laterBy(15)
  await studio.server.waves.look()
  studio.bench.host('reed-002').diskFull = false
  await studio.settle()
  expect(await studio.detail(id)).toMatchObject({ state: 'done', counts: { 'left out': 2 } })
  expect(await bound(await macos())).toBeNull()
  expect(await macos()).toMatchObject({ placement: null, differs: true, mend: 'decision' })
})

test('a taken name gets another that keeps its day @long', async () => {
  const taken = 'Reed-3-slot-1-v1.icc'
  const { bench } = studio
  await bench.host('reed-002').putFile('machine', taken, new TextEncoder().encode('another’s'))
  await bench.host('reed-002').putFile('machine', 'Reed-3-slot-1-v1-2.icc', new TextEncoder().encode('another’s too'))
  await ended(await studio.wave({ displays: [3] }, { first: 0 }))
  expect((await macos()).placement!.fileName).toBe('Reed-3-slot-1-v1-3.icc')
})

test('a workstation that comes back after a week gets its part, over the server’s death @long', async () => {
  studio.bench.disconnect('reed-003')
  await until(async () => !(await linux()).courierOnline, 'it is away')
  const id = await studio.wave({ displays: [5, 6] }, { first: 0 })
  await until(async () => (await studio.detail(id)).counts['under way'] === 2, 'they are let out')
  await studio.laterBy(7)
  await studio.restart()
  await studio.client.signIn('administrator', 'ordeal-word')
  expect(await linux()).toMatchObject({ placement: { state: 'queued' }, mend: 'courier' })
  studio.bench.connect('reed-003')
  await ended(id)
  expect((await bound(await linux()))!.hash).toBe((await linux()).wanted!.profileHash)
})

test('two waves over one display: the later has the word, and undoing the earlier leaves it @long', async () => {
  const first = await studio.wave({ displays: [3, 4] }, { first: 0 })
  await ended(first)
  studio.file(3, 1, 2)
  await studio.settle()
  const second = await studio.wave({ differs: true, displays: [3] }, { first: 0 })
  await ended(second)
  await studio.client.post(`/waves/${first}/undo`)
  await ended(first, 'undone')
  const { items } = (await studio.detail(first)).items
  expect(items.map((i) => [i.displayId, i.state])).toEqual([
    [3, 'left out'],
    [4, 'undone'],
  ])
  expect((await bound(await macos()))!.hash).toBe((await macos()).wanted!.profileHash)
  await studio.client.post(`/waves/${second}/undo`)
  await ended(second, 'undone')
  // What it had before the second: ours of the first.
  expect((await bound(await macos()))!.path).toContain('Reed-3-slot-1-v1.icc')
  expect((await macos()).placement).toMatchObject({
    why: 'undo',
    state: 'in force',
    profileHash: (await bound(await macos()))!.hash,
  })
})

test('a policy that changes in the middle keeps back what it does not want any more @long', async () => {
  const id = await studio.wave({}, { first: 1, gate: 'word' })
  await until(async () => (await studio.detail(id)).counts.there === 1, 'the first is there')
  await rule({ profile: 2 }, 'display', 7)
  await studio.settle()
  await studio.client.post(`/waves/${id}/word`)
  await ended(id)
  const left = (await studio.detail(id)).items.items.filter((i) => i.state === 'left out')
  expect(left.map((i) => [i.displayId, i.says])).toEqual([[7, expect.stringContaining('What is wanted on it changed')]])
  expect(await studio.row(7)).toMatchObject({ wanted: { slot: 2, origin: 'display' }, differs: true, mend: 'decision' })
})

describe('it stays so', () => {
  beforeEach(async () => {
    await ended(await studio.wave({}, { first: 0 }))
    signAllOut()
    await studio.settle()
  })
  const becomes = (id: number, state: string) =>
    until(async () => (await studio.row(id)).placement?.state === state, `display ${id} is ${state}`)

  test('a profile that was replaced is told within a moment, by whom where the system tells; the policy says no more @long', async () => {
    await studio.bench.host('reed-001').replaceProfile('RD-001-1', 'Glint Arcade')
    await becomes(1, 'overridden')
    expect((await windows()).placement!.message).toContain('put there by Glint Arcade')
    expect((await windows()).found).toMatchObject({ by: 'Glint Arcade', ours: false })
    await studio.bench.host('reed-002').replaceProfile('RD-002-1', 'Glint Arcade')
    await becomes(3, 'overridden')
    expect((await macos()).found!.by).toBeNull()
  })

  test('put back three times within an hour, and then left alone until somebody places it again @long', async () => {
    await rule({ whenOther: 'put back always' })
    for (let n = 1; n <= 3; n++) {
      await studio.bench.host('reed-002').replaceProfile('RD-002-1', 'Glint Arcade')
      await until(async () => (await macos()).placement!.putBacks.length === n, `it was put back ${n} times`)
      await becomes(3, 'in force')
    }
    await studio.bench.host('reed-002').replaceProfile('RD-002-1', 'Glint Arcade')
    await until(async () => (await macos()).placement!.leftAlone, 'it is left alone')
    await studio.settle()
    expect(await macos()).toMatchObject({ placement: { state: 'overridden', leftAlone: true }, mend: 'decision' })
    expect((await macos()).placement!.message).toContain('keeps replacing it')
    expect(await studio.client.list<RolloutRow>('/rollout?mend=decision')).toHaveLength(1)
    await studio.client.post('/placements', { runId: (await macos()).wanted!.runId })
    await becomes(3, 'in force')
    expect((await macos()).placement).toMatchObject({ leftAlone: false, putBacks: [] })
  })

  test('once means once @long', async () => {
    await rule({ whenOther: 'put back once' }, 'room', 1)
    await studio.bench.host('reed-002').unbind('RD-002-1')
    await until(async () => (await macos()).placement!.putBacks.length === 1, 'it was put back')
    await becomes(3, 'in force')
    await studio.bench.host('reed-002').unbind('RD-002-1')
    await becomes(3, 'missing')
    await studio.settle()
    expect((await macos()).placement!.state).toBe('missing')
  })

  test('a slot that somebody switches to: told, followed, or switched back, as the policy says @long', async () => {
    studio.bench.display('RD-002-1').press({ slot: 2 })
    await becomes(3, 'out of step')
    await until(async () => (await macos()).wanted!.slot === 2, 'the profile of the other slot is wanted')
    expect(await macos()).toMatchObject({ shownSlot: 2, differs: true, mend: 'decision' })
    studio.bench.display('RD-002-1').press({ slot: 1 })
    await becomes(3, 'in force')

    await rule({ whenSwitched: 'follow' })
    await studio.settle()
    studio.bench.display('RD-002-1').press({ slot: 2 })
    await until(async () => (await macos()).placement?.slot === 2, 'it follows')
    await becomes(3, 'in force')
    expect((await macos()).placement).toMatchObject({ why: 'switched', requestedBy: 'Bichroma' })
    expect((await bound(await macos()))!.path).toContain('slot-2')

    await rule({ whenSwitched: 'switch back' })
    await studio.settle()
    studio.bench.display('RD-002-1').press({ slot: 1 })
    await until(async () => (await studio.bench.display('RD-002-1').shownSlot()) === 2, 'it was switched back')
    await becomes(3, 'in force')
  })

  test('a slot that is switched in the same moment in which a policy says to follow is followed all the same @long', async () => {
    const now = await macos()
    expect(now.shownSlot).toBe(1)
    // Both are worked off in one go: nothing of it was before.
    const stored = rule({ whenSwitched: 'follow' })
    studio.ask(`UPDATE display SET active_slot = 2 WHERE id = 3 RETURNING id`)
    studio.bench.display('RD-002-1').press({ slot: 2 })
    await stored
    await until(async () => (await macos()).placement?.slot === 2, 'it follows')
    await becomes(3, 'in force')
    expect((await macos()).placement).toMatchObject({ why: 'switched' })
  })

  test('a policy that says to follow moves nothing that was switched before @long', async () => {
    studio.bench.display('RD-002-1').press({ slot: 2 })
    await becomes(3, 'out of step')
    await until(async () => (await macos()).wanted!.slot === 2, 'the profile of the other slot is wanted')
    await rule({ whenSwitched: 'follow' })
    await studio.settle()
    expect((await macos()).placement).toMatchObject({ slot: 1, state: 'out of step' })
  })

  test('a change that a system did not tell is found by the slow look @long', async () => {
    studio.bench.host('reed-002').deaf = true
    await studio.bench.host('reed-002').unbind('RD-002-1')
    await studio.server.schedule.look()
    expect((await macos()).placement!.state).toBe('in force')
    await studio.laterBy(1)
    await studio.server.schedule.look()
    expect((await macos()).placement!.state).toBe('missing')
  })

  test('old files of ours go by policy; others’ stay, also under a name that we had @long', async () => {
    await rule({ keepOld: 1, fresh: 'at once' })
    await studio.settle()
    const names = async () =>
      (await studio.bench.host('reed-002').files()).map((f) => f.name).filter((n) => n.startsWith('Reed-3-'))
    await studio.bench
      .host('reed-002')
      .putFile('machine', 'Reed-3-slot-1-v3.icc', new TextEncoder().encode('another’s'))
    for (const version of [2, 3, 4]) {
      studio.file(3, 1, version)
      await studio.settle()
      await becomes(3, 'in force')
    }
    await studio.settle()
    expect((await names()).sort()).toEqual(['Reed-3-slot-1-v3-2.icc', 'Reed-3-slot-1-v3.icc', 'Reed-3-slot-1-v4.icc'])
    const kept = (await studio.bench.host('reed-002').files()).find((f) => f.name === 'Reed-3-slot-1-v3.icc')!
    expect(kept.hash).not.toBe(
      studio.ask<{ hash: string }>('SELECT profile_hash AS hash FROM run WHERE id = (SELECT MAX(id) - 1 FROM run)')[0]
        .hash,
    )
  })

  test('fresh profiles are placed at once, gathered for the morning, or left to a person @long', async () => {
    const { runId } = (await macos()).placement!
    studio.file(3, 1, 2)
    await studio.settle()
    expect((await macos()).placement!.runId).toBe(runId)
    expect(await macos()).toMatchObject({ differs: true, mend: 'decision' })

    await rule({ fresh: 'at once' })
    await studio.settle()
    // What was there before somebody said so waits for a person.
    expect((await macos()).placement!.runId).toBe(runId)
    studio.file(3, 1, 3)
    await studio.settle()
    await becomes(3, 'in force')
    expect((await macos()).placement).toMatchObject({ why: 'fresh' })

    await rule({ fresh: 'gathered' })
    await studio.settle()
    for (const id of [3, 4, 5]) studio.file(id, 1, 4)
    await studio.settle()
    expect((await macos()).differs).toBe(true)
    // Through a night: it begins, and it ends.
    studio.clock.now = new Date(2026, 10, 27, 23).getTime()
    await studio.client.signIn('administrator', 'ordeal-word')
    await studio.settle()
    expect(studio.ask('SELECT id FROM wave')).toHaveLength(1)
    studio.clock.now = new Date(2026, 10, 28, 7).getTime()
    await studio.settle()
    expect(studio.ask('SELECT name, first FROM wave WHERE id = 2')).toEqual([
      { name: 'Fresh profiles, 28 Nov 2026', first: 3 },
    ])
    expect((await studio.detail(2)).items.items.map((i) => i.displayId)).toEqual([3, 4, 5])
    await becomes(3, 'in force')
    await studio.settle()
    expect(studio.ask('SELECT id FROM wave')).toHaveLength(2)
  })

  test('a display that moves takes its profile along, and leaves nothing behind @long', async () => {
    const [{ id: to }] = studio.ask<{ id: number }>(`SELECT id FROM workstation WHERE name = 'reed-005'`)
    studio.bench.plug('RD-002-1', 'reed-005')
    await studio.client.post('/displays/3/move', { workstationId: to })
    await becomes(3, 'in force')
    await studio.settle()
    expect((await studio.bench.host('reed-002').listInForce()).map((b) => b.serial)).toEqual(['RD-002-2'])
    expect((await studio.bench.host('reed-002').files()).some((f) => f.name.startsWith('Reed-3-'))).toBe(false)
    expect((await bound(await macos()))!.hash).toBe((await macos()).wanted!.profileHash)
    // Put away, nothing of it stays where it was.
    await studio.client.post('/displays/3/keep', { kept: 'stored', why: 'not needed' })
    await until(
      async () => (await studio.bench.host('reed-005').listInForce()).every((b) => b.serial !== 'RD-002-1'),
      'it was released',
    )
  })

  test('a display that two workstations reach has a placement on each; a slot is known to both @long', async () => {
    studio.bench.share('RD-002-1', 'reed-005')
    const [{ id: other }] = studio.ask<{ id: number }>(`SELECT id FROM workstation WHERE name = 'reed-005'`)
    await studio.client.post('/displays/3/links', { workstationId: other })
    await studio.client.post('/placements', { runId: (await macos()).wanted!.runId })
    const links = async () => (await studio.client.get<DisplayRollout>('/displays/3/rollout')).links
    await until(async () => (await links())[0]?.state === 'in force', 'it is in force on both')
    const there = (await studio.bench.host('reed-005').listInForce()).find((b) => b.serial === 'RD-002-1')!
    expect(there.hash).toBe((await macos()).wanted!.profileHash)
    studio.bench.display('RD-002-1').press({ slot: 2 })
    await until(async () => (await links())[0].state === 'out of step', 'both know the slot')
    await studio.client.ask('DELETE', `/displays/3/links/${other}`)
    await until(
      async () => (await studio.bench.host('reed-005').listInForce()).every((b) => b.serial !== 'RD-002-1'),
      'what it had there was taken away',
    )
    await expect(studio.client.post('/displays/3/links', { workstationId: 2 })).rejects.toThrow('already')
  })

  test('switches of programs are told with where to find them, and set where the policy wishes and the courier may @long @long', async () => {
    const told = async () => (await studio.client.get<DisplayRollout>('/displays/3/rollout')).programs
    expect(await told()).toMatchObject([
      { program: 'Lookout', switch: 'colorManagement', found: 'tagged', wanted: 'all', settable: false },
      { program: 'Lookout', switch: 'version4', found: 'off', wanted: 'on' },
    ])
    await rule({ programs: 'set' })
    await studio.settle()
    expect(await told()).toHaveLength(2)
    expect((await studio.client.get<DisplayRollout>('/displays/1/rollout')).programs).toEqual([])
    expect((await studio.bench.host('reed-001').programs())[0]).toMatchObject({
      colorManagement: 'all',
      version4: true,
    })
  })

  test('curves that the video card lost are told, and loaded again where the policy says so @long', async () => {
    // The fourth display of a workstation lives by its video card.
    const own = await RolloutStudio.open(1, 4, HeldClient)
    try {
      const card = own.bench.display('RD-001-4')
      const told = async () => (await own.client.get<DisplayRollout>('/displays/4/rollout')).curves
      own.bench.connect('reed-001')
      await until(async () => (await told()) === 'on', 'they are told')
      card.setLoader('lost')
      await until(async () => (await told()) === 'lost', 'it is told')
      await own.client.ask('PUT', '/policies', { level: 'display', of: 4, rules: { loader: 'put back' } })
      await own.settle()
      expect([await told(), await card.curves()]).toEqual(['on', 'on'])
      card.setLoader('off')
      await until(async () => (await card.curves()) === 'on', 'it is loaded again')
    } finally {
      await own.close()
    }
  })

  test('a note asks for a sign-out, and goes once it is done @long', async () => {
    const host = studio.bench.host('reed-001')
    expect(host.note).toBeNull()
    studio.file(1, 1, 2)
    await studio.settle()
    await ended(await studio.wave({ displays: [1] }, { first: 0 }))
    await until(async () => host.note !== null, 'there is a note')
    expect(host.note).toContain('sign out and in again')
    host.signOut()
    await until(async () => host.note === null, 'the note is gone')
    await becomes(1, 'in force')
  })
})
