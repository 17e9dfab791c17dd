/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen } from '@testing-library/react'
import type { InstrumentsDue, RingFallsDue } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { signedInAs, StubbedApi } from '../test/stubbedApi'
import { correctionWords, InstrumentsDuePlane, ringWords } from './InstrumentsDuePlane'

const at = Date.UTC(2026, 10, 20)
const api = new StubbedApi({ items: [], next: null, total: 0, more: false })
afterEach(() => api.end())

const ring: RingFallsDue = {
  ...{ at, why: 'half a year', instrumentId: null, instrument: null, last: at - 182 * 86_400_000 },
  instruments: [1, 2].map((id) => ({ id, name: `Tarn ${id}` })),
  displays: [{ id: 7, name: 'Lantern 2', room: 'Lantern Hall' }],
}
const correction = {
  id: 1,
  displayId: 7,
  displayName: 'Lantern 2',
  instrument: 'Tarn TC-0288',
  madeAt: at,
  at,
} as const
const open = (due: InstrumentsDue, role: 'administrator' | 'viewer' = 'administrator') => {
  api.begin({ 'GET /api/session': signedInAs(role), 'GET /api/rounds/instruments-due': { body: due } })
  return show(<InstrumentsDuePlane />)
}

test('what falls due is told with why, and a ring is laid with what is proposed @long', async () => {
  const corrections = Array.from({ length: 5 }, (_, id) => ({ ...correction, id, why: 'a year old' as const }))
  const { unmount } = open({ ring, corrections, correctionsInAll: 9 })
  expect(await screen.findByText(/A ring: the last one was laid on 22 May/)).toBeTruthy()
  expect(screen.getByText(/For instance on Lantern 2, Lantern Hall/)).toBeTruthy()
  const link = await screen.findByRole('link', { name: 'Lay it' })
  expect(link.getAttribute('href')).toBe('/peers/rings?instruments=1,2&displays=7')
  expect(screen.getAllByText(/The correction of Tarn TC-0288/)).toHaveLength(3)
  expect(screen.getByText('and 6 more corrections')).toBeTruthy()
  unmount()
  api.end()
  open({ ring, corrections: [], correctionsInAll: 0 }, 'viewer')
  expect(await screen.findByText(/A ring/)).toBeTruthy()
  expect(screen.queryByRole('link', { name: 'Lay it' })).toBeNull()
})

test('nothing is shown where nothing falls due, and reasons read as sentences', async () => {
  const { container } = open({ ring: null, corrections: [], correctionsInAll: 0 })
  await new Promise((resolve) => setTimeout(resolve, 0))
  expect(container.querySelector('.plane')).toBeNull()
  expect(ringWords({ ...ring, why: 'never laid' })).toContain('never laid on the same displays')
  expect(ringWords({ ...ring, why: 'certificate ends', instrument: 'Tarn 2' })).toBe(
    'A ring before the certificate of Tarn 2 ends.',
  )
  expect(correctionWords({ ...correction, why: 'its reference was certified since' })).toBe(
    'The correction of Tarn TC-0288 on Lantern 2 again: its reference was certified since.',
  )
})
