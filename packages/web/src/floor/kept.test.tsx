/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { noDays, type KeptDays } from '@bichroma/core/rounds'
import type { KeptRow, KeptWell } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { StubbedApi } from '../test/stubbedApi'
import { KeptPage } from './KeptPage'

const days = (change: Partial<KeptDays>): KeptDays => ({ ...noDays(), ...change })
const row = (name: string, building: string | null, displays: number, ...months: KeptDays[]): KeptRow => ({
  name,
  building,
  displays,
  months,
})
const kept: KeptWell = {
  months: ['2026-10', '2026-11'],
  total: [days({ within: 300, lapsed: 100 }), days({ within: 380, outside: 15, 'out of step': 5 })],
  rooms: [
    row('Plate Room', 'Mill', 7, days({ within: 180, lapsed: 20 }), days({ within: 195, outside: 5 })),
    row('Dome', null, 1, days({ within: 120, lapsed: 80 }), days({ within: 185, outside: 10, 'out of step': 5 })),
    row('Attic', null, 2, days({}), days({ unproven: 3 })),
  ],
  models: [row('Quillon Q27', null, 9, days({ within: 300, lapsed: 100 }), days({ within: 380, outside: 20 }))],
}

const api = new StubbedApi()
const begin = (search = '', answers: typeof api.answers = { 'GET /api/kept?months=6': { body: kept } }) => {
  api.begin(answers)
  window.history.replaceState(null, '', '/kept')
  return showInApp(<KeptPage />, `/kept${search}`)
}
afterEach(() => {
  cleanup()
  api.end()
})
const rows = async () =>
  within(await screen.findByRole('table'))
    .getAllByRole<HTMLTableRowElement>('row')
    .slice(1)

test('the share of all display-days is told, and what the rest was, the most first @long', async () => {
  begin()
  const title = await screen.findByRole('heading', { level: 1 })
  expect(title.textContent).toBe('85.0 % of display-days were proven within limits')
  expect(title.nextElementSibling!.textContent).toBe(
    'Floor · since Oct 2026; the rest: 12.5 % lapsed, 1.9 % outside, 0.6 % out of step',
  )
})

test('the least kept room comes first; a month without days has no share @long', async () => {
  begin()
  const all = await rows()
  expect(all.map((r) => r.cells[0].textContent)).toEqual([
    'Attic2 displays',
    'Dome1 display',
    'Plate RoomMill, 7 displays',
    'All displays',
  ])
  const figures = (r: HTMLTableRowElement) => [...r.cells].slice(1).map((cell) => cell.textContent)
  expect(figures(all[0])).toEqual(['–', '0.0 %', '0.0 %'])
  expect(figures(all[2])).toEqual(['90.0 %', '97.5 %', '93.8 %'])
  expect(figures(all[3])).toEqual(['75.0 %', '95.0 %', '85.0 %'])
})

test('each figure has a band that fills its width, and tells its days to who asks', async () => {
  begin()
  const [, dome] = await rows()
  const [, , november] = dome.querySelectorAll('td')
  expect(november.title).toBe('185 within, 10 outside, 0 lapsed, 0 unproven, 5 out of step')
  const widths = [...november.querySelectorAll<HTMLElement>('.keptband i')].map((i) => parseFloat(i.style.width))
  expect(widths).toEqual([92.5, 5, 0, 0, 2.5])
  expect(november.querySelector('.keptband .out-of-step')).toBeTruthy()
})

test('by model, and over other months, which the file then holds too @long', async () => {
  const year = { ...kept, months: ['2026-11'], total: kept.total.slice(1), rooms: [], models: [] }
  begin('', { 'GET /api/kept?months=6': { body: kept }, 'GET /api/kept?months=12': { body: year } })
  await rows()
  await hands.take('By', 'by model')
  expect((await rows())[0].textContent).toContain('Quillon Q27')
  expect(screen.queryByRole('link', { name: 'Quillon Q27' })).toBeNull()
  const file = () => screen.getByRole('link', { name: 'Save as CSV' }).getAttribute('href')
  expect(file()).toBe('/api/kept/file?months=6')
  await hands.take('Months', '12 months')
  await waitFor(() => expect(file()).toBe('/api/kept/file?months=12'))
  await waitFor(async () => expect(await rows()).toHaveLength(1))
})

test('before a display is in use it leads to the register', async () => {
  begin('', { 'GET /api/kept?months=6': { body: { months: [], total: [], rooms: [], models: [] } } })
  expect((await screen.findByText(/^No display is in use yet\./)).querySelector('a')!.getAttribute('href')).toBe(
    '/register',
  )
})
