import {
  roleCovers,
  roles,
  type ApiToken,
  type LedgerEntry,
  type MakeToken,
  type Page,
  type Role,
  type Visit,
  type Week,
} from '@bichroma/contract'
import { routeFacts } from '../packages/server/src/app/openapi/routeFacts'
import { routeRoles } from '../packages/server/src/http/routeRoles'
import { ApiClient } from '../scripts/apiClient'
import { HeldClient } from './heldClient'
import { live, Studio } from './studio'

let studio: Studio
beforeAll(async () => {
  studio = await Studio.open()
})
afterAll(() => studio.close())

const dayMs = 86_400_000
const make = (change: Partial<MakeToken> = {}, client = studio.admin) =>
  client.post<{ id: number; token: string }>('/tokens', { name: 'nightly', role: 'viewer', days: 30, ...change })
/** What a program sends: no cookie, a token. */
async function asProgram(token: string, method: string, path: string, body?: unknown) {
  const response = await fetch(`${studio.server.url}/api${path}`, {
    method,
    headers: { authorization: `Bearer ${token}`, ...(body !== undefined && { 'content-type': 'application/json' }) },
    body: body === undefined ? undefined : JSON.stringify(body),
  })
  return {
    status: response.status,
    answer: (await response.json().catch(() => null)) as { total: number; detail: string; type: string },
    cookie: response.headers.get('set-cookie'),
  }
}

test('a token is told once, kept as a hash, and asks without a session', async () => {
  const { id, token } = await make()
  expect(token).toMatch(/^bichroma_[A-Za-z0-9_-]{43}$/)
  const { status, answer, cookie } = await asProgram(token, 'GET', '/displays')
  expect([status, answer.total, cookie]).toEqual([200, (await studio.admin.list('/displays')).length, null])
  const [told] = (await studio.admin.get<ApiToken[]>('/tokens')).filter((t) => t.id === id)
  expect(told).toMatchObject({ name: 'nightly', role: 'viewer', account: 'administrator', rooms: null })
  expect(told.usedAt).toBeGreaterThan(0)
  expect(JSON.stringify(told)).not.toContain(token)
  const kept = await studio.server.access.tokens.accountOf(token)
  expect(kept.name).toBe('administrator (token nightly)')
})

test('it may do what its role may, on every route, and nothing that is a person’s own @long', async () => {
  const tokens = {} as Record<Role, string>
  for (const role of roles) tokens[role] = (await make({ role })).token
  for (const [name, needs] of Object.entries(routeRoles)) {
    if (name === 'GET /events' || name === 'GET /session') continue
    const [method, pattern] = name.split(' ')
    const path = pattern.replace(/:\w*[iI]d/, '4711').replace(':thing', 'room')
    for (const role of roles) {
      const { status } = await asProgram(tokens[role], method, path, method === 'GET' ? undefined : {})
      const own = /^\/(session|tokens|first-visit|accept)/.test(path)
      if (own || (needs !== 'anyone' && !roleCovers(role, needs as Role)))
        expect([name, role, status]).toEqual([name, role, 403])
      else expect([200, 201, 400, 404, 409]).toContain(status)
    }
  }
})

test('what it does stands in the ledger under its name', async () => {
  const { token } = await make({ role: 'administrator', name: 'inventory' })
  expect((await asProgram(token, 'POST', '/rooms', { name: 'Token room' })).status).toBe(201)
  const { items } = await studio.admin.get<Page<LedgerEntry>>('/ledger?thing=room&limit=1')
  expect(items[0]).toMatchObject({ act: 'added', by: 'administrator (token inventory)' })
})

test('it may never do more than its maker may at that moment', async () => {
  const { token: invitation, id } = await studio.admin.post<{ token: string; id: number }>('/people', {
    login: 'maker',
    name: 'Maker',
    role: 'technician',
  })
  const maker = new HeldClient(studio.server.url)
  await maker.post('/accept', { token: invitation, password: 'sallow and alder' })
  await expect(make({ role: 'administrator' }, maker)).rejects.toThrow('“Role” must be technician or less')
  const { token } = await make({ role: 'technician' }, maker)
  expect((await asProgram(token, 'POST', '/runs', {})).status).toBe(400)
  await studio.admin.put(`/people/${id}`, { role: 'viewer' })
  expect((await asProgram(token, 'POST', '/runs', {})).status).toBe(403)
  expect((await asProgram(token, 'GET', '/displays')).status).toBe(200)
  await studio.admin.put(`/people/${id}`, { locked: true })
  expect((await asProgram(token, 'GET', '/displays')).status).toBe(401)
})

test('it ends on its day, and when it is withdrawn; others’ are not seen', async () => {
  const technician = await studio.as('technician')
  const { id, token } = await make({ days: 2 }, technician)
  const { id: adminId } = await make()
  expect((await technician.get<ApiToken[]>('/tokens')).map((t) => t.id)).toEqual([id])
  expect((await studio.admin.get<ApiToken[]>('/tokens')).map((t) => t.id)).toEqual(
    expect.arrayContaining([id, adminId]),
  )
  await expect(technician.ask('DELETE', `/tokens/${adminId}`)).rejects.toThrow('no token')
  const { id: second, token: withdrawn } = await make({}, technician)
  await studio.admin.ask('DELETE', `/tokens/${second}`)
  expect((await asProgram(withdrawn, 'GET', '/displays')).status).toBe(401)
  expect((await asProgram(token, 'GET', '/displays')).status).toBe(200)
  studio.clock.jumpTo(studio.clock.now() + 2 * dayMs)
  const late = await asProgram(token, 'GET', '/displays')
  expect([late.status, late.answer.detail]).toEqual([401, expect.stringContaining('has ended')])
  studio.admin = await studio.as('administrator')
})

test.each(['', 'bichroma_', 'bichroma_x', 'x'.repeat(5000), '%00', 'bichroma_' + 'A'.repeat(43)])(
  'what is no token lets nobody in: “%.20s”',
  async (text) => {
    const { status, answer } = await asProgram(text, 'GET', '/displays')
    expect([status, answer.type]).toEqual([401, '/problems/not-signed-in'])
  },
)

test.each([
  [{ days: 0 }, 'Days'],
  [{ days: 401 }, 'Days'],
  [{ role: 'king' }, 'Role'],
  [{ name: '' }, 'Name'],
  [{ rooms: [1] }, 'Only technicians are limited to rooms'],
  [{ role: 'technician', rooms: [] }, 'Rooms'],
])('%j is refused', async (change, words) => {
  await expect(make(change as Partial<MakeToken>)).rejects.toThrow(words)
})

test('no more than fifty for one account @long', async () => {
  const viewer = await studio.as('viewer')
  for (let i = 0; i < 50; i++) await make({ name: `t${i}` }, viewer)
  await expect(make({}, viewer)).rejects.toThrow('50 tokens at most')
})

describe('rooms of a technician', () => {
  let limited: ApiClient
  let elsewhere: number
  const ids: Record<string, number> = {}
  beforeAll(async () => {
    elsewhere = (await studio.admin.post<{ id: number }>('/rooms', { name: 'Dome' })).id
    const { token, id } = await studio.admin.post<{ token: string; id: number }>('/people', {
      login: 'limited',
      name: 'Limited',
      role: 'technician',
      rooms: [elsewhere],
    })
    ids.account = id
    limited = new HeldClient(studio.server.url)
    await limited.post('/accept', { token, password: 'sallow and alder' })
    ids.run = await studio.start()
    await studio.finish(ids.run)
    await studio.admin.post('/rounds/plan', { days: 35 })
    const planned = await studio.admin.get<Week>('/rounds/week')
    const [visit] = [...planned.visits, ...(await studio.admin.list<Visit>('/rounds/unplanned'))]
    ids.visit = visit.id
    const desk = await studio.admin.post<{ token: string }>(`/workstations/${studio.ids.workstation}/desk-link`)
    const wrong = { displayId: studio.displayId, text: 'The greys look green.' }
    ids.report = (await studio.admin.post<{ id: number }>(`/desk/${desk.token}/wrong`, wrong)).id
    const beside = await studio.admin.post<{ id: number }>('/displays', {
      ...(routeFacts['POST /displays'].example as object),
      ...{ workstationId: studio.ids.workstation, limitsId: studio.ids.limits },
    })
    ids.set = (
      await studio.admin.post<{ id: number }>('/peer-sets', {
        ...(routeFacts['POST /peer-sets'].example as object),
        members: [studio.displayId, beside.id].map((displayId) => ({ displayId, slot: 1 })),
      })
    ).id
    ids.placement = (await studio.admin.post<{ id: number }>('/placements', { runId: ids.run })).id
  })

  /** Every route of technicians, asked for what stands in another room. */
  const asks: Record<string, () => [path: string, body: unknown]> = {
    'POST /rooms/:id/light': () => [`/rooms/${studio.ids.room}/light`, { instrumentId: 1 }],
    'POST /rooms/:id/watch': () => [`/rooms/${studio.ids.room}/watch`, { instrumentId: 1 }],
    'DELETE /rooms/:id/watch': () => [`/rooms/${studio.ids.room}/watch`, undefined],
    'POST /displays/:id/name': () => [`/displays/${studio.displayId}/name`, {}],
    'POST /displays/:id/validations': () => [`/displays/${studio.displayId}/validations`, {}],
    'POST /corrections': () => ['/corrections', { displayId: studio.displayId, instrumentId: 1, referenceId: 2 }],
    'POST /runs': () => ['/runs', { displayId: studio.displayId, kind: 'check', slot: 1 }],
    'POST /runs/:id/stop': () => [`/runs/${ids.run}/stop`, {}],
    'POST /runs/:id/put-back': () => [`/runs/${ids.run}/put-back`, {}],
    'POST /runs/:id/resume': () => [`/runs/${ids.run}/resume`, {}],
    'POST /runs/:id/profile': () => [`/runs/${ids.run}/profile`, {}],
    'POST /rollout/found': () => [
      '/rollout/found',
      // The word counts that is read: the last one, not one that stands before it.
      { text: `bichroma-found 1\nhost\tnowhere\nend\nbichroma-found 1\nhost\t${live.workstation}\nend` },
    ],
    'POST /desk-reports/:id/answer': () => [`/desk-reports/${ids.report}/answer`, { answer: 'Somebody comes.' }],
    'POST /visits/:id/begin': () => [`/visits/${ids.visit}/begin`, {}],
    'POST /visits/:id/block': () => [`/visits/${ids.visit}/block`, { why: 'Nobody opens.' }],
    'POST /peer-sets/:id/runs': () => [`/peer-sets/${ids.set}/runs`, { kind: 'check' }],
    'POST /peer-sets/:id/match': () => [`/peer-sets/${ids.set}/match`, { displayId: 1, besideId: 2, u: 0, v: 0 }],
    'POST /peer-sets/:id/matches': () => [`/peer-sets/${ids.set}/matches`, {}],
    'POST /placements': () => ['/placements', { runId: ids.run }],
    'POST /placements/:id/verify': () => [`/placements/${ids.placement}/verify`, {}],
  }
  beforeEach(() => studio.admin.put(`/people/${ids.account}`, { role: 'technician', rooms: [elsewhere] }))

  const names = Object.entries(routeRoles)
    .filter(([, role]) => role === 'technician')
    .map(([name]) => name)

  test.each(names)('%s is refused in another room, and what is nowhere is not there', async (name) => {
    const [path, body] = asks[name]()
    await expect(limited.post(path, body)).rejects.toThrow(
      'Sedge Room is not among the rooms that your account is limited to',
    )
    // A token is limited as its maker is.
    const { token } = await make({ role: 'technician' }, limited)
    expect((await asProgram(token, 'POST', path, body)).status).toBe(403)
    const nowhere = path.replace(/\/\d+/, '/4711')
    if (nowhere !== path) expect((await limited.raw('POST', nowhere, body)).status).not.toBe(403)
  })

  test('everything is seen; in the own room all is done; and the limit is lifted', async () => {
    expect((await limited.list('/displays')).length).toBe(2)
    expect((await limited.raw('POST', `/rooms/${elsewhere}/light`, { instrumentId: 4711 })).status).not.toBe(403)
    expect((await limited.raw('POST', '/runs', { displayId: 'x'.repeat(100) })).status).toBe(400)
    await studio.admin.put(`/people/${ids.account}`, { rooms: [elsewhere, studio.ids.room] })
    await limited.post(`/placements/${ids.placement}/verify`)
    await studio.admin.put(`/people/${ids.account}`, { rooms: [elsewhere] })
    await expect(limited.post(`/placements/${ids.placement}/verify`)).rejects.toThrow('Sedge Room')
    await studio.admin.put(`/people/${ids.account}`, { rooms: null })
    await limited.post(`/placements/${ids.placement}/verify`)
  })

  test('only technicians are limited, to rooms that are there', async () => {
    const put = (body: unknown) => studio.admin.put(`/people/${ids.account}`, body)
    await expect(put({ rooms: [4711] })).rejects.toThrow('names one that is not there')
    await expect(put({ role: 'viewer', rooms: [elsewhere] })).rejects.toThrow('Only technicians')
    await put({ rooms: [elsewhere] })
    await put({ role: 'administrator' })
    const told = (await studio.admin.get<{ id: number; rooms: unknown }[]>('/people')).find((p) => p.id === ids.account)
    expect(told?.rooms).toBeNull()
    await expect(put({ rooms: [elsewhere] })).rejects.toThrow('Only technicians')
  })
})
