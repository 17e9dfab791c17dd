import { hostile } from '../scripts/ordeal/hostile'

// `npm run -s ordeal -- hostile` does so with 100,000 of each, and says how much memory it costs.
test('hostile requests over all routes and hostile courier messages: no exit, no 5xx, and honest people are served after @long @long', async () => {
  const outcome = await hostile({ requests: 1000, messages: 2000, seed: 7 })
  expect(outcome.exited).toBeNull()
  expect(outcome.http.wrong).toEqual([])
  expect(outcome.broken).toEqual([])
  expect(outcome.http.sent).toBeGreaterThanOrEqual(1000)
  expect(outcome.courier.sent).toBeGreaterThanOrEqual(2000)
  // It reached more than the door: requests were served, and the courier was sent commands.
  expect(outcome.http.statuses[200]).toBeGreaterThan(100)
  expect(outcome.courier.commands).toBeGreaterThan(0)
}, 120_000)
