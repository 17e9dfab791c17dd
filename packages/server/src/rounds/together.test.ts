import Database from 'better-sqlite3'
import type { RoundsVisit } from '@bichroma/core/rounds'
import { setsTogether, asSets } from './together'

const day = 86_400_000
const visit = (displayId: number, options: [number, number][], change: Partial<RoundsVisit> = {}): RoundsVisit => ({
  ...{
    displayId,
    roomId: 1,
    times: [],
    attended: false,
    due: 0,
    weight: 1,
    chance: null,
    matters: false,
    notBefore: null,
  },
  ...{ pinned: null, told: null, begun: false },
  options: options.map(([instrumentId, run]) => ({ instrumentId, run })),
  ...change,
})
const told = (instrumentId: number) => ({ personId: 1, instrumentId, at: 0 })
const instruments = (visits: readonly RoundsVisit[]) => visits.map((v) => v.options.map((o) => o.instrumentId))

test('visits of one peer set are left to the instrument that fits all and takes the least minutes', () => {
  const visits = [
    visit(1, [
      [7, 5],
      [8, 4],
      [9, 1],
    ]),
    visit(2, [
      [7, 5],
      [8, 7],
    ]),
    visit(3, [
      [7, 1],
      [8, 9],
    ]),
  ]
  expect(instruments(asSets(visits, [[1, 2]]))).toEqual([[7], [7], [7, 8]])
  // What was given is left as it was: others share it.
  expect(instruments(visits)).toEqual([
    [7, 8, 9],
    [7, 8],
    [7, 8],
  ])
})

test('what people were told stays, and what is pinned to another instrument as well', () => {
  const both: [number, number][] = [
    [7, 5],
    [8, 9],
  ]
  const as = (of: readonly Partial<RoundsVisit>[]) =>
    instruments(
      asSets(
        of.map((change, i) => visit(i + 1, both, change)),
        [[1, 2, 3]],
      ),
    )
  expect(as([{ told: told(8) }, {}, {}])).toEqual([[8], [8], [8]])
  expect(as([{ told: told(8) }, { told: told(8) }, { pinned: told(7) }])).toEqual([[8], [8], [7, 8]])
})

test('where no instrument fits all each takes what it would, and a display in two sets goes with the older', () => {
  const apart = [visit(1, [[7, 1]]), visit(2, [[8, 1]])]
  expect(instruments(asSets(apart, [[1, 2]]))).toEqual([[7], [8]])
  const three = [1, 2, 3].map((id) =>
    visit(id, [
      [7, id === 3 ? 9 : 1],
      [8, 2],
    ]),
  )
  expect(
    instruments(
      asSets(three, [
        [1, 2],
        [2, 3],
      ]),
    ),
  ).toEqual([[7], [7], [7, 8]])
  expect(asSets([], [[1, 2]])).toEqual([])
})

describe('which displays come along', () => {
  const store = new Database(':memory:')
  store.exec(`CREATE TABLE display (id, kept, check_every_days); CREATE TABLE display_now (display_id, slot, due_at);
    CREATE TABLE peer_member (set_id, display_id, slot, place)`)
  afterAll(() => store.close())
  const fill = (
    members: [set: number, display: number, slot: number][],
    due: Record<number, number | null>,
    kept = 'in use',
  ) => {
    store.exec('DELETE FROM display; DELETE FROM display_now; DELETE FROM peer_member')
    members.forEach(([set, id, slot], place) =>
      store.prepare('INSERT INTO peer_member VALUES (?, ?, ?, ?)').run(set, id, slot, place),
    )
    for (const [id, at] of Object.entries(due)) {
      store.prepare('INSERT INTO display VALUES (?, ?, 28)').run(Number(id), kept)
      store.prepare('INSERT INTO display_now VALUES (?, 1, ?)').run(Number(id), at)
    }
  }
  const along = (until: number) => Object.fromEntries(setsTogether(store, until).along)

  test('those that would be due within half of their calendar of the first, if that is due at all', () => {
    fill(
      [
        [1, 1, 1],
        [1, 2, 1],
        [1, 3, 1],
      ],
      { 1: 5 * day, 2: 19 * day, 3: 20 * day },
    )
    expect(along(7 * day)).toEqual({ 2: 5 * day })
    expect(along(5 * day)).toEqual({})
    expect(setsTogether(store, 0).sets).toEqual([[1, 2, 3]])
  })

  test('not in slots that are not shown, never judged or put away; of two sets the sooner counts', () => {
    const both: [number, number, number][] = [
      [1, 1, 1],
      [1, 2, 2],
      [2, 2, 1],
      [2, 3, 1],
      [3, 3, 1],
      [3, 4, 1],
    ]
    fill(both, { 1: day, 2: 2 * day, 3: 9 * day, 4: 3 * day })
    expect(along(7 * day)).toEqual({ 3: 2 * day })
    fill(both, { 1: day, 2: null, 3: 9 * day, 4: 3 * day })
    expect(along(7 * day)).toEqual({ 3: 3 * day })
    fill(both, { 1: day, 2: 2 * day, 3: 9 * day, 4: 3 * day }, 'stored')
    expect(along(7 * day)).toEqual({})
  })
})
