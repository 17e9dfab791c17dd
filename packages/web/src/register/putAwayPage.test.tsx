/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen } from '@testing-library/react'
import type { PutAwayDisplay } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { StubbedApi } from '../test/stubbedApi'
import { PutAwayPage } from './PutAwayPage'

const display = (change: Partial<PutAwayDisplay>): PutAwayDisplay => ({
  id: 9,
  name: 'Lantern 3',
  maker: 'Quillon',
  model: 'Q27',
  serial: 'Q27-0131',
  kept: 'stored',
  keptSince: Date.UTC(2019, 9, 12, 12),
  keptWhy: null,
  workstation: 'lantern-03',
  room: 'Lantern Hall',
  ...change,
})

const api = new StubbedApi()
const begin = (displays: PutAwayDisplay[]) => {
  api.begin({ 'GET /api/put-away': { body: displays } })
  showInApp(<PutAwayPage />)
}
afterEach(() => {
  cleanup()
  api.end()
})

test('each with what became of it, since when, why, and where it stood; its name leads to its history', async () => {
  begin([display({}), display({ id: 4, name: 'Plate 2', kept: 'retired', keptWhy: 'Its backlight flickers.' })])
  const [first, second] = await screen.findAllByRole<HTMLTableRowElement>('row').then((rows) => rows.slice(1))
  expect(Array.from(first.cells, (c) => c.textContent)).toEqual([
    'Lantern 3 Q27-0131',
    'Quillon Q27',
    'stored since 12 Oct 2019',
    'lantern-03, Lantern Hall',
    '',
  ])
  expect(second.cells[2].textContent).toMatch(/^retired since/)
  expect(second.cells[4].textContent).toBe('Its backlight flickers.')
  expect(screen.getByRole('link', { name: 'Plate 2' }).getAttribute('href')).toBe('/register/4')
})

test('where none is, it says so', async () => {
  begin([])
  expect(await screen.findByText('No display is stored or retired.')).toBeTruthy()
  expect(screen.queryByRole('table')).toBeNull()
})

test('what keeps the list from coming is told', async () => {
  api.begin({
    'GET /api/put-away': {
      status: 503,
      body: { title: 'x', status: 503, detail: 'The store is being read by another.' },
    },
  })
  showInApp(<PutAwayPage />)
  expect(await screen.findByText(/The store is being read by another\./)).toBeTruthy()
})
