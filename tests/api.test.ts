import { roleCovers, roles, type Problem, type Role } from '@bichroma/contract'
import { routeRoles } from '../packages/server/src/http/routeRoles'
import { uniformFrom } from '@bichroma/core/basics'
import { ApiClient } from '../scripts/apiClient'
import { HeldClient } from './heldClient'
import { demoAims, demoLimits } from '../scripts/demoStudio'
import { live, Studio } from './studio'

let studio: Studio
const clients = {} as Record<Role, ApiClient>
beforeAll(async () => {
  studio = await Studio.open()
  for (const role of roles) clients[role] = await studio.as(role)
})
afterAll(() => studio.close())

interface Layer {
  route?: { path: string; methods: Record<string, boolean> }
}

test('every route that is up stands in the role table, and every row of the table is up', () => {
  const up = (studio.server.api.router.stack as unknown as Layer[]).flatMap(({ route }) =>
    route ? Object.keys(route.methods).map((m) => `${m.toUpperCase()} ${route.path}`) : [],
  )
  expect(up.sort()).toEqual(Object.keys(routeRoles).sort())
})

test('every answer says what a page may do, and no answer of the API is kept on the way', async () => {
  const { headers } = await clients.viewer.raw('GET', '/displays')
  expect(headers.get('content-security-policy')).toContain("script-src 'self';")
  expect(headers.get('x-frame-options')).toBe('DENY')
  expect(headers.get('x-content-type-options')).toBe('nosniff')
  expect(headers.get('cache-control')).toBe('no-store')
  expect(headers.get('x-powered-by')).toBeNull()
})

describe('roles', () => {
  const rows = Object.entries(routeRoles).filter(
    // One's own sessions end here; tests/people.test.ts asks for them.
    ([name, needs]) => name !== 'GET /events' && !name.includes('/session') && needs !== 'anyone',
  ) as [string, Role][]

  test.each(rows)('%s needs %s', async (name, needs) => {
    const [method, pattern] = name.split(' ')
    const path = pattern.replace(':id', '4711')
    const body = method === 'GET' ? undefined : {}
    const stranger = await new HeldClient(studio.server.url).raw(method, path, body)
    expect(stranger.status).toBe(401)
    for (const role of roles) {
      const { status } = await clients[role].raw(method, path, body)
      if (roleCovers(role, needs)) expect([200, 201, 400, 404, 409]).toContain(status)
      else expect(status).toBe(403)
    }
  })

  test('a viewer who starts a run is told which role it needs', async () => {
    await expect(clients.viewer.post('/runs', {})).rejects.toThrow(
      'This needs the role technician; your account has the role viewer. Ask an administrator.',
    )
  })
})

describe('signing in', () => {
  test('a wrong password and an unknown login get the same sentence', async () => {
    const client = new HeldClient(studio.server.url)
    await expect(client.signIn('administrator', 'wrong')).rejects.toThrow('The login or the password is not right.')
    await expect(client.signIn('nobody', 'wrong')).rejects.toThrow('The login or the password is not right.')
    await expect(client.list('/displays')).rejects.toThrow('You are not signed in')
  })

  test('signing out ends the session, the old cookie included', async () => {
    const client = await studio.as('viewer')
    const copy = Object.assign(new HeldClient(studio.server.url), {
      cookie: client.cookie,
    })
    expect((await client.get<{ account: { login: string } }>('/session')).account.login).toBe('viewer')
    await client.ask('DELETE', '/session')
    await expect(copy.list('/displays')).rejects.toThrow('You are not signed in')
  })

  test('many wrong passwords are slowed down @long', async () => {
    // Somebody whom no other test signs in.
    await studio.server.access.addAccount('guessed', 'Guessed', 'viewer', 'not-that-word')
    const client = new HeldClient(studio.server.url)
    const statuses: number[] = []
    for (let i = 0; i < 12; i++)
      statuses.push((await client.raw('POST', '/session', { login: 'guessed', password: 'x' })).status)
    expect(statuses[statuses.length - 1]).toBe(429)
  })
})

test('the stream of events brings every reading of a run @long', async () => {
  const cookie = clients.viewer.cookie
  const abort = new AbortController()
  const response = await fetch(`${studio.server.url}/api/events`, { headers: { cookie }, signal: abort.signal })
  expect(response.headers.get('content-type')).toMatch(/^text\/event-stream/)
  const seen: number[] = []
  const listening = (async () => {
    let text = ''
    for await (const chunk of response.body!) {
      text += Buffer.from(chunk).toString()
      const lines = text.split('\n')
      text = lines.pop()!
      for (const line of lines.filter((l) => l.startsWith('data: '))) {
        const event = JSON.parse(line.slice(6))
        if (event.type === 'run' && event.run.latest) seen.push(event.run.latest.seq)
      }
    }
  })().catch(() => {})
  const run = await studio.finish(await studio.start())
  await new Promise((resolve) => setImmediate(resolve))
  abort.abort()
  await listening
  expect(run.state).toBe('done')
  expect(seen).toEqual(run.log.map((_, i) => i))
  expect(studio.bench.display(live.serial).memory.slots[0].label).toBe('Atlas web')
})

describe('bad input', () => {
  const aim = { name: 'Test', aim: demoAims['Atlas web'] }
  test.each([
    [
      'an aim outside the locus',
      'POST',
      '/aims',
      { ...aim, aim: { ...aim.aim, white: { kind: 'xy', x: 0.8, y: 0.15 } } },
      'aim.white',
      'spectral locus',
    ],
    [
      'an aim without light',
      'POST',
      '/aims',
      { ...aim, aim: { ...aim.aim, luminance: 0 } },
      'aim.luminance',
      'above 0',
    ],
    ['an aim without a name', 'POST', '/aims', { aim: aim.aim }, 'name', 'missing'],
    [
      'edges the wrong way round',
      'POST',
      '/limits',
      { name: 'L', limits: { rules: [{ metric: 'worstDeltaE', near: 3, hard: 2 }] } },
      'limits.rules[0].near',
      'larger than its hard edge',
    ],
    [
      'a display on no workstation',
      'POST',
      '/displays',
      {
        name: 'D',
        maker: 'M',
        model: 'X',
        serial: 'S',
        firmware: '1',
        panelKind: 'oled',
        slots: 2,
        checkEveryDays: 7,
        workstationId: 99,
        limitsId: 1,
      },
      'workstationId',
      '“Workstation” names none',
    ],
    ['a slot of a half', 'POST', '/runs', { displayId: 1, kind: 'full', slot: 1.5, aimId: 1 }, 'slot', 'whole number'],
  ])('%s', async (_, method, path, body, field, words) => {
    const response = await studio.admin.raw(method, path, body)
    const problem = (await response.json()) as Problem
    expect(response.status).toBe(400)
    expect(response.headers.get('content-type')).toContain('application/problem+json')
    expect(problem).toMatchObject({ type: '/problems/invalid-input', status: 400, field })
    expect(problem.detail).toContain(words)
  })

  test('a name that is taken, and limits in use, are refused and what is stored stays', async () => {
    const before = await studio.admin.get('/aims')
    await expect(studio.admin.post('/aims', { ...aim, name: 'Atlas web' })).rejects.toThrow(
      'Another aim has this name already',
    )
    await expect(studio.admin.ask('DELETE', `/limits/${studio.ids.limits}`)).rejects.toThrow(
      'Sedge 2 is judged by these limits',
    )
    await expect(studio.admin.put('/aims/1', { ...aim, aim: { ...aim.aim, luminance: -1 } })).rejects.toThrow('above 0')
    expect(await studio.admin.get('/aims')).toEqual(before)
  })

  test('an aim is added, changed and deleted; a run that used it keeps its own copy', async () => {
    const { id } = await studio.admin.post<{ id: number }>('/aims', {
      name: 'Passing',
      aim: { ...aim.aim, luminance: 101 },
    })
    await studio.admin.put(`/aims/${id}`, { name: 'Passing', aim: { ...aim.aim, luminance: 102 } })
    expect(await studio.admin.get('/aims')).toContainEqual(
      expect.objectContaining({ id, aim: { ...aim.aim, luminance: 102 } }),
    )
    const run = await studio.start({ aimId: id, slot: 3 })
    await studio.admin.ask('DELETE', `/aims/${id}`)
    await studio.admin.post(`/runs/${run}/stop`)
    expect((await studio.finish(run)).aim.luminance).toBe(102)
    await expect(studio.admin.ask('DELETE', `/aims/${id}`)).rejects.toThrow(`no aim ${id}`)
  })

  test.each([
    ['PQ', { toneResponse: { kind: 'PQ' } }, 'A full run cannot make PQ yet.'],
    ['HLG', { toneResponse: { kind: 'HLG' } }, 'A full run cannot make HLG yet.'],
  ])('an aim with %s is kept, and a full run says that it cannot make it yet', async (name, over, sentence) => {
    const wanted = { name: `Aim with ${name}`, aim: { ...aim.aim, ...over } }
    const { id } = await studio.admin.post<{ id: number }>('/aims', wanted)
    expect(await studio.admin.get('/aims')).toContainEqual(expect.objectContaining({ id, ...wanted }))
    await expect(studio.start({ aimId: id, slot: 3 })).rejects.toThrow(sentence)
  })

  test.each([
    ['a black below zero', { black: { kind: 'fixed', luminance: -1 } }, 'aim.black.luminance', '0 or more'],
    ['a black of no kind', { black: { kind: 'jet' } }, 'aim.black.kind', 'must be one of: panel, relative, fixed'],
    [
      'a curve that falls',
      {
        toneResponse: {
          kind: 'curve',
          points: [
            [0, 0.5],
            [1, 0.2],
          ],
        },
      },
      'aim.toneResponse.points',
      'pairs of signal and light',
    ],
  ])('%s is refused at its field', async (_, over, field, words) => {
    const response = await studio.admin.raw('POST', '/aims', { name: 'N', aim: { ...aim.aim, ...over } })
    const problem = (await response.json()) as Problem
    expect(problem).toMatchObject({ status: 400, field })
    expect(problem.detail).toContain(words)
  })

  test('limits of contrast ask for the least: the near edge must not be the smaller', async () => {
    const rule = { metric: 'contrast', near: 300, hard: 500 }
    const response = await studio.admin.raw('POST', '/limits', { name: 'C', limits: { rules: [rule] } })
    const problem = (await response.json()) as Problem
    expect(problem).toMatchObject({ status: 400, field: 'limits.rules[0].near' })
    expect(problem.detail).toContain('must not be smaller than its hard edge')
    await studio.admin.post('/limits', { name: 'C', limits: { rules: [{ ...rule, near: 500, hard: 300 }] } })
  })

  test('nothing that anybody sends gives a 500 @long', async () => {
    // Some of it takes things away, sessions too.
    const other = await Studio.open()
    const { admin } = other
    const uniform = uniformFrom(5)
    const pick = <T>(list: readonly T[]): T => list[Math.floor(uniform() * list.length)]
    const junk = () =>
      pick<unknown>([
        null,
        true,
        -1,
        1e308,
        NaN,
        '',
        'x'.repeat(5000),
        '\u0000',
        [],
        [[[]]],
        {},
        { kind: 'xy' },
        { kind: '__proto__' },
        { $gt: '' },
        { toString: 1 },
        [null],
        '1',
        0.5,
        2 ** 53,
      ])
    const fields = [
      'name',
      'aim',
      'limits',
      'displayId',
      'slot',
      'kind',
      'aimId',
      'runId',
      'rules',
      'white',
      'login',
      'password',
      'letGo',
      'overwrites',
      '__proto__',
      'id',
    ]
    const ids = [
      '1',
      '0',
      '-1',
      '1e9',
      '99999999999999999999',
      'abc',
      '%00',
      '%E0%A4%A',
      "1'%20OR%201=1",
      '..%2F..',
      '4711',
    ]
    const names = Object.keys(routeRoles).filter(
      (n) => n !== 'GET /events' && n !== 'DELETE /session' && n !== 'POST /session',
    )
    const statuses = new Map<number, number>()
    for (let i = 0; i < 600; i++) {
      const [method, pattern] = pick(names).split(' ')
      const valid = {
        name: `n${i}`,
        aim: structuredClone(demoAims['Atlas web']),
        limits: structuredClone(demoLimits.Everyday),
        displayId: 1,
        kind: 'full',
        slot: 1,
        aimId: 1,
        roomId: 1,
      }
      const body =
        method === 'GET'
          ? undefined
          : uniform() < 0.2
            ? junk()
            : { ...(uniform() < 0.6 ? valid : {}), [pick(fields)]: junk(), [pick(fields)]: junk() }
      const response = await admin.raw(method, pattern.replace(':id', pick(ids)), body)
      statuses.set(response.status, (statuses.get(response.status) ?? 0) + 1)
      if (response.status >= 500)
        throw new Error(`${method} ${pattern} gave ${response.status} for ${JSON.stringify(body)?.slice(0, 300)}`)
      await response.arrayBuffer()
    }
    expect(statuses.get(400)! + statuses.get(404)!).toBeGreaterThan(200)
    await other.close()
  })

  test.each([
    ['text that is no JSON', '{"name":', 'application/json', 400],
    ['a body of another type', 'name=x', 'application/x-www-form-urlencoded', 400],
    ['a body too large', JSON.stringify({ name: 'x'.repeat(400_000) }), 'application/json', 413],
  ])('%s', async (_, body, type, status) => {
    const cookie = studio.admin.cookie
    const response = await fetch(`${studio.server.url}/api/aims`, {
      method: 'POST',
      headers: { cookie, 'content-type': type },
      body,
    })
    expect(response.status).toBe(status)
    expect(((await response.json()) as Problem).detail).toMatch(/[.]$/)
  })

  test('another site’s page cannot act in a signed-in person’s name', async () => {
    const cookie = studio.admin.cookie
    const response = await fetch(`${studio.server.url}/api/rooms`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json', origin: 'https://elsewhere.example' },
      body: JSON.stringify({ name: 'Stolen' }),
    })
    expect(response.status).toBe(403)
  })
})
