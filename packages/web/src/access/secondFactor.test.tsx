/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { showInApp as show } from '../parts/showInApp'
import { StubbedApi } from '../test/stubbedApi'
import { OwnTokens } from './OwnTokens'
import { SecondFactor } from './SecondFactor'
import { SignIn } from './SignIn'

const api = new StubbedApi()
const { sent } = api
beforeEach(() => api.begin())
afterEach(() => api.end())

const problem = (type: string, detail: string, field: string) => ({
  status: 401,
  body: { type: `/problems/${type}`, title: 'x', status: 401, detail, field },
})

describe('signing in', () => {
  const fill = async () => {
    const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
    show(<SignIn />)
    await user.type(screen.getByLabelText('Login'), 'marit')
    await user.type(screen.getByLabelText('Password'), 'sedge and lantern')
    await user.click(screen.getByRole('button', { name: 'Sign in' }))
    return user
  }

  test('asks for the second factor only where there is one, and sends all three @long', async () => {
    api.answers = { 'POST /api/session': problem('second-factor', 'Type the six figures.', 'code') }
    const user = await fill()
    // Being asked for the first time is no fault: nothing is shown in red.
    const code = await screen.findByLabelText('Code of the second factor')
    expect(screen.queryByText('Type the six figures.')).toBeNull()
    api.answers = { 'POST /api/session': problem('second-factor', 'This code is not right.', 'code') }
    await user.type(code, '123456')
    await user.click(screen.getByRole('button', { name: 'Sign in' }))
    expect(await screen.findByText('This code is not right.')).toBeTruthy()
    expect(sent.at(-1)!.body).toEqual({ login: 'marit', password: 'sedge and lantern', code: '123456' })
  })

  test('a wrong password stands at the password, without a word of a code @long', async () => {
    api.answers = {
      'POST /api/session': problem('not-signed-in', 'The login or the password is not right.', 'password'),
    }
    await fill()
    expect(await screen.findByText('The login or the password is not right.')).toBeTruthy()
    expect(screen.queryByLabelText('Code of the second factor')).toBeNull()
  })
})

describe('the second factor', () => {
  test('is offered as a picture and a key, proved, and its codes are shown once', async () => {
    const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
    api.answers = {
      'GET /api/session/second-factor': { body: { on: false, codesLeft: 0 } },
      'POST /api/session/second-factor': { body: { secret: 'ABCDEFGH', address: 'otpauth://x', picture: '<svg/>' } },
      'PUT /api/session/second-factor': { status: 201, body: { codes: ['AAAAA-BBBBB', 'CCCCC-DDDDD'] } },
    }
    show(<SecondFactor />)
    await user.click(await screen.findByRole('button', { name: 'Set up a second factor' }))
    expect(await screen.findByText('ABCD EFGH')).toBeTruthy()
    expect(screen.getByAltText('Square for the authenticator').getAttribute('src')).toContain('%3Csvg')
    await user.type(screen.getByLabelText('Six figures that it shows'), '123 456')
    api.answers['GET /api/session/second-factor'] = { body: { on: true, codesLeft: 2 } }
    await user.click(screen.getByRole('button', { name: 'Put it in force' }))
    expect(await screen.findByText('AAAAA-BBBBB')).toBeTruthy()
    expect(sent.at(-1)).toEqual({ method: 'PUT', path: '/api/session/second-factor', body: { code: '123 456' } })
    await user.click(screen.getByRole('button', { name: 'I have kept them' }))
    expect(await screen.findByText('2 recovery codes are left.')).toBeTruthy()
    expect(screen.queryByText('AAAAA-BBBBB')).toBeNull()
  })

  test('is taken away only with the password @long', async () => {
    const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
    api.answers = { 'GET /api/session/second-factor': { body: { on: true, codesLeft: 9 } } }
    show(<SecondFactor />)
    await user.click(await screen.findByRole('button', { name: 'Take the second factor away' }))
    await user.click(screen.getByRole('button', { name: 'Take it away' }))
    expect(await screen.findByText(/“Password” is missing/)).toBeTruthy()
    expect(sent).toEqual([])
    await user.type(screen.getByLabelText('Password'), 'sedge and lantern')
    await user.click(screen.getByRole('button', { name: 'Take it away' }))
    await waitFor(() =>
      expect(sent).toEqual([
        { method: 'POST', path: '/api/session/second-factor/remove', body: { password: 'sedge and lantern' } },
      ]),
    )
  })
})

test('a token is made with its role and days, and shown once @long', async () => {
  const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
  api.answers = {
    'GET /api/session': { body: { account: { id: 1, role: 'technician' }, first: false } },
    'GET /api/tokens': { body: [] },
    'POST /api/tokens': { status: 201, body: { id: 1, token: 'bichroma_secret' } },
  }
  show(<OwnTokens />)
  await user.click(await screen.findByRole('button', { name: 'Make a token' }))
  await user.type(screen.getByLabelText('What it is for'), 'nightly')
  await user.click(screen.getByRole('button', { name: 'Make it' }))
  expect(await screen.findByText('bichroma_secret')).toBeTruthy()
  expect(sent[0].body).toEqual({ name: 'nightly', role: 'viewer', days: 90 })
  await user.click(screen.getByRole('button', { name: 'Put away' }))
  expect(screen.queryByText('bichroma_secret')).toBeNull()
})
