import type { DataSource } from 'typeorm'
import { LooseStore } from '../../test/looseStore'
import {
  foundEntity,
  newPlacement,
  placementEntity,
  waveItemEntity,
  type PlacementRow,
  type WaveItemRow,
  type WaveRow,
} from '../entities'
import { undoSome } from './undoWave'

const [ours, theirs] = ['a', 'b'].map((letter) => letter.repeat(64))
const associations = { machine: ['vendor.icm'], user: [], perUser: false }
let store: LooseStore
let data: DataSource
let tended: number[]
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  tended = []
})
afterEach(async () => {
  await store.close()
})

const placement = (change: Partial<PlacementRow>): Promise<PlacementRow> =>
  data.getRepository(placementEntity).save({
    ...newPlacement,
    displayId: 1,
    workstationId: 4,
    action: 'place',
    why: 'wave',
    runId: 7,
    slot: 2,
    profileHash: ours,
    fileName: 'Reed-1.icc',
    description: 'Plates, slot 2',
    scope: 'machine',
    state: 'sent',
    verifiedAt: 50,
    tries: 1,
    requestedAt: 10,
    accountId: null,
    waveId: 3,
    formerId: null,
    ...change,
  } as Omit<PlacementRow, 'id'> as PlacementRow)
const item = (placementId: number, change: Partial<WaveItemRow> = {}): Promise<WaveItemRow> =>
  data.getRepository(waveItemEntity).save({
    waveId: 3,
    displayId: 1,
    workstationId: 4,
    step: 1,
    action: 'place',
    runId: 7,
    slot: 2,
    profileHash: ours,
    fileName: 'Reed-1.icc',
    scope: 'machine',
    state: 'out',
    says: null,
    placementId,
    undoId: null,
    outAt: 20,
    ...change,
  } as Omit<WaveItemRow, 'id'> as WaveItemRow)
const found = (path: string | null, hash: string | null) =>
  data.getRepository(foundEntity).save({
    displayId: 1,
    workstationId: 4,
    path,
    hash,
    scope: 'machine',
    waitsFor: null,
    associations,
    by: null,
    told: 'courier',
    since: 60,
    readAt: 60,
  } as never)
/** Undoes some, and gives how each of them stands then, with what undoes it. */
async function undo(...items: WaveItemRow[]) {
  const services = { data, now: () => 99, tend: (workstations: readonly number[]) => tended.push(...workstations) }
  await undoSome(services as never, { id: 3, accountId: 1 } as WaveRow, items)
  const rows = await data.getRepository(waveItemEntity).find({ order: { id: 'ASC' } })
  return Promise.all(
    rows.map(async ({ state, says, undoId }) => ({
      state,
      says,
      by: undoId === null ? null : await data.getRepository(placementEntity).findOneByOrFail({ id: undoId }),
    })),
  )
}

test('what was ours before is given back with its file, slot and scope, and what the system had for the display', async () => {
  const before = await placement({
    fileName: 'Reed-0.icc',
    description: 'Loops, slot 1',
    slot: 1,
    runId: 5,
    scope: 'user',
    state: 'withdrawn',
    waveId: null,
  })
  const { id } = await placement({
    before: { placementId: before.id, hash: theirs, path: '/icc/Reed-0.icc', associations },
  } as never)
  await found('/icc/Reed-1.icc', ours)
  const [{ state, by }] = await undo(await item(id))
  expect(state).toBe('out')
  expect(by).toMatchObject({
    action: 'restore',
    why: 'undo',
    state: 'queued',
    runId: 5,
    slot: 1,
    profileHash: theirs,
    fileName: 'Reed-0.icc',
    description: 'Loops, slot 1',
    scope: 'user',
    requestedAt: 99,
    accountId: null,
    waveId: 3,
    restores: associations,
    formerId: id,
  })
  expect(await data.getRepository(placementEntity).findOneByOrFail({ id })).toMatchObject({ state: 'withdrawn' })
  expect(tended).toEqual([4])
})

test.each([
  [
    'another’s file',
    { placementId: null, hash: theirs, path: '/icc/vendor.icm', associations },
    'what was there before',
    theirs,
  ],
  ['nothing', { placementId: null, hash: null, path: null, associations }, 'no profile', null],
])('where %s was before that is given back', async (_, before, description, profileHash) => {
  const { id } = await placement({ before } as never)
  const [{ by }] = await undo(await item(id))
  expect(by).toMatchObject({
    description,
    profileHash,
    runId: null,
    slot: null,
    fileName: null,
    scope: 'machine',
    restores: associations,
  })
})

test('where nobody knows what was before, no profile is given back', async () => {
  const { id } = await placement({ before: null })
  const [{ by }] = await undo(await item(id))
  expect(by).toMatchObject({
    description: 'no profile',
    profileHash: null,
    restores: { machine: [], user: [], perUser: false },
  })
})

test('what was never sent is taken back, and what it had replaced holds again', async () => {
  const before = await placement({ state: 'withdrawn', placedAt: 5 } as never)
  const { id } = await placement({ state: 'queued', tries: 0, verifiedAt: null, formerId: before.id })
  expect(await undo(await item(id))).toEqual([{ state: 'undone', says: null, by: null }])
  const states = await data.getRepository(placementEntity).find({ order: { id: 'ASC' } })
  expect(states.map((p) => [p.state, p.message])).toEqual([
    ['sent', null],
    ['withdrawn', 'The wave was undone before it was sent.'],
  ])
})

test('what was tried, and may lie there, is given back like what was placed', async () => {
  const { id } = await placement({ state: 'queued', tries: 1, verifiedAt: null })
  const [{ state, by }] = await undo(await item(id))
  expect([state, by?.action]).toEqual(['out', 'restore'])
})

test('what others put there since stays, and is told', async () => {
  const gone = await placement({ state: 'withdrawn', verifiedAt: 50 })
  const never = await placement({ state: 'withdrawn', verifiedAt: null })
  const items = [await item(gone.id), await item(never.id, { displayId: 2 })]
  expect(await undo(...items)).toEqual([
    { state: 'left out', says: 'Something else was agreed to for it since, and stays.', by: null },
    { state: 'left out', says: 'It was never there, so there is nothing to give back.', by: null },
  ])
})

test('another’s profile that is found in its place stays; ours, none, or one found before it was read back do not', async () => {
  const stays = { state: 'left out', says: 'Another profile was put in its place since, and stays.', by: null }
  const { id } = await placement({})
  await found('/icc/vendor.icm', theirs)
  expect(await undo(await item(id))).toEqual([stays])
  for (const [path, hash] of [
    ['/icc/Reed-1.icc', ours],
    [null, null],
  ] as const) {
    await data.query('DELETE FROM wave_item')
    await data.query(`UPDATE placement SET state = 'sent' WHERE id = ?`, [id])
    await found(path, hash)
    const [{ by }] = await undo(await item(id))
    expect(by).toMatchObject({ action: 'restore' })
    await data.query('DELETE FROM placement WHERE id > ?', [id])
  }
  await data.query('DELETE FROM wave_item')
  await found('/icc/vendor.icm', theirs)
  await data.query(`UPDATE placement SET state = 'sent', verified_at = NULL WHERE id = ?`, [id])
  const [{ by }] = await undo(await item(id))
  expect(by).toMatchObject({ action: 'restore' })
})

test('what was taken away is given back also where it was replaced since: a release has nothing of its own there', async () => {
  const { id } = await placement({ action: 'release', state: 'withdrawn', runId: null, profileHash: null })
  const [{ state, by }] = await undo(await item(id, { action: 'release', runId: null, profileHash: null }))
  expect([state, by?.action]).toEqual(['out', 'restore'])
})
