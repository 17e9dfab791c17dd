import { QueryClient, QueryObserver } from '@tanstack/react-query'
import { makeStale } from './makeStale'

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
