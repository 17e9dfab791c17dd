/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor } from '@testing-library/react'
import type { OwnSession } from '@bichroma/contract'
import { showInApp } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { OwnAccount } from './OwnAccount'

const session = (id: string, browser: string, current = false): OwnSession => ({
  id,
  browser,
  current,
  startedAt: Date.UTC(2026, 10, 27, 8),
  seenAt: Date.UTC(2026, 10, 29, 7),
})
const here = session('a', 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36', true)
const elsewhere = session('b', 'Mozilla/5.0 (Windows NT 10.0; rv:143.0) Gecko/20100101 Firefox/143.0')

const api = new StubbedApi([])
const begin = async (sessions: OwnSession[]) => {
  api.begin({
    'GET /api/session': signedInAs('technician'),
    'GET /api/session/all': { body: sessions },
    'GET /api/session/second-factor': { body: { on: false, since: null, codesLeft: 0, required: false } },
  })
  showInApp(<OwnAccount />)
  await api.settled()
}
afterEach(() => {
  cleanup()
  api.end()
})

test('sessions by what their browsers say they are; the others can be ended', async () => {
  await begin([here, elsewhere, session('c', 'bichroma-cli/0.1')])
  const rows = screen.getAllByRole<HTMLTableRowElement>('row').map((r) => r.cells[0].textContent)
  expect(rows.slice(0, 3)).toEqual(['Chrome on Linux · this one', 'Firefox on Windows', 'a program'])
  api.answers['GET /api/session/all'] = { body: [here] }
  await hands.press('Sign out everywhere else')
  await waitFor(() => expect(screen.queryByText('Firefox on Windows')).toBeNull())
  expect(api.sent).toEqual([{ method: 'DELETE', path: '/api/session/others', body: null }])
})

test('with no other session there is nothing to end', async () => {
  await begin([here])
  expect(screen.getByText(/Chrome on Linux/)).toBeTruthy()
  expect(screen.queryByRole('button', { name: 'Sign out everywhere else' })).toBeNull()
})

test('a password that is too short is told at its field and not sent; one that is refused stays to be mended', async () => {
  await begin([here])
  await hands.write('Old password', 'only-looking')
  await hands.write('New password', 'short')
  await hands.press('Change password')
  expect(await screen.findByText(/A password has 12 characters or more/)).toBeTruthy()
  expect(api.sent).toEqual([])

  api.answers['PUT /api/session/password'] = refusal(400, 'This is not your password.', 'old')
  await hands.write('New password', 'sedge-under-the-lantern')
  await hands.press('Change password')
  expect(await screen.findByText('This is not your password.')).toBeTruthy()
  expect(screen.getByLabelText<HTMLInputElement>('New password').value).toBe('sedge-under-the-lantern')

  api.answers['PUT /api/session/password'] = { body: {} }
  await hands.write('Old password', 'carry-the-puck')
  await hands.press('Change password')
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>('New password').value).toBe(''))
  expect(api.sent.at(-1)).toEqual({
    method: 'PUT',
    path: '/api/session/password',
    body: { old: 'carry-the-puck', password: 'sedge-under-the-lantern' },
  })
})
