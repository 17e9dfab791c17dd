/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { runStates } from '@bichroma/core/runs'
import type { Role, RunSummary } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { judged, runSummary } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { signedInAs, StubbedApi } from '../test/stubbedApi'
import { useInterface } from '../theme/useInterface'
import { RunsPage, stateWords } from './RunsPage'

const none = { items: [], next: null, total: 0, more: false }
const api = new StubbedApi(none)
const begin = (runs: readonly RunSummary[], { role = 'technician' as Role, at = '/runs' } = {}) => {
  const query = at.split('?')[1]
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': { body: [{ id: 4, name: 'Sedge Room' }] },
    [`GET /api/runs?of=work${query ? `&${query}` : ''}`]: { body: { ...none, items: runs, total: runs.length } },
  })
  window.history.replaceState(null, '', at)
  return showAt('/runs', <RunsPage />, at)
}
const rows = async () => {
  const table = await screen.findByRole('table', { name: 'Runs' })
  await api.settled()
  return within(table).getAllByRole('row').slice(1)
}
const cells = (row: HTMLElement) =>
  within(row)
    .getAllByRole('cell')
    .map((c) => c.textContent)
beforeAll(() => layOut(29))
beforeEach(() => useInterface.setState({ calls: false }))
afterEach(() => {
  cleanup()
  api.end()
  delete (globalThis as { Notification?: unknown }).Notification
})

test('each run says what it is, of what, how it stands, what it came to and by whom @long', async () => {
  begin([
    runSummary({
      id: 9,
      kind: 'check',
      state: 'done',
      readings: 51,
      judged: judged({ verdict: 'near', averageDeltaE: 1.234, worstDeltaE: 2.5 }),
    }),
    runSummary({ id: 8, state: 'queued', message: 'Waits until night.', judged: null, readings: 0 }),
  ])
  const [check, queued] = (await rows()).map(cells)
  expect(check.slice(1)).toEqual([
    'Check run',
    'Sedge 1',
    '1 Atlas web',
    'done',
    'near edge',
    '1.23',
    '2.50',
    '51',
    'Marit Oyen',
  ])
  expect(queued.slice(4)).toEqual(['queuedWaits until night.', '', '', '', '0', 'Marit Oyen'])
})

test('what asks for somebody stands in another tone than what goes on and what is over @long', async () => {
  begin(runStates.map((state, n) => runSummary({ id: 20 - n, state })))
  const tones = new Map(
    (await rows()).map((row, n) => [runStates[n], within(row).getByText(stateWords[runStates[n]]).className]),
  )
  expect(tones.get('running')).toBe('runs')
  for (const state of ['waiting', 'interrupted'] as const) expect([state, tones.get(state)]).toEqual([state, 'asks'])
  for (const state of ['queued', 'done', 'failed', 'stopped'] as const)
    expect([state, tones.get(state)]).toEqual([state, 'second'])
})

test('kind and state are asked of the server, and stand in the address together with what was there @long', async () => {
  begin([runSummary()], { at: '/runs?search=sedge' })
  await rows()
  await hands.choose('Kind', 'Check run')
  await waitFor(() => expect(api.asked).toContain('/api/runs?of=work&search=sedge&kind=check'))
  await hands.choose('State', 'waits for you')
  await waitFor(() => expect(api.asked).toContain('/api/runs?of=work&search=sedge&kind=check&state=waiting'))
})

test.each([
  ['/runs', 'No run has been made yet.'],
  ['/runs?state=failed', 'No run fits.'],
])('at %s an empty list says “%s”', async (at, says) => {
  begin([], { at })
  expect(await screen.findByText(says)).toBeTruthy()
})

test.each<[Role, boolean]>([
  ['administrator', true],
  ['technician', true],
  ['viewer', false],
])('a %s may start runs: %s @long', async (role, may) => {
  begin([runSummary()], { role })
  await rows()
  expect(screen.queryByRole('button', { name: 'Start a run' }) !== null).toBe(may)
  if (!may) return
  await hands.press('Start a run')
  expect(await screen.findByText('elsewhere')).toBeTruthy()
})

describe('calls of this browser', () => {
  const browser = (permission: string, answer = permission) => {
    const asked = jest.fn(async () => answer)
    globalThis.Notification = Object.assign(class {}, { permission, requestPermission: asked }) as never
    return asked
  }
  test('are offered only where a browser can call @long', async () => {
    begin([runSummary()])
    await rows()
    expect(screen.queryByRole('button', { name: /Calls you/ })).toBeNull()
  })
  test('are on once the browser allows them, and off again by a press @long', async () => {
    const asked = browser('default', 'granted')
    begin([runSummary()])
    await rows()
    await hands.press('Calls you: off')
    expect(await screen.findByRole('button', { name: 'Calls you: on' })).toBeTruthy()
    expect(asked).toHaveBeenCalledTimes(1)
    await hands.press('Calls you: on')
    expect(await screen.findByRole('button', { name: 'Calls you: off' })).toBeTruthy()
    expect(asked).toHaveBeenCalledTimes(1)
  })
  test('stay off where the browser does not allow them @long', async () => {
    browser('default', 'denied')
    begin([runSummary()])
    await rows()
    await hands.press('Calls you: off')
    await api.settled()
    expect(useInterface.getState().calls).toBe(false)
  })
})
