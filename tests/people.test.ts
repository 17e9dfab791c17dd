import type { LedgerEntry, OwnSession, Page, Person, Role, Session } from '@bichroma/contract'
import { isCommonPassword } from '../packages/server/src/access/commonPasswords'
import { SignInThrottle } from '../packages/server/src/access/throttle'
import { HeldClient } from './heldClient'
import { Studio } from './studio'

let studio: Studio
beforeAll(async () => {
  studio = await Studio.open()
})
afterAll(() => studio.close())

const good = 'herons wade at dusk'
const stranger = () => new HeldClient(studio.server.url)
const people = () => studio.admin.get<Person[]>('/people')
const personOf = async (login: string) => (await people()).find((p) => p.login === login)!
const invite = (login: string, role: Role = 'technician') =>
  studio.admin.post<{ id: number; token: string }>('/people', { login, name: `Name of ${login}`, role })
const newest = async () => (await studio.admin.get<Page<LedgerEntry>>('/ledger?limit=1')).items[0]

describe('an invitation', () => {
  test('lets its owner choose a password once, and is told of in the ledger @long', async () => {
    const { id, token } = await invite('ana')
    expect(token).toMatch(/^[A-Z2-9]{5}(-[A-Z2-9]{5}){3}$/)
    expect(await personOf('ana')).toMatchObject({ invited: true, locked: false, role: 'technician', signedInAt: null })
    const ana = stranger()
    await expect(ana.signIn('ana', good)).rejects.toThrow('The login or the password is not right')
    // As people type it: small letters, blanks for dashes.
    await ana.post('/accept', { token: token.toLowerCase().replaceAll('-', ' '), password: good })
    expect((await ana.get<Session>('/session')).account).toMatchObject({ id, login: 'ana', role: 'technician' })
    expect(await personOf('ana')).toMatchObject({ invited: false })
    expect(await newest()).toMatchObject({ act: 'signed in', thing: 'session', name: 'ana' })
    await expect(stranger().post('/accept', { token, password: good })).rejects.toThrow('was used already')
    await stranger().signIn('ana', good)
    expect(JSON.stringify(await people())).not.toContain('argon2')
  })

  test('is good for once though it is used twice in the same moment', async () => {
    const { token } = await invite('abe')
    const both = await Promise.allSettled([
      stranger().post('/accept', { token, password: `${good} one` }),
      stranger().post('/accept', { token, password: `${good} two` }),
    ])
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected'])
    await stranger().signIn('abe', `${good} ${both[0].status === 'fulfilled' ? 'one' : 'two'}`)
  })

  test('runs out after three days, and is withdrawn by a newer one and by a lock', async () => {
    const { id, token } = await invite('ben')
    const { token: next } = await studio.admin.post<{ token: string }>(`/people/${id}/reset`)
    await expect(stranger().post('/accept', { token, password: good })).rejects.toThrow('withdrawn')
    await studio.admin.put(`/people/${id}`, { locked: true })
    await expect(stranger().post('/accept', { token: next, password: good })).rejects.toThrow('withdrawn')
    await studio.admin.put(`/people/${id}`, { locked: false })
    studio.clock.jumpTo(studio.clock.now() + 3 * 86_400_000 + 1)
    studio.admin = await studio.as('administrator')
    await expect(stranger().post('/accept', { token: next, password: good })).rejects.toThrow('has run out')
  })

  test.each([
    ['eleven more', 'A password has 12 characters or more'],
    ['qwerty123456', 'among the first that others would try'],
    ['QWERTY123456', 'among the first that others would try'],
    ['abcabcabcabc', 'among the first that others would try'],
  ])('refuses the password “%s”, and stays good', async (password, words) => {
    const { token } = await invite(`c${Math.random().toString(36).slice(2, 8)}`)
    await expect(stranger().post('/accept', { token, password })).rejects.toThrow(words)
    await stranger().post('/accept', { token, password: good })
  })

  test.each([
    [{ login: 'Capital', name: 'X', role: 'viewer' }, 'small letters'],
    [{ login: 'dora', name: 'X', role: 'king' }, 'must be one of'],
    [{ login: 'dora', role: 'viewer' }, 'Name'],
    [{ login: 'administrator', name: 'X', role: 'viewer' }, 'Another account has this login already'],
    [{ login: 'dora', name: 'X', role: 'viewer', password: 'x' }, 'password'],
  ])('%j is refused', async (body, words) => {
    await expect(studio.admin.post('/people', body)).rejects.toThrow(words)
  })
})

describe('an account', () => {
  test('that is locked is out at once, everywhere, and back when it is unlocked', async () => {
    const { id, token } = await invite('eva', 'viewer')
    const eva = stranger()
    await eva.post('/accept', { token, password: good })
    await studio.admin.put(`/people/${id}`, { locked: true })
    await expect(eva.list('/displays')).rejects.toThrow('You are not signed in')
    await expect(stranger().signIn('eva', good)).rejects.toThrow('This account is locked.')
    await studio.admin.put(`/people/${id}`, { locked: false, role: 'technician', name: 'Eva Reed' })
    await eva.signIn('eva', good)
    expect((await eva.get<Session>('/session')).account).toMatchObject({ role: 'technician', name: 'Eva Reed' })
  })

  test('the last administrator stays one, and nobody locks themselves', async () => {
    const { id } = await personOf('administrator')
    await expect(studio.admin.put(`/people/${id}`, { role: 'viewer' })).rejects.toThrow('last administrator')
    await expect(studio.admin.put(`/people/${id}`, { locked: true })).rejects.toThrow('Nobody locks their own account')
    const { token } = await invite('fay', 'administrator')
    // One that is only invited cannot sign in, and does not count.
    await expect(studio.admin.put(`/people/${id}`, { role: 'viewer' })).rejects.toThrow('last administrator')
    await stranger().post('/accept', { token, password: good })
    await expect(studio.admin.put(`/people/${id}`, { locked: true })).rejects.toThrow('Nobody locks their own account')
    await expect(studio.admin.put(`/people/${id}`, {})).rejects.toThrow('Say what is to change')
    // Two who take each other's role away in the same moment do not both succeed.
    const fay = stranger()
    await fay.signIn('fay', good)
    const [mine, hers] = await Promise.allSettled([
      studio.admin.put(`/people/${(await personOf('fay')).id}`, { role: 'viewer' }),
      fay.put(`/people/${id}`, { role: 'viewer' }),
    ])
    expect([mine.status, hers.status].sort()).toEqual(['fulfilled', 'rejected'])
    // Things are put as they were where she was quicker.
    if (hers.status === 'fulfilled') await fay.put(`/people/${id}`, { role: 'administrator' })
    await expect(studio.admin.put('/people/4711', { locked: true })).rejects.toThrow('There is no account 4711')
  })

  test('sees its sessions, ends the others, and changes its password, which ends them too', async () => {
    const { token } = await invite('gil', 'viewer')
    const [here, there] = [stranger(), stranger()]
    await here.post('/accept', { token, password: good })
    await there.signIn('gil', good)
    const sessions = () => here.get<OwnSession[]>('/session/all')
    expect((await sessions()).map((s) => s.current).sort()).toEqual([false, true])
    // What it is shown by is not what it is opened with.
    expect((await sessions()).every((s) => s.id.length === 8)).toBe(true)
    await here.delete('/session/others')
    await expect(there.get('/displays')).rejects.toThrow('You are not signed in')
    expect(await sessions()).toHaveLength(1)
    await there.signIn('gil', good)
    const next = 'a reed bed in winter'
    await expect(here.put('/session/password', { old: 'wrong', password: next })).rejects.toThrow('old password')
    await here.put('/session/password', { old: good, password: next })
    await expect(there.get('/displays')).rejects.toThrow('You are not signed in')
    await here.get('/displays')
    await expect(there.signIn('gil', good)).rejects.toThrow()
    await there.signIn('gil', next)
  })
})

describe('guessing', () => {
  test('is held up by account and address, and locks nobody out for good', () => {
    const throttle = new SignInThrottle()
    for (let n = 0; n < 10; n++) throttle.failed('marit', '10.0.0.9')
    expect(throttle.mayTry('marit', '10.0.0.9')).toBe(false)
    // Others behind the same proxy, and the owner elsewhere, are not held up.
    expect(throttle.mayTry('tobin', '10.0.0.9')).toBe(true)
    expect(throttle.mayTry('marit', '10.0.0.1')).toBe(true)
  })

  test('from everywhere at once is slowed, but not where the owner has signed in before', () => {
    const throttle = new SignInThrottle()
    throttle.succeeded('marit', '10.0.0.1')
    for (let n = 0; n < 50; n++) throttle.failed('marit', `192.0.2.${n}`)
    expect(throttle.mayTry('marit', '192.0.2.200')).toBe(false)
    expect(throttle.mayTry('marit', '10.0.0.1')).toBe(true)
    expect(throttle.mayTry('tobin', '192.0.2.200')).toBe(true)
  })

  test('a wrong password is told in the ledger with its address, an unknown login is not', async () => {
    await expect(stranger().signIn('viewer', 'wrong')).rejects.toThrow()
    expect(await newest()).toMatchObject({ act: 'was refused', name: 'viewer', by: 'Bichroma' })
    const { id } = await newest()
    await expect(stranger().signIn('nobody-at-all', 'wrong')).rejects.toThrow()
    expect((await newest()).id).toBe(id)
  })

  test('common passwords are known whatever their case, with figures behind them, and repeated', () => {
    expect(
      ['123qweasdzxc', 'Password1234', 'letmein20262026', 'aaaaaaaaaaaa', 'lkjlkjlkjlkj'].map(isCommonPassword),
    ).toEqual([true, true, true, true, true])
    expect([good, 'sedge-and-lantern', 'correct battery of staples'].some(isCommonPassword)).toBe(false)
  })
})

test('the first visit is over where there is an account', async () => {
  expect(await stranger().get<Session>('/session')).toEqual({ account: null, first: false })
  const body = { token: 'AAAAA-BBBBB-CCCCC-DDDDD', login: 'new', name: 'New', password: good }
  await expect(stranger().post('/first-visit', body)).rejects.toThrow('has its first administrator already')
})
