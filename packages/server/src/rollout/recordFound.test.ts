import type { DataSource } from 'typeorm'
import { LooseStore } from '../test/looseStore'
import { written } from '../data/atomically'
import { displaysSought, foundNow, recordFound, type ReadBack } from './recordFound'

const at = Date.UTC(2026, 10, 30)
const [hash, other] = ['a', 'b'].map((letter) => letter.repeat(64))

let store: LooseStore
let data: DataSource
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  await store.display(1, 1)
  await store.display(2, 1)
  await store.display(3, 1, { kept: 'retired' })
  await store.display(4, 2)
})
afterEach(async () => {
  await store.close()
})

const bound = (serial: string, change: Partial<ReadBack['bindings'][number]> = {}): ReadBack['bindings'][number] => ({
  serial,
  scope: 'machine',
  path: '/usr/share/color/icc/Reed.icc',
  hash,
  waitsFor: null,
  associations: { machine: ['Reed.icc'], user: [], perUser: false },
  by: null,
  ...change,
})
const lookout = {
  name: 'Lookout',
  kind: 'browser',
  colorManagement: 'tagged',
  version4: false,
  settable: true,
} as const
const readOf = (change: Partial<ReadBack> = {}): ReadBack =>
  ({ bindings: [], slots: [], loaders: [], programs: [], ...change }) as ReadBack
let minutes = 0
/** Records what was read back of the first workstation, a minute after the last. */
const record = async (change: Partial<ReadBack>, told: 'courier' | 'hand' = 'courier') =>
  recordFound(data, 1, await displaysSought(data, 1), readOf(change), at + 60_000 * ++minutes, told)
beforeEach(() => (minutes = 0))
const rows = (of: string) => data.query<Record<string, unknown>[]>(`SELECT * FROM ${of} ORDER BY id`)
const displayOf = async (id: number) => (await rows('display')).find((d) => d.id === id)!

test('displays are sought that stand there in use, that it reaches too, and that have something of it still', async () => {
  const ids = async (workstation: number) => (await displaysSought(data, workstation)).map((d) => d.id)
  expect(await displaysSought(data, 1)).toEqual([
    { id: 1, serial: 'R-1', activeSlot: 1, curves: null },
    { id: 2, serial: 'R-2', activeSlot: 1, curves: null },
  ])
  await data.query('INSERT INTO display_link (display_id, workstation_id) VALUES (4, 1)')
  expect(await ids(1)).toEqual([1, 2, 4])
  expect(await ids(2)).toEqual([4])
  const left = (displayId: number, state: string, tries: number, runId: number | null, removedAt: number | null) =>
    data.query(
      `INSERT INTO placement (display_id, workstation_id, description, scope, state, requested_at, tries, run_id, removed_at)
       VALUES (?, 3, 'Plates', 'machine', ?, ?, ?, ?, ?)`,
      [displayId, state, at, tries, runId, removedAt],
    )
  await left(1, 'withdrawn', 0, 7, null)
  await left(2, 'withdrawn', 1, null, null)
  await left(3, 'withdrawn', 1, 7, at)
  expect(await ids(3)).toEqual([])
  await left(3, 'withdrawn', 1, 7, null)
  await left(4, 'queued', 0, null, null)
  expect(await ids(3)).toEqual([3, 4])
})

test('what is as before keeps its row and tells when it was read; what is otherwise gets one of its own', async () => {
  expect(await record({ bindings: [bound('R-1')] })).toBe(true)
  expect(await record({ bindings: [bound('R-1')] })).toBe(false)
  expect(await rows('found')).toMatchObject([
    { display_id: 1, hash, path: '/usr/share/color/icc/Reed.icc', since: at + 60_000, read_at: at + 120_000 },
    // Nothing is bound there: that too is found.
    { display_id: 2, hash: null, path: null, scope: null, since: at + 60_000, read_at: at + 120_000, told: 'courier' },
  ])
  const changes: Partial<ReadBack['bindings'][number]>[] = [
    { hash: other },
    { hash: other, path: '/home/reed/.local/share/icc/Reed.icc' },
    { hash: other, scope: 'user' },
    { hash: other, scope: 'user', waitsFor: 'sign-out' },
    { hash: other, scope: 'user', waitsFor: 'sign-out', associations: { machine: [], user: [], perUser: true } },
  ]
  for (const change of changes) {
    expect(await record({ bindings: [bound('R-1', change)] })).toBe(true)
    expect((await foundNow(data, 1, [1])).get(1)).toMatchObject({ ...change, since: at + 60_000 * minutes })
  }
  // Who bound it is told with what was bound, and makes nothing new of it.
  expect(await record({ bindings: [bound('R-1', { ...changes[4], by: 'Panel Pal' })] })).toBe(false)
  expect(await record({})).toBe(true)
  expect((await foundNow(data, 1, [1])).get(1)).toMatchObject({ path: null, hash: null })
  expect([...(await foundNow(data, 1, [2])).keys()]).toEqual([2])
  expect((await foundNow(data, 2, [1])).size).toBe(0)
})

test('of a display on a workstation two hundred changes are kept, and no other’s are forgotten for it', async () => {
  for (let i = 0; i < 203; i++) await record({ bindings: [bound('R-1', { hash: i % 2 ? hash : other })] })
  const kept = await data.query<[{ n: number; least: number }]>(
    'SELECT COUNT(*) AS n, MIN(since) AS least FROM found WHERE display_id = 1',
  )
  expect(kept).toEqual([{ n: 200, least: at + 4 * 60_000 }])
  expect((await rows('found WHERE display_id = 2')).map((f) => f.since)).toEqual([at + 60_000])
})

test('a slot on show is taken over, unless a run has the display, or the display has no such slot', async () => {
  const slot = (serial: string, number: number) => ({ slots: [{ serial, slot: number }] })
  expect(await record(slot('R-1', 2))).toBe(true)
  expect(await record(slot('R-1', 2))).toBe(false)
  await record(slot('R-1', 4))
  expect([await displayOf(1), await displayOf(2)]).toMatchObject([{ active_slot: 2 }, { active_slot: 1 }])
  await data.query(
    `INSERT INTO run (display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at)
     VALUES (1, 1, 'check', 'Plates', '{}', '{"rules":[]}', 1, 1, 'running', 'prove', ?)`,
    [at],
  )
  expect(await record(slot('R-1', 3))).toBe(false)
  expect(await displayOf(1)).toMatchObject({ active_slot: 2 })
  expect(await record(slot('R-2', 3))).toBe(true)
  expect(await displayOf(2)).toMatchObject({ active_slot: 3 })
})

test('whether curves are loaded is kept with since when', async () => {
  const loader = (state: 'on' | 'lost') => ({ loaders: [{ serial: 'R-2', state }] })
  expect(await record(loader('on'))).toBe(true)
  expect(await record(loader('on'))).toBe(false)
  expect(await displayOf(2)).toMatchObject({ curves: 'on', curves_since: at + 60_000 })
  expect(await record(loader('lost'))).toBe(true)
  expect(await displayOf(2)).toMatchObject({ curves: 'lost', curves_since: at + 180_000 })
  expect(await displayOf(1)).toMatchObject({ curves: null, curves_since: null })
})

test('programs are kept by name with their switches; one that is gone is gone, and that is a change too', async () => {
  await record({})
  expect(await record({ programs: [lookout, { ...lookout, name: 'Plover' }] })).toBe(true)
  expect(await record({ programs: [lookout, { ...lookout, name: 'Plover' }] })).toBe(false)
  for (const change of [
    { colorManagement: 'all' },
    { colorManagement: 'all', version4: true },
    { settable: false },
  ] as const)
    expect(
      await record({
        programs: [
          { ...lookout, ...change },
          { ...lookout, name: 'Plover' },
        ],
      }),
    ).toBe(true)
  const unknown = { ...lookout, colorManagement: null, version4: null }
  expect(await record({ programs: [unknown] })).toBe(true)
  expect(await rows('program_found')).toEqual([
    {
      id: expect.any(Number),
      workstation_id: 1,
      name: 'Lookout',
      kind: 'browser',
      color_management: null,
      version4: null,
      settable: 1,
      since: at + 7 * 60_000,
    },
  ])
  expect(await record({ programs: [] })).toBe(true)
  expect(await rows('program_found')).toEqual([])
  expect(await record({ programs: [] })).toBe(false)
})

test('what a person tells says nothing of programs, and is told as theirs', async () => {
  await record({ programs: [lookout] })
  expect(await record({ bindings: [bound('R-1')] }, 'hand')).toBe(true)
  expect(await rows('program_found')).toHaveLength(1)
  expect((await foundNow(data, 1, [1, 2])).get(1)).toMatchObject({ told: 'hand' })
})

test('what was sent to displays that were read back is judged from now on; what waits, or lies elsewhere, is not', async () => {
  const placement = (displayId: number, workstation: number, state: string, verifiedAt: number | null) =>
    data.query(
      `INSERT INTO placement (display_id, workstation_id, description, scope, state, requested_at, verified_at)
       VALUES (?, ?, 'Plates', 'machine', ?, ?, ?)`,
      [displayId, workstation, state, at, verifiedAt],
    )
  await placement(1, 1, 'sent', null)
  await placement(2, 1, 'sent', at - 5)
  await placement(1, 2, 'sent', null)
  await placement(3, 1, 'queued', null)
  await record({})
  expect((await rows('placement')).map((p) => p.verified_at)).toEqual([at + 60_000, at - 5, null, null])
})

test('what is stored with it is stored as one: what fails leaves nothing of either', async () => {
  const sought = await displaysSought(data, 1)
  const read = readOf({ bindings: [bound('R-1')], slots: [{ serial: 'R-1', slot: 2 }], programs: [lookout] })
  await expect(
    recordFound(data, 1, sought, read, at, 'courier', (take) => {
      take(written('UPDATE display SET curves = ? WHERE id = 1', ['on']))
      throw new Error('torn')
    }),
  ).rejects.toThrow('torn')
  expect([await rows('found'), await rows('program_found')]).toEqual([[], []])
  expect(await displayOf(1)).toMatchObject({ active_slot: 1, curves: null })
})
