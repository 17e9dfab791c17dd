import { QueryClient, QueryObserver } from '@tanstack/react-query'
import { makeStale } from './makeStale'
import { putNews } from './putNews'

/** A server whose answers come when they are let go. */
function slowServer() {
  let state = 'running'
  const waiting: (() => void)[] = []
  return {
    become: (next: string) => (state = next),
    letGo: () => waiting.splice(0).forEach((answer) => answer()),
    ask: () => {
      const asked = state
      return new Promise<string>((resolve) => waiting.push(() => resolve(asked)))
    },
  }
}
const settled = () => new Promise((resolve) => setTimeout(resolve, 0))

test.each([
  ['the first answer', false],
  ['a later answer', true],
])('what changes while %s is on its way is asked for again', async (_, answeredBefore) => {
  const server = slowServer()
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: 15_000, retry: false } } })
  const observer = new QueryObserver(client, { queryKey: ['runs', '9'], queryFn: server.ask })
  const leave = observer.subscribe(() => {})
  await settled()
  if (answeredBefore) {
    server.letGo()
    await settled()
    void client.invalidateQueries({ queryKey: ['runs'] })
    await settled()
  }
  server.become('failed')
  void makeStale(client, ['runs'])
  await settled()
  server.letGo()
  await settled()
  expect(observer.getCurrentResult().data).toBe('failed')
  leave()
  client.clear()
})

test.each([
  ['the first answer', false],
  ['a later answer', true],
])('what is told while %s of before is on its way is not undone by it', async (_, answeredBefore) => {
  let state = 'queued'
  const waiting: (() => void)[] = []
  const asked: string[] = []
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: 15_000, retry: false } } })
  const queryKey = ['rollout', 'list', '/rollout']
  const queryFn = () => {
    const answer = { state }
    asked.push(state)
    return new Promise<{ state: string }>((resolve) => waiting.push(() => resolve(answer)))
  }
  const letGo = async () => {
    waiting.splice(0).forEach((answer) => answer())
    await settled()
  }
  const observer = new QueryObserver(client, { queryKey, queryFn })
  const leave = observer.subscribe(() => {})
  await settled()
  if (answeredBefore) {
    await letGo()
    void client.invalidateQueries({ queryKey })
    await settled()
  }
  // Told a hundred times while one answer is on its way: it comes, and is asked for once more.
  const before = asked.length
  state = 'in force'
  for (let n = 0; n < 100; n++) putNews<{ state: string }>(client, queryKey, () => ({ state }))
  await letGo()
  expect(asked).toHaveLength(before + 1)
  await letGo()
  expect(observer.getCurrentResult().data).toEqual({ state: 'in force' })
  expect(waiting).toEqual([])
  leave()
  client.clear()
})

test('what is put in its place does not make fresh what was stale, and what is nowhere stays nowhere', () => {
  const client = new QueryClient()
  client.setQueryData(['floor'], { overdue: 1, rooms: 2 })
  void client.invalidateQueries({ queryKey: ['floor'] })
  putNews<{ overdue: number }>(client, ['floor'], (known) => ({ ...known, overdue: 3 }))
  expect(client.getQueryState(['floor'])).toMatchObject({ data: { overdue: 3, rooms: 2 }, isInvalidated: true })
  putNews(client, ['pulse'], () => ({ running: 1 }))
  expect(client.getQueryState(['pulse'])).toBeUndefined()
  client.clear()
})
