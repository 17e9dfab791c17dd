/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, within } from '@testing-library/react'
import type { Need } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { layOut } from '../test/layOut'
import { StubbedApi } from '../test/stubbedApi'
import { NeedsPage } from './NeedsPage'
import { needWords } from './needs'

const day = 86_400_000
const need = (kind: Need['kind'], displayId: number, change: Partial<Need> = {}): Need => ({
  kind,
  displayId,
  displayName: `Sedge ${displayId}`,
  slot: 2,
  found: null,
  judgedAt: Date.now() - 40 * day,
  checkEveryDays: 28,
  placement: null,
  ...change,
})

const api = new StubbedApi()
const begin = (items: Need[], total = items.length) => {
  api.begin({ 'GET /api/needs': { body: { items, next: null, total, more: false } } })
  showInApp(<NeedsPage />, '/needs')
}
beforeAll(() => layOut(42))
afterEach(() => {
  cleanup()
  api.end()
})

test('each with why and with what sees to it, in the order in which the server tells them', async () => {
  begin([
    need('outside', 1, { found: 'White is 2.4 ΔE00 off; 1.5 is allowed.' }),
    need('profile', 2, { found: 'The file was changed.', placement: { state: 'astray' as never, slot: 2 } }),
    need('lapsed', 3),
    need('unproven', 4, { judgedAt: null }),
  ])
  const rows = (await screen.findByText('Sedge 1 is outside')).closest('table, [role="table"], .plane')!
  const links = within(rows as HTMLElement).getAllByRole('link')
  expect(links.map((a) => [a.textContent, a.getAttribute('href')])).toEqual([
    ['Start full run', '/runs/new?display=1&kind=full&slot=2'],
    ['See Rollout', '/rollout?display=2'],
    ['Start check run', '/runs/new?display=3&kind=check&slot=2'],
    ['Start full run', '/runs/new?display=4&kind=full&slot=2'],
  ])
  expect(screen.getByText('White is 2.4 ΔE00 off; 1.5 is allowed.')).toBeTruthy()
  expect(screen.getByText('Nobody knows what it shows.')).toBeTruthy()
})

test('where nothing needs anybody, it says so', async () => {
  begin([])
  expect(await screen.findByText('Nothing today.')).toBeTruthy()
})

test.each([
  ['untold', 'Sedge 7 cannot be told', 'Start check run'],
  ['slot', 'Sedge 7 shows slot 2, its profile is for slot 1', 'See Rollout'],
  ['due', 'Sedge 7 is due', 'Start check run'],
] as const)('%s reads “%s”', (kind, title, action) => {
  const now = Date.UTC(2026, 10, 29)
  const words = needWords(
    need(kind, 7, { judgedAt: now - 40 * day, placement: { state: 'in force' as never, slot: 1 } }),
    now,
  )
  expect([words.title, words.action]).toEqual([title, action])
  if (kind === 'due') expect(words.why).toBe('Read last 40 days ago, to be checked every 28 days.')
})
