import type { DataSource } from 'typeorm'
import { LooseStore } from '../test/looseStore'
import { atomically } from '../data/atomically'
import { agree, takeBack, workstationsReaching, type NewPlacement } from './agree'

let store: LooseStore
let data: DataSource
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
})
afterEach(async () => {
  await store.close()
})

const agreeTo = (change: Partial<NewPlacement> = {}): number =>
  atomically(data, (take) =>
    agree(take, data.manager, {
      displayId: 1,
      workstationId: 1,
      action: 'place',
      why: 'person',
      runId: 7,
      slot: 1,
      profileHash: 'a'.repeat(64),
      fileName: 'Reed-1.icc',
      description: 'Plates, slot 1',
      scope: 'machine',
      requestedAt: 1000,
      accountId: 1,
      ...change,
    }),
  )
const states = async () =>
  (
    await data.query<{ id: number; state: string; former: number | null; message: string | null }[]>(
      'SELECT id, state, former_id AS former, message FROM placement ORDER BY id',
    )
  ).map((p) => [p.id, p.state, p.former, p.message])
const replaced = 'Another profile took its place.'

test('what is agreed to last holds, in place of what was before on that display and workstation alone', async () => {
  expect([agreeTo(), agreeTo({ workstationId: 2 }), agreeTo({ displayId: 2 }), agreeTo()]).toEqual([1, 2, 3, 4])
  expect(await states()).toEqual([
    [1, 'withdrawn', null, replaced],
    [2, 'queued', null, null],
    [3, 'queued', null, null],
    [4, 'queued', 1, null],
  ])
  // What was withdrawn already is no former one, and keeps its reason.
  await data.query(`UPDATE placement SET state = 'withdrawn', message = 'Ours was taken away.' WHERE id = 4`)
  agreeTo()
  expect((await states()).slice(3)).toEqual([
    [4, 'withdrawn', 1, 'Ours was taken away.'],
    [5, 'queued', null, null],
  ])
})

test('what waves still hold back for it is left out, but not in the wave that agrees', async () => {
  const item = (waveId: number, state: string, displayId = 1) =>
    data.query(
      `INSERT INTO wave_item (wave_id, display_id, workstation_id, step, action, scope, state) VALUES (?, ?, 1, 2, 'place', 'machine', ?)`,
      [waveId, displayId, state],
    )
  await item(1, 'held back')
  await item(2, 'held back')
  await item(3, 'out')
  await item(4, 'held back', 2)
  const left = async () =>
    (
      await data.query<{ state: string; says: string | null }[]>('SELECT state, says FROM wave_item ORDER BY wave_id')
    ).map((i) => [i.state, i.says])
  const meanwhile = 'Something else was agreed to for it meanwhile.'
  agreeTo({ waveId: 1, why: 'wave' })
  expect(await left()).toEqual([
    ['held back', null],
    ['left out', meanwhile],
    ['out', null],
    ['held back', null],
  ])
  agreeTo()
  expect((await left())[0]).toEqual(['left out', meanwhile])
})

describe('what is taken back', () => {
  const take = (id: number, unlessTried: boolean) =>
    atomically(data, (t) => takeBack(t, id, 'The wave ran out before it was placed.', unlessTried))

  test('is withdrawn with its reason, and what was placed before it holds again', async () => {
    agreeTo()
    await data.query(`UPDATE placement SET state = 'sent', placed_at = 5, tries = 1 WHERE id = 1`)
    agreeTo()
    take(2, true)
    expect(await states()).toEqual([
      [1, 'sent', null, null],
      [2, 'withdrawn', 1, 'The wave ran out before it was placed.'],
    ])
  })

  test('leaves what was never placed withdrawn', async () => {
    agreeTo()
    agreeTo()
    take(2, false)
    expect((await states()).map(([, state]) => state)).toEqual(['withdrawn', 'withdrawn'])
  })

  test('stays where it was tried, for it may lie there, unless it is taken back all the same; what is no longer queued stays', async () => {
    agreeTo()
    await data.query(`UPDATE placement SET state = 'sent', placed_at = 5 WHERE id = 1`)
    agreeTo()
    await data.query('UPDATE placement SET tries = 1 WHERE id = 2')
    take(2, true)
    expect(await states()).toEqual([
      [1, 'withdrawn', null, replaced],
      [2, 'queued', 1, null],
    ])
    take(2, false)
    expect((await states()).map(([, state]) => state)).toEqual(['sent', 'withdrawn'])
    await data.query(`UPDATE placement SET state = 'sent' WHERE id = 2`)
    take(2, false)
    expect((await states())[1]).toMatchObject({ 1: 'sent' })
  })
})

test('workstations that reach a display are its own and those it is linked with, each once', async () => {
  await store.display(1, 5)
  for (const [display, workstation] of [
    [1, 9],
    [1, 2],
    [2, 7],
  ])
    await data.query('INSERT INTO display_link (display_id, workstation_id) VALUES (?, ?)', [display, workstation])
  expect((await workstationsReaching(data, 1)).sort()).toEqual([2, 5, 9])
  expect(await workstationsReaching(data, 4)).toEqual([])
})
