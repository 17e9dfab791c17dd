import type { DataSource } from 'typeorm'
import { usualRules } from '@bichroma/core/rollout'
import type { Selection } from '@bichroma/contract'
import { LooseStore } from '../../test/looseStore'
import { wantedEntity } from '../entities'
import { digestOf, planWave, previewOf, type PlannedRow } from './preview'

const now = Date.UTC(2026, 10, 30)
const day = 86_400_000
const hash = 'a'.repeat(64)
let store: LooseStore
let data: DataSource
let online: number[]
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  online = [1, 2]
  for (const room of ['Sedge Room', 'Puck Room']) await data.query('INSERT INTO room (name) VALUES (?)', [room])
  for (const [id, system, room] of [
    [1, 'linux', 1],
    [2, 'windows', 2],
  ])
    await data.query(
      `INSERT INTO workstation (id, name, operating_system, system_version, room_id) VALUES (?, ?, ?, '12', ?)`,
      [id, `reed-0${id}`, system, room],
    )
  await store.display(1, 1)
  await store.display(2, 1, { model: 'Q24' })
  await store.display(3, 2)
})
afterEach(async () => {
  await store.close()
})

/** What is wanted of a display from now on. */
const want = (displayId: number, kind: 'profile' | 'none' | 'no profile', change: object = {}) =>
  data.getRepository(wantedEntity).save({
    displayId,
    kind,
    slot: kind === 'none' ? null : 1,
    runId: kind === 'profile' ? displayId : null,
    profileHash: kind === 'profile' ? hash : null,
    rules: usualRules,
    origins: {},
    since: now,
    gathered: false,
    ...change,
  } as never)
/** The run that filed the profile of a display, with its verdict. */
async function filed(displayId: number, name: string, verdict = 'within'): Promise<void> {
  await data.query(
    `INSERT INTO run (id, display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at, profile_hash, profile_name, summary)
     VALUES (?, ?, 1, 'full', 'Plates', '{"luminance":120}', '{"rules":[]}', 1, 1, 'done', 'file', ?, ?, ?, ?)`,
    [displayId, displayId, now - day, hash, name, JSON.stringify({ at: now - day, verdict, averageDeltaE: 1 })],
  )
  await data.query(`INSERT INTO slot (display_id, number, label, judged_run_id) VALUES (?, 1, 'Plates', ?)`, [
    displayId,
    displayId,
  ])
}
const plan = (selection: Selection = {}) => planWave(data, { online: () => online } as never, selection, now)
const chosen = async (selection: Selection) => (await plan(selection)).map((r) => r.displayId)

test('a wave takes what is chosen by every way of choosing, all of them together', async () => {
  for (const id of [1, 2, 3]) await want(id, 'none')
  expect(await chosen({})).toEqual([1, 2, 3])
  expect(await chosen({ displays: [3, 1, 9] })).toEqual([1, 3])
  expect(await chosen({ rooms: [2] })).toEqual([3])
  expect(await chosen({ systems: ['linux', 'macos'] })).toEqual([1, 2])
  expect(await chosen({ models: ['Quillon Q27'] })).toEqual([1, 3])
  expect(await chosen({ verdicts: ['unproven', 'within'] })).toEqual([1, 2, 3])
  await filed(1, 'Reed.icc', 'within')
  await filed(3, 'Reed.icc', 'outside')
  expect(await chosen({ verdicts: ['outside'] })).toEqual([3])
  expect(await chosen({ verdicts: ['unproven', 'within'] })).toEqual([1, 2])
  // A check every 28 days, and a week on top: what was within has lapsed by then.
  const later = await planWave(data, { online: () => [] } as never, { verdicts: ['lapsed'] }, now + 40 * day)
  expect(later.map((r) => r.displayId)).toEqual([1, 3])
  expect(await chosen({ aims: ['Plates'] })).toEqual([1, 3])
  expect(await chosen({ models: ['Quillon Q27'], systems: ['linux'] })).toEqual([1])
  expect(await chosen({ displays: [] })).toEqual([])
  expect(await chosen({ differs: true })).toEqual([])
})

test('a thousand displays of which nothing is worked out yet hide none that comes after them', async () => {
  await data.query(
    `INSERT INTO display (id, name, maker, model, serial, firmware, panel_kind, workstation_id, limits_id, check_every_days, slots, active_slot)
     SELECT 10 + value, 'Rush ' || value, 'Quillon', 'Q27', 'S-' || value, '1', 'white-led', 1, 1, 28, 3, 1
     FROM json_each(?)`,
    [JSON.stringify(Array.from({ length: 1001 }, (_, i) => i))],
  )
  for (const id of [1, 1010]) await want(id, 'none')
  expect(await chosen({})).toEqual([1, 1010])
  expect(await chosen({ models: ['Quillon Q27'] })).toEqual([1, 1010])
})

test('a display that other workstations reach is there once for each of them', async () => {
  await want(1, 'none')
  await data.query('INSERT INTO display_link (display_id, workstation_id) VALUES (1, 2)')
  expect((await plan()).map((r) => [r.displayId, r.workstationName])).toEqual([
    [1, 'reed-01'],
    [1, 'reed-02'],
  ])
})

test('it says what is placed, under which name and what for that waits; what has none, or wants none, is not in it', async () => {
  await filed(1, 'Reed.icc')
  await filed(2, 'REED.icc')
  await want(1, 'profile')
  await want(2, 'profile')
  await want(3, 'no profile')
  online = [2]
  const [first, second, third] = await plan()
  expect(first).toMatchObject({
    action: 'place',
    not: null,
    slot: 1,
    runId: 1,
    profileHash: hash,
    scope: 'machine',
    fileName: 'Reed.icc',
  })
  // Names that come to the same letters are told apart on one workstation.
  expect(second.fileName).toBe('REED-d2.icc')
  expect([first.waits, first.description]).toEqual([['courier'], 'Plates, slot 1, 29 Nov 2026'])
  expect(third).toMatchObject({ action: null, not: 'no profile', waits: [], fileName: null })
  expect(await chosen({ differs: true })).toEqual([1, 2])
  await want(3, 'none')
  expect((await plan({ displays: [3] }))[0]).toMatchObject({ action: null, not: 'nothing wanted' })
})

describe('what is shown of it', () => {
  const row = (displayId: number, change: Partial<PlannedRow> = {}): PlannedRow => ({
    displayId,
    displayName: `Reed ${displayId}`,
    workstationId: 1,
    workstationName: 'reed-01',
    operatingSystem: 'linux',
    action: 'place',
    not: null,
    slot: 1,
    runId: 7,
    profileHash: hash,
    fileName: 'Reed.icc',
    scope: 'machine',
    inPlaceOf: null,
    ours: false,
    waits: [],
    description: 'Plates, slot 1',
    ...change,
  })
  const idle = (displayId: number, not: PlannedRow['not'] = 'already so') =>
    row(displayId, { action: null, not, waits: [] })

  test('what it does stands first; what it does not is counted by why, and what it waits for', () => {
    const shown = previewOf([
      idle(1),
      row(2, { waits: ['courier', 'sign-out'] }),
      idle(3, 'no profile'),
      row(4, { waits: ['courier'] }),
      idle(5),
    ])
    expect(shown).toMatchObject({
      does: 2,
      chosen: 5,
      waits: { courier: 2, 'sign-out': 1 },
      not: { 'already so': 2, 'no profile': 1 },
    })
    expect(shown.rows.map((r) => r.displayId)).toEqual([2, 4, 1, 3, 5])
    expect(shown.rows[0]).not.toHaveProperty('description')
  })

  test('of a large one four hundred are told at once, and all counted', () => {
    const shown = previewOf(Array.from({ length: 1000 }, (_, i) => (i % 2 ? row(i) : idle(i))))
    expect([shown.rows.length, shown.does, shown.chosen]).toEqual([400, 500, 1000])
    expect(shown.rows.every((r) => r.action === 'place')).toBe(true)
  })

  test('its digest is another with everything that would be done otherwise, and the same for what is not done', () => {
    const digest = digestOf([row(1), idle(2)])
    expect(digest).toMatch(/^[0-9a-f]{64}$/)
    expect(digestOf([row(1), idle(2, 'no profile'), idle(3)])).toBe(digest)
    expect(digestOf([row(1, { waits: ['courier'], inPlaceOf: '/icc/vendor.icm', displayName: 'Sedge' })])).toBe(digest)
    const others = [
      [row(2)],
      [row(1, { workstationId: 2 })],
      [row(1, { action: 'release' })],
      [row(1, { runId: 8 })],
      [row(1, { profileHash: 'b'.repeat(64) })],
      [row(1, { fileName: 'Reed-2.icc' })],
      [row(1, { scope: 'user' })],
      [row(1), row(2)],
      [],
    ].map((rows) => digestOf(rows as PlannedRow[]))
    expect(new Set([digest, ...others]).size).toBe(10)
  })
})
