import { createHmac } from 'node:crypto'
import {
  roles,
  type LedgerEntry,
  type OwnSession,
  type Page,
  type SecondFactorOffer,
  type Session,
} from '@bichroma/contract'
import { ApiClient, Refused } from '../scripts/apiClient'
import { HeldClient } from './heldClient'
import { Studio } from './studio'

/** RFC 6238 with SHA-1 and 30 s, written down from the RFC and not from what the server uses. */
function totp(key: Buffer, at: number, digits = 6): string {
  const counter = Buffer.alloc(8)
  counter.writeBigUInt64BE(BigInt(Math.floor(at / 30_000)))
  const mac = createHmac('sha1', key).update(counter).digest()
  const offset = mac[19] & 15
  return String((mac.readUInt32BE(offset) & 0x7fffffff) % 10 ** digits).padStart(digits, '0')
}

/** RFC 4648. */
function fromBase32(text: string): Buffer {
  const bits = [...text].map((c) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(c).toString(2).padStart(5, '0')).join('')
  return Buffer.from(bits.match(/.{8}/g)!.map((b) => parseInt(b, 2)))
}

let studio: Studio
beforeAll(async () => {
  studio = await Studio.open()
})
afterAll(() => studio.close())

const now = () => Math.floor(studio.clock.now())
const later = (ms: number) => studio.clock.jumpTo(studio.clock.now() + ms)
const word = 'rushes bend in the wind'
let number = 0
/** Somebody new, with a second factor that is in force. */
async function secured() {
  const login = `factor${++number}`
  await studio.server.access.addAccount(login, `Name ${login}`, 'technician', word)
  const client = new HeldClient(studio.server.url)
  await client.signIn(login, word)
  const offer = await client.post<SecondFactorOffer>('/session/second-factor')
  const key = fromBase32(offer.secret)
  const { codes } = await client.put<{ codes: string[] }>('/session/second-factor', { code: totp(key, now()) })
  later(30_000)
  return { login, client, offer, key, codes }
}
const signIn = async (login: string, code?: string) => {
  const client = new HeldClient(studio.server.url)
  await client.post('/session', { login, password: word, ...(code !== undefined && { code }) })
  return client
}

test('the arithmetic of these tests is that of RFC 6238', () => {
  const key = Buffer.from('12345678901234567890')
  expect([59, 1111111109, 1111111111, 1234567890, 2000000000, 20000000000].map((t) => totp(key, t * 1000, 8))).toEqual([
    '94287082',
    '07081804',
    '14050471',
    '89005924',
    '69279037',
    '65353130',
  ])
})

test('it is offered as text and picture, proved by a code, and asked for from then on', async () => {
  const { login, offer, key, codes } = await secured()
  expect(offer.secret).toMatch(/^[A-Z2-7]{32}$/)
  expect(offer.address).toBe(
    `otpauth://totp/Bichroma:${login}?secret=${offer.secret}&period=30&digits=6&algorithm=SHA1&issuer=Bichroma`,
  )
  expect(offer.picture).toMatch(/^<svg/)
  expect(new Set(codes).size).toBe(10)
  await expect(signIn(login)).rejects.toMatchObject({
    problem: { type: '/problems/second-factor', status: 401, field: 'code' },
  })
  const client = await signIn(login, totp(key, now()))
  expect(await client.get('/session/second-factor')).toEqual({ on: true, codesLeft: 10 })
  const told = await studio.admin.get<Page<LedgerEntry>>('/ledger?thing=account&limit=1')
  expect(told.items[0]).toMatchObject({ act: 'changed', changes: [{ field: 'second factor', to: 'on' }] })
  expect(JSON.stringify(await studio.admin.get('/ledger?limit=200'))).not.toContain(offer.secret)
  await expect(client.post('/session/second-factor')).rejects.toThrow('has a second factor already')
})

test('a code is good once, and half a minute to either side of its own', async () => {
  const { login, key } = await secured()
  const code = totp(key, now())
  const both = await Promise.allSettled([signIn(login, code), signIn(login, code)])
  expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected'])
  // The one before is behind the one that was used.
  await expect(signIn(login, totp(key, now() - 30_000))).rejects.toThrow('is not right, or was used already')
  await signIn(login, totp(key, now() + 30_000))
  later(300_000)
  await expect(signIn(login, totp(key, now() - 60_000))).rejects.toThrow('not right')
  await expect(signIn(login, totp(key, now() + 60_000))).rejects.toThrow('not right')
  await signIn(login, totp(key, now() - 30_000))
})

test('a recovery code lets in once, however it is typed; new ones take the place of those before', async () => {
  const { login, client, codes } = await secured()
  await signIn(login, codes[0].toLowerCase().replace('-', ' '))
  await expect(signIn(login, codes[0])).rejects.toThrow('was used already')
  expect(await client.get('/session/second-factor')).toEqual({ on: true, codesLeft: 9 })
  await expect(client.post('/session/second-factor/codes', { password: 'wrong' })).rejects.toThrow('not right')
  const anew = await client.post<{ codes: string[] }>('/session/second-factor/codes', { password: word })
  await expect(signIn(login, codes[1])).rejects.toThrow('not right')
  await signIn(login, anew.codes[1])
})

test('a link for a new password takes the place of the password, not of the second factor', async () => {
  const { login, key } = await secured()
  const { id } = (await studio.admin.get<{ id: number; login: string }[]>('/people')).find((p) => p.login === login)!
  const { token } = await studio.admin.post<{ token: string }>(`/people/${id}/reset`)
  const client = new HeldClient(studio.server.url)
  await client.post('/accept', { token, password: word })
  expect((await client.get<Session>('/session')).account).toBeNull()
  await expect(signIn(login)).rejects.toThrow('Type the six figures')
  await signIn(login, totp(key, now()))
})

test('of another account it lets nobody in', async () => {
  const [one, other] = [await secured(), await secured()]
  await expect(signIn(one.login, totp(other.key, now()))).rejects.toThrow('not right')
  await expect(signIn(one.login, other.codes[0])).rejects.toThrow('not right')
  expect(await other.client.get('/session/second-factor')).toEqual({ on: true, codesLeft: 10 })
})

test('guessing codes is held up like guessing passwords', async () => {
  const { login } = await secured()
  const said: number[] = []
  for (let i = 0; i < 12; i++)
    said.push(
      await signIn(login, String(100_000 + i)).then(
        () => 200,
        (e: Refused) => e.status,
      ),
    )
  expect(said.slice(0, 10)).toEqual(Array(10).fill(401))
  expect(said[11]).toBe(429)
})

test('setting it up needs the figures of the moment, and the offer stays the same until then', async () => {
  await studio.server.access.addAccount('slow', 'Slow', 'viewer', word)
  const client = await signIn('slow')
  await expect(client.put('/session/second-factor', { code: '123456' })).rejects.toThrow('Begin anew')
  const { secret } = await client.post<SecondFactorOffer>('/session/second-factor')
  expect((await client.post<SecondFactorOffer>('/session/second-factor')).secret).toBe(secret)
  const right = totp(fromBase32(secret), now())
  const wrong = right === '000000' ? '000001' : '000000'
  for (const code of [wrong, '12 34', 'words'])
    await expect(client.put('/session/second-factor', { code })).rejects.toThrow('six figures of this moment')
  await expect(client.put('/session/second-factor', {})).rejects.toThrow('Code')
  // Signing in asks for none before it is in force.
  await signIn('slow')
  await client.put('/session/second-factor', { code: `${right.slice(0, 3)} ${right.slice(3)}` })
})

test('it is taken away by its owner’s password, or by an administrator for somebody who lost it', async () => {
  const { login, client } = await secured()
  await expect(client.post('/session/second-factor/remove', { password: 'wrong' })).rejects.toThrow('not right')
  await client.post('/session/second-factor/remove', { password: word })
  await signIn(login)
  const lost = await secured()
  const people = await studio.admin.get<{ id: number; login: string; secondFactor: boolean }[]>('/people')
  const person = people.find((p) => p.login === lost.login)!
  expect(person.secondFactor).toBe(true)
  await studio.admin.ask('DELETE', `/people/${person.id}/second-factor`)
  await signIn(lost.login)
  const own = people.find((p) => p.login === 'administrator')!
  await expect(studio.admin.ask('DELETE', `/people/${own.id}/second-factor`)).rejects.toThrow('by your password')
})

test('where the studio asks for it, nothing else is done before it is there', async () => {
  const settings = await studio.admin.get<object>('/settings')
  await studio.admin.put('/settings', { ...settings, secondFactor: 'administrators' })
  const told = (client: ApiClient) => client.get<Session>('/session')
  expect((await told(studio.admin)).account?.lacksSecondFactor).toBe(true)
  for (const role of roles.filter((r) => r !== 'administrator'))
    expect((await told(await studio.as(role))).account?.lacksSecondFactor).toBe(false)
  await expect(studio.admin.put('/settings', { ...settings, secondFactor: 'nobody' })).rejects.toThrow(
    'The studio asks for a second factor',
  )
  await expect(studio.admin.get('/displays')).rejects.toThrow('Set yours up in your own account')
  expect(await studio.admin.get<OwnSession[]>('/session/all')).not.toEqual([])
  const { secret } = await studio.admin.post<SecondFactorOffer>('/session/second-factor')
  await studio.admin.put('/session/second-factor', { code: totp(fromBase32(secret), now()) })
  await studio.admin.put('/settings', { ...settings, secondFactor: 'nobody' })
  await studio.admin.post('/session/second-factor/remove', { password: 'admin-word' })
})
