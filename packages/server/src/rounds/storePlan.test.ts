import type { DataSource } from 'typeorm'
import { LooseStore } from '../test/looseStore'
import { Ledger } from '../ledger/ledger'
import type { MadeRounds } from './makeRounds'
import { storePlan } from './storePlan'

const now = Date.UTC(2026, 10, 30)
const hour = 3_600_000
const options = [{ instrumentId: 7, run: 12 }]

/** A plan of visits to displays 1 to `visits`, an hour apart, to which nothing was known before. */
const planOf = (visits: number, change: Partial<MadeRounds> = {}): MadeRounds => {
  const ids = Array.from({ length: visits }, (_, i) => i + 1)
  return {
    planned: ids.map((displayId) => {
      const at = now + displayId * hour
      const times = { wakeAt: at, at, readyAt: at, takeDownAt: at, endsAt: at }
      const why = { whyThen: 'due', whyInstrument: 'there', besides: 0, sharing: 0 } as const
      return { displayId, personId: 1, instrumentId: 7, ...times, ...why, late: 0, reliefs: [] }
    }),
    unplanned: [],
    purposes: ids.map((displayId) => ({
      ...{ displayId, kind: 'check', slot: 1, label: 'Print', dueAt: now, dueBy: 'calendar', options, attended: false },
    })),
    given: ids.map((displayId) => ({ displayId, pinned: null, told: null, begun: false })),
    moved: 0,
    walk: 10,
    load: {} as never,
    first: '2026-11-30',
    days: 7,
    from: now,
    until: now + 168 * hour,
    ...change,
  } as MadeRounds
}

let loose: LooseStore
let data: DataSource
beforeEach(async () => {
  loose = await LooseStore.open()
  data = loose.data
})
afterEach(async () => {
  await loose.close()
})

const store = (made: MadeRounds, ended = () => false) =>
  storePlan({ data, ledger: new Ledger(data, () => now), now: () => now, ended }, made, { id: 1, name: 'Marit' })
const rows = () =>
  data.query<{ displayId: number; state: string; at: number; options: string; pinned: number }[]>(
    'SELECT display_id AS displayId, state, at, options, pinned FROM visit ORDER BY display_id',
  )
const count = async (what: string) => (await data.query<[{ n: number }]>(`SELECT COUNT(*) AS n FROM ${what}`))[0].n

test('a plan of many parts is stored whole, each visit once with what fits it, and told once', async () => {
  expect(await store(planOf(250))).toBe(false)
  const stored = await rows()
  expect(stored.map((r) => r.displayId)).toEqual(planOf(250).planned.map((v) => v.displayId))
  expect(stored.every((r) => r.state === 'planned' && r.at === now + r.displayId * hour)).toBe(true)
  expect(new Set(stored.map((r) => r.options))).toEqual(new Set([JSON.stringify(options)]))
  expect([await count('round_plan'), await count('ledger')]).toEqual([1, 1])
})

test('the same once more changes no visit; what is not wanted any more is dropped', async () => {
  await store(planOf(250))
  const before = await data.query('SELECT id, changed_at, sequence FROM visit ORDER BY id')
  await store(planOf(250))
  expect(await data.query('SELECT id, changed_at, sequence FROM visit ORDER BY id')).toEqual(before)
  await store(planOf(20))
  expect((await rows()).filter((r) => r.state === 'dropped').map((r) => r.displayId)).toEqual(
    Array.from({ length: 230 }, (_, i) => 21 + i),
  )
})

test('what was moved while the plan was made, or while it is stored, stays, and asks for another plan', async () => {
  await store(planOf(250))
  await data.query('UPDATE visit SET pinned = 1, at = ? WHERE display_id = 3', [now])
  let moved = false
  const later = planOf(250)
  const again = await store(
    { ...later, planned: later.planned.map((v) => ({ ...v, at: v.at + hour, endsAt: v.endsAt + hour })) },
    () => {
      // Between two parts.
      if (!moved) void data.query('UPDATE visit SET pinned = 1, at = ? WHERE display_id = 240', [now])
      moved = true
      return false
    },
  )
  expect([again, moved]).toEqual([true, true])
  const stored = await rows()
  expect(stored.filter((r) => r.pinned).map((r) => [r.displayId, r.at])).toEqual([
    [3, now],
    [240, now],
  ])
  expect(stored.filter((r) => !r.pinned).every((r) => r.at === now + (r.displayId + 1) * hour)).toBe(true)
})

test('a server that ends in between leaves whole visits, and no plan that would tell of them', async () => {
  expect(await store(planOf(250), () => true)).toBe(false)
  expect([await count('visit'), await count('round_plan'), await count('ledger')]).toEqual([50, 0, 0])
  await store(planOf(250))
  expect([await count('visit'), await count('round_plan')]).toEqual([250, 1])
})
