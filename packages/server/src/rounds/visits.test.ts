import type { DataSource } from 'typeorm'
import type { StartRun } from '@bichroma/contract'
import { LooseStore } from '../test/looseStore'
import { Refusal } from '../http/problem'
import { Ledger } from '../ledger/ledger'
import { Visits } from './visits'

const now = Date.UTC(2026, 10, 30)
const tobin = { id: 2, name: 'Tobin' }
let store: LooseStore
let data: DataSource
let started: StartRun[]
/** What becomes of the next run that is started. */
let start: () => Promise<number>
let visits: Visits
beforeEach(async () => {
  store = await LooseStore.open()
  data = store.data
  await store.display(1, 4)
  await data.query(
    `INSERT INTO visit (id, display_id, kind, slot, label, due_at, due_by, options, attended, state, person_id, instrument_id, at, made_at)
     VALUES (1, 1, 'check', 2, 'Plates', ?, 'calendar', '[{"instrumentId":7,"run":12}]', 0, 'planned', 2, 7, ?, ?)`,
    [now, now, now],
  )
  started = []
  start = async () => 70 + started.length
  visits = new Visits({
    data,
    ledger: new Ledger(data, () => now),
    planner: { soon: () => {} } as never,
    now: () => now,
    startRun: (input) => {
      started.push(input)
      return start()
    },
    changed: () => {},
  })
})
afterEach(async () => {
  await store.close()
})
const visit = async () =>
  (await data.query<{ state: string; runId: number | null }[]>('SELECT state, run_id AS runId FROM visit'))[0]
const sentenceOf = (settled: PromiseSettledResult<number>) =>
  settled.status === 'rejected' ? (settled.reason as Refusal).sentence : settled.value

test('a visit that is begun twice at once starts one run', async () => {
  const both = await Promise.allSettled([visits.begin(1, tobin), visits.begin(1, tobin)])
  expect(both.map(sentenceOf)).toEqual([71, 'This visit is begun already.'])
  expect(started).toEqual([{ displayId: 1, kind: 'check', slot: 2, instrumentId: 7 }])
  expect(await visit()).toEqual({ state: 'begun', runId: 71 })
  await expect(visits.begin(1, tobin)).rejects.toThrow('This visit is begun already.')
})

test('one whose run could not be started lies ahead as before, and is begun once it can', async () => {
  start = () => Promise.reject(new Refusal('conflict', 'Reed 1 is in a run.'))
  await expect(visits.begin(1, tobin)).rejects.toThrow('Reed 1 is in a run.')
  expect(await visit()).toEqual({ state: 'planned', runId: null })
  start = async () => 72
  expect(await visits.begin(1, tobin)).toBe(72)
})

test('one that is being begun is not dropped meanwhile', async () => {
  const [begun, dropped] = await Promise.allSettled([visits.begin(1, tobin), visits.drop(1, 'Not wanted.', tobin)])
  expect([sentenceOf(begun), dropped]).toMatchObject([71, { reason: { sentence: 'This visit is begun already.' } }])
  expect([await visit(), await data.query('SELECT act FROM ledger')]).toEqual([{ state: 'begun', runId: 71 }, []])
})

test('there is none of another number, and none that has ended is begun', async () => {
  await expect(visits.begin(9, tobin)).rejects.toThrow('There is no visit 9.')
  await visits.block(1, 'The door was locked.', tobin)
  await expect(visits.begin(1, tobin)).rejects.toThrow('This visit is blocked already.')
  expect(started).toEqual([])
})
