/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { usualSettings, type DisplayListing, type Role } from '@bichroma/contract'
import { showAt } from '../parts/showInApp'
import { display } from '../test/fixtures'
import { hands } from '../test/formHands'
import { layOut } from '../test/layOut'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { RoundsPage } from './RoundsPage'

const none = { items: [], next: null, total: 0, more: false }
const api = new StubbedApi(none)
const listing = (id: number, change: Partial<DisplayListing> = {}) => display({ id, name: `Sedge ${id}`, ...change })
const begin = (
  displays: readonly DisplayListing[],
  { role = 'technician' as Role, overdue = 0, dueThisWeek = 0, at = '/rounds', more = {} as typeof api.answers } = {},
) => {
  const query = at.split('?')[1]
  api.begin({
    'GET /api/session': signedInAs(role),
    'GET /api/rooms': { body: [] },
    'GET /api/settings': { body: { ...usualSettings, accepted: 0.07 } },
    'GET /api/floor': { body: { overdue, dueThisWeek } },
    'GET /api/rounds/instruments-due': { body: { ring: null, corrections: [], correctionsInAll: 0 } },
    [`GET /api/displays?${query ? `${query}&` : ''}sort=due`]: {
      body: { ...none, items: displays, total: displays.length },
    },
    ...more,
  })
  window.history.replaceState(null, '', at)
  return showAt('/rounds', <RoundsPage />, at)
}
const rows = async () => {
  const table = await screen.findByRole('table', { name: 'Due lines' })
  await api.settled()
  return within(table).getAllByRole('row').slice(1)
}
beforeAll(() => layOut(45))
afterEach(() => {
  cleanup()
  api.end()
})

test.each([
  [0, 0, 'Nothing is overdue, 0 more due this week'],
  [1, 3, '1 display is overdue, 3 more due this week'],
  [1204, 2311, '1,204 displays are overdue, 2,311 more due this week'],
])('with %d overdue and %d due the week is told in a sentence @long', async (overdue, dueThisWeek, says) => {
  begin([], { overdue, dueThisWeek })
  expect((await screen.findByRole('heading', { level: 1 })).textContent).toBe(says)
})

test('what can be done at a due line: a check where something is held, a full run where nothing is, a look at a run', async () => {
  begin([
    listing(1, { dueState: 'overdue' }),
    listing(2, { label: null, judged: null, verdict: 'unproven' }),
    listing(3, { runId: 77 }),
    listing(4, { rests: { kind: 'paused', why: 'It is lent out.', until: null } }),
  ])
  const [check, full, running, rests] = await rows()
  const link = (row: HTMLElement) => within(row).getAllByRole('link').at(-1)!
  expect([link(check).textContent, link(check).getAttribute('href')]).toEqual([
    'Start check run',
    '/runs/new?display=1&kind=check&slot=1',
  ])
  expect([link(full).textContent, link(full).getAttribute('href')]).toEqual([
    'Start full run',
    '/runs/new?display=2&kind=full&slot=1',
  ])
  expect(full.textContent).toContain('never')
  expect([link(running).textContent, link(running).getAttribute('href')]).toEqual(['in a run', '/runs/77'])
  expect(link(rests).textContent).toBe('Sedge 4')
})

test('a viewer is shown due lines, and no way to start anything', async () => {
  begin([listing(1, { dueState: 'overdue' })], { role: 'viewer' })
  await rows()
  expect(screen.queryByRole('link', { name: /Start/ })).toBeNull()
  expect(screen.queryByRole('button', { name: /Queue/ })).toBeNull()
  expect(screen.getByText(/exceeds 7 %/)).toBeTruthy()
})

test('which due lines are shown is asked of the server, and kept in the address @long', async () => {
  begin([listing(1)], { at: '/rounds?room=4' })
  await rows()
  await hands.take('Which', 'this week')
  await waitFor(() => expect(api.asked).toContain('/api/displays?room=4&due=this+week&sort=due'))
})

test.each([
  ['/rounds', 'Nothing falls due.'],
  ['/rounds?search=reed', 'No display fits.'],
])('at %s an empty list says “%s”', async (at, says) => {
  begin([], { at })
  expect(await screen.findByText(says)).toBeTruthy()
})

describe('the chance that is accepted', () => {
  test('an administrator chooses it among usual ones and what it is; everything else stays as it was @long', async () => {
    begin([], { role: 'administrator' })
    await screen.findByRole('combobox', { name: 'Accepted chance of being outside' })
    await hands.choose('Accepted chance of being outside', '10 %')
    await waitFor(() => expect(api.sent).toHaveLength(1))
    expect(api.sent[0]).toEqual({ method: 'PUT', path: '/api/settings', body: { ...usualSettings, accepted: 0.1 } })
  })
})

describe('checks of what is overdue', () => {
  const overdue = { dueState: 'overdue' as const }
  const four = [
    listing(1, overdue),
    listing(2, overdue),
    // Nothing to be checked, nobody knows what it holds, and one that is in a run.
    listing(3, { ...overdue, label: null }),
    listing(4, { ...overdue, unsure: true } as never),
    listing(5, { ...overdue, runId: 8 }),
    listing(6, { dueState: 'this week' }),
  ]

  test('only those that can be checked are queued, one after another, as it was asked @long', async () => {
    begin(four)
    await rows()
    await hands.press('Queue 2 check runs…')
    await hands.pressThis(await screen.findByText('At night, as workstations are left alone'))
    expect(await screen.findByText('2 check runs are queued.')).toBeTruthy()
    expect(api.sent.map((s) => s.body)).toEqual(
      [1, 2].map((displayId) => ({ displayId, kind: 'check', slot: 1, begins: 'night' })),
    )
    expect(await screen.findByText('elsewhere')).toBeTruthy()
  })

  test('what is refused is named with why, and the rest is queued all the same @long', async () => {
    begin(four, {
      more: { 'POST /api/runs': refusal(409, 'It is being measured.', 'displayId') },
    })
    await rows()
    await hands.press('Queue 2 check runs…')
    await hands.pressThis(await screen.findByText(/Each in its turn/))
    expect(await screen.findByText('Sedge 1: It is being measured. Sedge 2: It is being measured.')).toBeTruthy()
    expect(screen.queryByText(/queued\./)).toBeNull()
    expect(api.sent).toHaveLength(2)
  })

  test('where none can be checked nothing is offered @long', async () => {
    begin(four.slice(2))
    await rows()
    expect(screen.queryByRole('button', { name: /Queue/ })).toBeNull()
  })
})
