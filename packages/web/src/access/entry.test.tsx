/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { queryClient } from '../api/queries'
import { showInApp as show } from '../parts/showInApp'
import { FirstVisit } from './FirstVisit'
import { Welcome } from './Welcome'

/** What was sent, and what comes back. */
const sent: { method: string; path: string; body: unknown }[] = []
let answer: { status: number; body: unknown }
beforeEach(() => {
  sent.length = 0
  answer = { status: 200, body: {} }
  globalThis.fetch = (async (path: string, init: RequestInit) => {
    sent.push({ method: init.method!, path, body: init.body ? JSON.parse(String(init.body)) : null })
    return { ok: answer.status < 400, status: answer.status, json: async () => answer.body }
  }) as never
})
afterEach(() => queryClient.clear())

describe('the first visit', () => {
  const fill = async (password: string) => {
    const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
    show(<FirstVisit />)
    await user.type(screen.getByLabelText('Token of the console'), 'aaaaa-bbbbb-ccccc-ddddd')
    await user.type(screen.getByLabelText('Your name'), 'Marit Oyen')
    await user.type(screen.getByLabelText('Login'), 'marit')
    await user.type(screen.getByLabelText('Password'), password)
    await user.click(screen.getByRole('button', { name: 'Make the first administrator' }))
  }

  test('sends what was typed @long', async () => {
    await fill('sedge and lantern')
    await waitFor(() => expect(sent).toHaveLength(1))
    expect(sent[0]).toEqual({
      method: 'POST',
      path: '/api/first-visit',
      body: { token: 'aaaaa-bbbbb-ccccc-ddddd', name: 'Marit Oyen', login: 'marit', password: 'sedge and lantern' },
    })
  })

  test('tells a short password at its field and sends nothing @long', async () => {
    await fill('too short')
    expect(await screen.findByText(/A password has 12 characters or more/)).toBeTruthy()
    expect(sent).toEqual([])
  })

  test('shows what the server refuses at the field that it names @long', async () => {
    answer = { status: 400, body: { detail: 'This is not the token of the console.', field: 'token', status: 400 } }
    await fill('sedge and lantern')
    const said = await screen.findByText('This is not the token of the console.')
    expect(said.closest('.ant-form-item')?.querySelector('label')?.textContent).toBe('Token of the console')
  })
})

test('an invitation brings its token along; a link that is worth nothing any more says so', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  answer = { status: 400, body: { detail: 'This link was used already.', field: 'token', status: 400 } }
  show(<Welcome />, '/welcome?token=QWERT-ASDFG-ZXCVB-23456')
  expect((screen.getByLabelText('Token of your invitation') as HTMLInputElement).value).toBe('QWERT-ASDFG-ZXCVB-23456')
  await user.type(screen.getByLabelText('Password'), 'herons wade at dusk')
  await user.click(screen.getByRole('button', { name: 'Choose this password' }))
  expect(await screen.findByText('This link was used already.')).toBeTruthy()
  expect(sent[0]).toMatchObject({ path: '/api/accept', body: { token: 'QWERT-ASDFG-ZXCVB-23456' } })
})
