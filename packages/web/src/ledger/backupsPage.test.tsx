/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import type { Backups } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { StubbedApi } from '../test/stubbedApi'
import { BackupsPage } from './BackupsPage'

const day = 86_400_000
/** At noon of a day, so that it is so many days ago whenever the test runs. */
const backup = (daysAgo: number, bytes: number) => ({
  name: `store-${daysAgo}.sqlite`,
  bytes,
  madeAt: new Date().setHours(12, 0, 0, 0) - daysAgo * day,
})
const usual: Backups = {
  folder: '/var/lib/bichroma/backups',
  everyHours: 24,
  keep: 14,
  backups: [backup(0, 12_582_912), backup(1, 10_485_760)],
  fault: null,
}

const api = new StubbedApi()
const begin = (change: Partial<Backups> = {}) => {
  api.begin({ 'GET /api/backups': { body: { ...usual, ...change } } })
  showInApp(<BackupsPage />)
  return screen.findByRole('heading', { level: 1 })
}
afterEach(() => {
  cleanup()
  api.end()
})

test('when the last was made, how often and where, and each with its size', async () => {
  const title = await begin()
  expect(title.textContent).toBe('Last backup today')
  expect(title.nextElementSibling!.textContent).toBe(
    'One every 24 hours; the newest 14 are kept in /var/lib/bichroma/backups',
  )
  const rows = within(screen.getByRole('table')).getAllByRole<HTMLTableRowElement>('row').slice(1)
  expect(rows.map((r) => [r.cells[1].textContent, r.cells[2].textContent])).toEqual([
    ['store-0.sqlite', '12.0 MB'],
    ['store-1.sqlite', '10.0 MB'],
  ])
  expect(screen.queryByRole('alert')).toBeNull()
})

test('where none is made by itself and none was made, both are said', async () => {
  const title = await begin({ everyHours: 0, backups: [] })
  expect(title.textContent).toBe('No backup yet')
  expect(title.nextElementSibling!.textContent).toBe('None is made by itself in /var/lib/bichroma/backups')
  expect(screen.queryByRole('table')).toBeNull()
})

test('a try that came to nothing is told with its reason, beside those that are there', async () => {
  await begin({ fault: 'The disk of the server is full.' })
  expect(screen.getByRole('alert').textContent).toBe('The disk of the server is full.')
  expect(screen.getAllByRole('row')).toHaveLength(3)
})

test('one more is made when asked for, and stands there', async () => {
  const title = await begin({ backups: [backup(3, 10_485_760), backup(4, 10_485_760)] })
  expect(title.textContent).toBe('Last backup 3 days ago')
  api.answers['GET /api/backups'] = { body: { ...usual, backups: [backup(0, 12_582_912), ...usual.backups] } }
  await hands.press('Make a backup')
  await waitFor(() => expect(title.textContent).toBe('Last backup today'))
  expect(api.sent).toEqual([{ method: 'POST', path: '/api/backups', body: null }])
  expect(screen.getAllByRole('row')).toHaveLength(4)
})
