import { QueryClient } from '@tanstack/react-query'
import type { FleetNews, FloorSummary, RunDetail, RunNews } from '@bichroma/contract'
import { display, rolloutRow, run } from '../test/fixtures'
import { takeNews, takeRun } from './takeNews'

const page = <T>(...items: T[]) => ({
  pages: [{ items, next: null, total: items.length, more: false }],
  pageParams: [''],
})
const verdicts = { within: 1, near: 0, untold: 0, outside: 0, lapsed: 0, unproven: 0 }
const room = { id: 1, name: 'Plates', building: null, displays: 1, verdicts, overdue: 0, nextDueAt: null, worst: [] }
const floor = { displays: 1, verdicts, overdue: 0, dueThisWeek: 0, needs: { count: 0, first: [] } }
const pulse = {
  running: [],
  couriersOnline: 1,
  couriers: 1,
  dueToday: 0,
  astray: 0,
  instrumentsFree: 1,
  instruments: 1,
}
const news = (change: Partial<FleetNews> = {}): FleetNews => ({
  displays: [],
  rollout: [],
  workstations: [],
  runs: [],
  rooms: [],
  floor,
  pulse,
  ...change,
})
const summary = (({ id, displayId, displayName, kind, slot, label, state }) => ({
  ...run(),
  id,
  displayId,
  displayName,
  kind,
  slot,
  label,
  state,
}))(run())

let client: QueryClient
beforeEach(() => {
  client = new QueryClient()
})
afterEach(() => client.clear())
/** What is stale is marked so once requests on their way were called off. */
const settled = () => new Promise((resolve) => setTimeout(resolve, 0))
const isStale = (...key: string[]) => client.getQueryState(key)?.isInvalidated ?? null

test('rows are put in their place in every list that holds them, and no list is asked for', async () => {
  const two = display({ id: 2, name: 'Sedge 2' })
  client.setQueryData(['displays', 'list', '/displays'], page(display(), two))
  client.setQueryData(['rollout', 'list', '/rollout'], page(rolloutRow()))
  takeNews(client, news({ displays: [display({ verdict: 'outside' })], rollout: [rolloutRow({ placement: null })] }))
  await settled()
  expect(client.getQueryData(['displays', 'list', '/displays'])).toMatchObject({
    pages: [{ items: [{ id: 1, verdict: 'outside' }, two] }],
  })
  expect(client.getQueryData(['rollout', 'list', '/rollout'])).toMatchObject({
    pages: [{ items: [{ placement: null }] }],
  })
  expect(isStale('displays', 'list', '/displays')).toBe(false)
  expect(isStale('rollout', 'list', '/rollout')).toBe(false)
})

test('a list by verdict or due line is asked for again, for others may belong to it now', async () => {
  const key = ['displays', 'list', '/displays?verdict=near&limit=20']
  client.setQueryData(key, page(display()))
  client.setQueryData(['displays', 'list', '/displays?room=1'], page(display()))
  takeNews(client, news({ displays: [display({ verdict: 'within' })] }))
  await settled()
  expect(isStale(...key)).toBe(true)
  expect(isStale('displays', 'list', '/displays?room=1')).toBe(false)
})

test('a run that a list of runs lacks is a new one', async () => {
  const [known, other] = [
    ['runs', 'list', '/runs?display=1'],
    ['runs', 'list', '/runs?display=2'],
  ]
  client.setQueryData(known, page(summary))
  client.setQueryData(other, page({ ...summary, id: 4 }))
  takeNews(client, news({ runs: [{ ...summary, state: 'done' }] }))
  await settled()
  expect(client.getQueryData(known)).toMatchObject({ pages: [{ items: [{ id: 9, state: 'done' }] }] })
  expect(isStale(...known)).toBe(false)
  expect(isStale(...other)).toBe(true)
})

test('floor and pulse become what is told; the rooms that did not change stay', async () => {
  const summaryOf = (...rooms: FloorSummary['rooms']): FloorSummary => ({ ...floor, rooms })
  client.setQueryData(['floor'], summaryOf(room, { ...room, id: 2 }))
  client.setQueryData(['pulse'], { ...pulse, couriers: 0 })
  takeNews(client, news({ rooms: [{ ...room, id: 2, overdue: 3 }], floor: { ...floor, overdue: 3 } }))
  await settled()
  expect(client.getQueryData(['floor'])).toEqual({
    ...floor,
    overdue: 3,
    rooms: [room, { ...room, id: 2, overdue: 3 }],
  })
  expect(client.getQueryData(['pulse'])).toEqual(pulse)
})

test('a run that leaves the queue has another place among runs: the list is asked for again', async () => {
  const key = ['runs', 'list', '/runs']
  client.setQueryData(key, page({ ...summary, startedAt: 5 }))
  takeNews(client, news({ runs: [{ ...summary, startedAt: 5, readings: 7 } as never] }))
  await settled()
  expect(isStale(...key)).toBe(false)
  takeNews(client, news({ runs: [{ ...summary, startedAt: 9 } as never] }))
  await settled()
  expect(client.getQueryData(key)).toMatchObject({ pages: [{ items: [{ startedAt: 9 }] }] })
  expect(isStale(...key)).toBe(true)
})

test('what shows one display or run is asked for again, and nothing of others', async () => {
  for (const key of [['displays', '1'], ['displays', '2'], ['runs', '9'], ['runs', '8'], ['drift']])
    client.setQueryData(key, {})
  takeNews(client, news({ runs: [{ ...summary, judged: null }] }))
  await settled()
  expect(isStale('displays', '1')).toBe(true)
  expect(isStale('displays', '2')).toBe(false)
  expect(isStale('runs', '9')).toBe(true)
  expect(isStale('runs', '8')).toBe(false)
  expect(isStale('drift')).toBe(false)
})

describe('a run', () => {
  const key = ['runs', '9']
  const told = (change: Partial<RunNews>): RunNews => {
    const { id, state, restoring, stage, progress, patch, message, asks, loading } = run()
    return { id, state, restoring, stage, progress, patch, message, asks, loading, stages: [], latest: null, ...change }
  }
  const known = () => client.getQueryData<RunDetail>(key)!

  test('keeps the stages that did not change, and takes those that did', () => {
    client.setQueryData(key, run())
    const shape = { ...run().stages[3], evidence: ['Two rounds'] }
    const prove = { ...run().stages[0], stage: 'prove' as const }
    takeRun(client, told({ stages: [shape, prove] }))
    expect(known().stages).toEqual([...run().stages.slice(0, 3), shape, prove])
  })

  test('takes a reading once, although it is told twice', () => {
    client.setQueryData(key, run())
    const latest = { ...run().log[1], seq: 2 }
    takeRun(client, told({ latest }))
    takeRun(client, told({ latest }))
    expect(known().log.map((r) => r.seq)).toEqual([0, 1, 2])
  })

  test('that nobody looks at is left alone', () => {
    takeRun(client, told({}))
    expect(client.getQueryData(key)).toBeUndefined()
  })
})
