/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor, within } from '@testing-library/react'
import type { ApiToken, Person } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, signedInAs, StubbedApi } from '../test/stubbedApi'
import { OwnTokens } from './OwnTokens'
import { PeoplePage } from './PeoplePage'

const day = 86_400_000
const api = new StubbedApi()
const person = (change: Partial<Person>): Person => ({
  id: 1,
  login: 'marit',
  name: 'Marit Oyen',
  role: 'administrator',
  rooms: null,
  invited: false,
  locked: false,
  secondFactor: true,
  lacksSecondFactor: false,
  signedInAt: 0,
  ...change,
})
const people = [
  person({}),
  person({ id: 2, login: 'tobin', name: 'Tobin Reyk', role: 'technician', secondFactor: true, signedInAt: null }),
  person({ id: 3, login: 'ilse', name: 'Ilse Vark', role: 'viewer', secondFactor: false, locked: true }),
  person({ id: 4, login: 'pell', name: 'Pell Oru', role: 'viewer', secondFactor: false, invited: true }),
]
const token = (change: Partial<ApiToken>): ApiToken => ({
  id: 9,
  name: 'nightly report',
  role: 'viewer',
  accountId: 1,
  account: 'Marit Oyen',
  rooms: null,
  madeAt: 0,
  expiresAt: 90 * day,
  usedAt: null,
  ...change,
})
beforeEach(() =>
  api.begin({
    'GET /api/people': { body: people },
    'GET /api/rooms': {
      body: [
        { id: 1, name: 'Plate Room' },
        { id: 2, name: 'Dome' },
      ],
    },
    'GET /api/session': signedInAs('technician'),
    'GET /api/settings': { body: { secondFactor: 'nobody', retained: 7 } },
    'GET /api/tokens': { body: [token({}), token({ id: 10, name: 'gate', accountId: 2, account: 'Tobin Reyk' })] },
    'POST /api/people': { body: { token: 'abc123', expiresAt: day } },
    'POST /api/people/2/reset': { body: { token: 'def456', expiresAt: day } },
    'POST /api/tokens': { body: { token: 'bct_once' } },
  }),
)
afterEach(() => api.end())

const rowOf = async (name: string) => within((await screen.findByText(name)).closest('tr')!)
const sent = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return api.sent[0]
}

describe('people', () => {
  test('each row says how its account stands, and offers what can be done about it @long', async () => {
    show(<PeoplePage />)
    const own = await rowOf('Marit Oyen')
    expect(await own.findByText('· you')).toBeTruthy()
    // Nobody locks oneself out, or takes one's own factor away.
    expect(own.queryByRole('button', { name: 'Lock' })).toBeNull()
    expect(own.queryByRole('button', { name: 'Lost factor' })).toBeNull()
    const tobin = await rowOf('Tobin Reyk')
    expect(tobin.getByText('never')).toBeTruthy()
    expect(tobin.getByRole('button', { name: 'Lost factor' })).toBeTruthy()
    expect(tobin.getByLabelText('Rooms of Tobin Reyk')).toBeTruthy()
    const ilse = await rowOf('Ilse Vark')
    expect(ilse.getByText('locked').className).toContain('asks')
    expect(ilse.getByRole('button', { name: 'Unlock' })).toBeTruthy()
    expect(ilse.queryByLabelText('Rooms of Ilse Vark')).toBeNull()
    expect((await rowOf('Pell Oru')).getByRole('button', { name: 'New link' })).toBeTruthy()
  })

  test('a role is changed, and nothing else with it @long', async () => {
    show(<PeoplePage />)
    await hands.choose('Role of Ilse Vark', 'technician')
    expect(await sent()).toEqual({ method: 'PUT', path: '/api/people/3', body: { role: 'technician' } })
  })

  test('rooms of a technician: chosen they are a list, none chosen are all @long', async () => {
    show(<PeoplePage />)
    await hands.choose('Rooms of Tobin Reyk', 'Dome')
    expect(await sent()).toEqual({ method: 'PUT', path: '/api/people/2', body: { rooms: [2] } })
  })

  test('a lock is asked for by what it is not @long', async () => {
    show(<PeoplePage />)
    await screen.findByText('Ilse Vark')
    await hands.press('Unlock')
    expect(await sent()).toMatchObject({ path: '/api/people/3', body: { locked: false } })
  })

  test('a password is reset only after a second look, and the link is shown once @long', async () => {
    show(<PeoplePage />)
    await hands.pressInRow('Tobin Reyk', 'Reset password')
    expect(await screen.findByText('Let Tobin Reyk choose a new password?')).toBeTruthy()
    expect(api.sent).toEqual([])
    await hands.press('Make the link')
    expect(await screen.findByText(`${window.location.origin}/welcome?token=def456`)).toBeTruthy()
    await hands.press('Put away')
    expect(screen.queryByText(/def456/)).toBeNull()
  })

  test('a factor that was lost is taken away after a second look @long', async () => {
    show(<PeoplePage />)
    await hands.pressInRow('Tobin Reyk', 'Lost factor')
    await screen.findByText(/second factor away\?/)
    await hands.press('Take it away')
    expect(await sent()).toMatchObject({ method: 'DELETE', path: '/api/people/2/second-factor' })
  })

  test('who must have a second factor is one setting among others, which stay @long', async () => {
    show(<PeoplePage />)
    await screen.findByText('Ilse Vark')
    await hands.choose('Who must have a second factor', 'Second factor: everybody must')
    expect(await sent()).toEqual({
      method: 'PUT',
      path: '/api/settings',
      body: { secondFactor: 'everybody', retained: 7 },
    })
  })

  test('an invitation needs a name and a login of small letters; what is wrong is told at its field @long', async () => {
    show(<PeoplePage />)
    await screen.findByText('Ilse Vark')
    await hands.press('Invite somebody')
    await hands.press('Make the invitation')
    expect(await screen.findByText(/“Name” is missing/)).toBeTruthy()
    await hands.write('Name', 'Wren Aldous')
    await hands.write('Login', 'Wren Aldous!')
    await hands.press('Make the invitation')
    expect(await screen.findByText(/“Login” must/)).toBeTruthy()
    expect(api.sent).toEqual([])
    await hands.write('Login', 'wren')
    await hands.press('Make the invitation')
    expect(await sent()).toEqual({
      method: 'POST',
      path: '/api/people',
      body: { name: 'Wren Aldous', login: 'wren', role: 'technician' },
    })
    expect(await screen.findByText('Link for Wren Aldous')).toBeTruthy()
  })

  test('a login that somebody has is told at its field, and what was written stays @long', async () => {
    api.answers['POST /api/people'] = refusal(409, 'Somebody has that login.', 'login')
    show(<PeoplePage />)
    await screen.findByText('Ilse Vark')
    await hands.press('Invite somebody')
    await hands.write('Name', 'Tobin Two')
    await hands.write('Login', 'tobin')
    await hands.press('Make the invitation')
    expect(await screen.findByText('Somebody has that login.')).toBeTruthy()
    expect((screen.getByLabelText('Name') as HTMLInputElement).value).toBe('Tobin Two')
  })
})

describe('tokens for programs', () => {
  test('nobody makes one that may more than oneself, and it is shown once @long', async () => {
    show(<OwnTokens />)
    await screen.findByText('nightly report')
    await hands.press('Make a token')
    await hands.write('What it is for', 'wall display')
    const list = screen.getByLabelText('Role')
    await hands.choose('Role', 'technician')
    expect(list).toBeTruthy()
    expect(screen.queryAllByText('administrator')).toEqual([])
    await hands.write('Days', '30')
    await hands.press('Make it')
    expect(await sent()).toEqual({
      method: 'POST',
      path: '/api/tokens',
      body: { name: 'wall display', role: 'technician', days: 30 },
    })
    expect(await screen.findByText('bct_once')).toBeTruthy()
    await hands.press('Put away')
    expect(screen.queryByText('bct_once')).toBeNull()
  })

  test('days beyond what a token may have are told, and nothing is made @long', async () => {
    show(<OwnTokens />)
    await screen.findByText('nightly report')
    await hands.press('Make a token')
    await hands.write('What it is for', 'wall display')
    await hands.write('Days', '100000')
    await hands.press('Make it')
    expect(await screen.findByText(/“Days” must/)).toBeTruthy()
    expect(api.sent).toEqual([])
  })

  test('whose it is stands by one of somebody else’s, and it is withdrawn after a second look', async () => {
    show(<OwnTokens />)
    const other = await rowOf('gate')
    expect(other.getByText('· Tobin Reyk')).toBeTruthy()
    await hands.pressInRow('gate', 'Withdraw')
    await screen.findByText('Withdraw the token gate?')
    expect(api.sent).toEqual([])
    await hands.press('Leave it')
    expect(api.sent).toEqual([])
  })
})
