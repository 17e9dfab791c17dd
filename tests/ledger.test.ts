import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { DisplayDetail, LedgerEntry, LedgerProof, Page, RunDetail } from '@bichroma/contract'
import { proveLedger } from '../packages/server/src/ledger/ledger'
import { routeRoles } from '../packages/server/src/http/routeRoles'
import { runCli } from '../packages/cli/src/cli'
import { demoAims, demoLimits } from '../scripts/demoStudio'
import { live, Studio } from './studio'

let studio: Studio
beforeAll(async () => {
  studio = await Studio.open()
})
afterAll(() => studio.close())

const entries = (query = '') => studio.admin.get<Page<LedgerEntry>>(`/ledger?limit=200${query}`)
const newest = async () => (await entries()).items[0]
const count = async () => (await entries()).total

/** Routes that change nothing which is kept, or only hand a question to somebody else. */
const tellsNothing = new Set(['POST /inventory/plan', 'POST /displays/:id/name', 'POST /session/second-factor'])

describe('each route that changes something', () => {
  let check: number
  let full: number
  const png = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  )
  const sendLogo = async () => {
    const headers = { cookie: studio.admin.cookie, 'content-type': 'image/png' }
    const response = await fetch(`${studio.server.url}/api/settings/logo`, { method: 'PUT', headers, body: png })
    if (!response.ok) throw new Error(await response.text())
  }
  const aim = { name: 'Ledger aim', aim: demoAims['Atlas web'] }
  const limits = { name: 'Ledger limits', limits: demoLimits['Plate work'] }
  const made: Record<string, number> = {}
  const make = async (what: string, path: string, body: unknown) => {
    made[what] = (await studio.admin.post<{ id: number }>(path, body)).id
  }
  const file = (readAt: number) => ({
    slot: 1,
    aimId: studio.aimIds['Atlas web'],
    fileName: 'elsewhere.csv',
    readAt,
    instrument: 'Elsewhere',
    text: 'RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,114,120,131\n0,0,0,0.1,0.1,0.1\n1,0,0,50,26,2\n0,1,0,43,86,14\n0,0,1,21,8,114\n0.5,0.5,0.5,24.4,25.7,28\n',
  })

  /** For each route: what is sent, and what the ledger tells of it. */
  const changes: readonly (readonly [route: string, act: string, thing: string, send: () => Promise<unknown>])[] = [
    ['POST /rooms', 'added', 'room', () => make('room', '/rooms', { name: 'Loft' })],
    [
      'PUT /rooms/:id',
      'changed',
      'room',
      () => studio.admin.put(`/rooms/${made.room}`, { name: 'Attic', building: 'Mill' }),
    ],
    [
      'POST /rooms/:id/light',
      'measured',
      'room',
      async () => {
        studio.bench.instrument(live.instrument).seat = { place: { x: 0, y: 0 }, tilt: 0, optics: 'diffuser' }
        const [instrument] = await studio.admin.get<{ id: number }[]>('/instruments')
        await studio.admin.post(`/rooms/${studio.ids.room}/light`, { instrumentId: instrument.id })
        studio.bench.instrument(live.instrument).seat = { place: { x: 0, y: 0 }, tilt: 0, optics: 'open' }
      },
    ],
    [
      'POST /rooms/:id/watch',
      'changed',
      'room',
      async () => {
        const [instrument] = await studio.admin.get<{ id: number }[]>('/instruments')
        await studio.admin.post(`/rooms/${studio.ids.room}/watch`, { instrumentId: instrument.id })
      },
    ],
    ['DELETE /rooms/:id/watch', 'changed', 'room', () => studio.admin.delete(`/rooms/${studio.ids.room}/watch`)],
    [
      'POST /workstations',
      'added',
      'workstation',
      () =>
        make('workstation', '/workstations', {
          name: 'loft-01',
          operatingSystem: 'linux',
          systemVersion: '12',
          roomId: made.room,
        }),
    ],
    [
      'POST /workstations/:id/courier-key',
      'changed',
      'workstation',
      () => studio.admin.post(`/workstations/${made.workstation}/courier-key`),
    ],
    [
      'POST /displays',
      'added',
      'display',
      () =>
        make('display', '/displays', {
          name: 'Loft 1',
          maker: 'Quillon',
          model: 'Q27',
          serial: 'QL-27-90001',
          firmware: '3.1',
          slots: 3,
          panelKind: 'wide-gamut-led',
          workstationId: made.workstation,
          limitsId: studio.ids.limits,
          checkEveryDays: 28,
        }),
    ],
    [
      'PUT /displays/:id',
      'changed',
      'display',
      () =>
        studio.admin.put(`/displays/${made.display}`, {
          name: 'Loft 2',
          limitsId: studio.ids.limits,
          checkEveryDays: 14,
        }),
    ],
    [
      'POST /displays/:id/move',
      'moved',
      'display',
      () => studio.admin.post(`/displays/${made.display}/move`, { workstationId: studio.ids.workstation }),
    ],
    [
      'POST /displays/change',
      'changed',
      'display',
      () => studio.admin.post('/displays/change', { ids: [made.display], checkEveryDays: 5 }),
    ],
    [
      'POST /displays/:id/keep',
      'stored',
      'display',
      () => studio.admin.post(`/displays/${made.display}/keep`, { kept: 'stored' }),
    ],
    [
      'POST /displays/:id/keep',
      'returned',
      'display',
      () => studio.admin.post(`/displays/${made.display}/keep`, { kept: 'in use', workstationId: made.workstation }),
    ],
    [
      'POST /displays/swap',
      'swapped',
      'display',
      () => studio.admin.post('/displays/swap', { first: made.display, second: studio.displayId }),
    ],
    [
      'POST /displays/swap',
      'swapped',
      'display',
      () => studio.admin.post('/displays/swap', { first: made.display, second: studio.displayId }),
    ],
    [
      'POST /displays/:id/replace',
      'replaced',
      'display',
      () =>
        make('replacement', `/displays/${made.display}/replace`, {
          ...{ maker: 'Quillon', model: 'Q27', serial: 'QL-27-90002', firmware: '3.2' },
          ...{ panelKind: 'wide-gamut-led', slots: 3, old: 'retired' },
        }),
    ],
    [
      'POST /inventory',
      'changed',
      'display',
      async () => {
        const text = 'serial,name\nQL-27-90002,Loft 3\n'
        const { digest } = await studio.admin.post<{ digest: string }>('/inventory/plan', { text })
        await studio.admin.post('/inventory', { text, digest })
      },
    ],
    [
      'PUT /workstations/:id',
      'changed',
      'workstation',
      () =>
        studio.admin.put(`/workstations/${made.workstation}`, {
          ...{ name: 'loft-02', operatingSystem: 'linux', systemVersion: '12', roomId: made.room },
        }),
    ],
    [
      'DELETE /workstations/:id',
      'retired',
      'workstation',
      async () => {
        await studio.admin.post(`/displays/${made.replacement}/keep`, { kept: 'retired' })
        const before = await count()
        await studio.admin.delete(`/workstations/${made.workstation}`)
        expect(await count()).toBe(before + 1)
      },
    ],
    [
      'PUT /buildings',
      'changed',
      'room',
      async () => studio.admin.put('/buildings', { from: 'Mill', to: 'Water mill' }),
    ],
    ['DELETE /rooms/:id', 'retired', 'room', () => studio.admin.delete(`/rooms/${made.room}`)],
    [
      'PUT /instruments/:id',
      'stored',
      'instrument',
      async () => {
        const spare = (await studio.admin.get<{ id: number; workstationId: number | null }[]>('/instruments'))[0]
        made.instrument = spare.id
        await studio.admin.put(`/instruments/${spare.id}`, { kept: 'stored' })
      },
    ],
    [
      'PUT /instruments/:id',
      'returned',
      'instrument',
      () => studio.admin.put(`/instruments/${made.instrument}`, { kept: 'in use' }),
    ],
    ['POST /aims', 'added', 'aim', () => make('aim', '/aims', aim)],
    ['PUT /aims/:id', 'changed', 'aim', () => studio.admin.put(`/aims/${made.aim}`, { ...aim, name: 'Renamed' })],
    ['DELETE /aims/:id', 'removed', 'aim', () => studio.admin.delete(`/aims/${made.aim}`)],
    ['POST /limits', 'added', 'limits', () => make('limits', '/limits', limits)],
    [
      'PUT /limits/:id',
      'changed',
      'limits',
      () => studio.admin.put(`/limits/${made.limits}`, { ...limits, name: 'Other' }),
    ],
    ['DELETE /limits/:id', 'removed', 'limits', () => studio.admin.delete(`/limits/${made.limits}`)],
    [
      'PUT /settings',
      'changed',
      'settings',
      async () =>
        studio.admin.put('/settings', {
          ...(await studio.admin.get<object>('/settings')),
          studioName: 'Fen & Lantern',
        }),
    ],
    ['PUT /settings/logo', 'changed', 'settings', sendLogo],
    ['DELETE /settings/logo', 'removed', 'settings', () => studio.admin.delete('/settings/logo')],
    [
      'POST /displays/:id/validations',
      'imported',
      'run',
      () => studio.admin.post(`/displays/${studio.displayId}/validations`, file(Math.floor(studio.clock.now()) - 1000)),
    ],
    [
      'POST /people',
      'invited',
      'account',
      () => make('person', '/people', { login: 'ines', name: 'Ines Moor', role: 'viewer' }),
    ],
    ['PUT /people/:id', 'changed', 'account', () => studio.admin.put(`/people/${made.person}`, { role: 'technician' })],
    ['POST /people/:id/reset', 'reset', 'account', () => studio.admin.post(`/people/${made.person}/reset`)],
    [
      'DELETE /people/:id/second-factor',
      'changed',
      'account',
      () => studio.admin.delete(`/people/${made.person}/second-factor`),
    ],
    ['POST /tokens', 'made', 'token', () => make('token', '/tokens', { name: 'nightly', role: 'viewer', days: 7 })],
    ['DELETE /tokens/:id', 'withdrew', 'token', () => studio.admin.delete(`/tokens/${made.token}`)],
  ]

  /** What each of them left, asked one after another as they stand: one prepares what the next changes. */
  const left = new Map<() => Promise<unknown>, { fault: unknown; entries: number; newest: LedgerEntry }>()
  beforeAll(async () => {
    for (const [, , , send] of changes) {
      const before = await count()
      const fault: unknown = await send().then(
        () => null,
        (error: unknown) => error,
      )
      left.set(send, { fault, entries: (await count()) - before, newest: await newest() })
    }
  })

  test.each(changes)('%s leaves one entry: %s, %s', (route, act, thing, send) => {
    const { fault, entries, newest } = left.get(send)!
    expect(fault).toBeNull()
    // One is prepared by another, which is counted there.
    expect(entries).toBe(route === 'DELETE /workstations/:id' ? 2 : 1)
    expect(newest).toMatchObject({ act, thing, by: 'administrator' })
  })

  test('runs: started, proved, rebuilt, placed, verified, put back, withdrawn, stopped, resumed @long', async () => {
    full = await studio.start({ sampling: 'brief' })
    expect(await newest()).toMatchObject({ act: 'started', thing: 'run', thingId: full })
    await studio.finish(full)
    const proved = await newest()
    const run: RunDetail = await studio.run(full)
    expect(proved).toMatchObject({ act: 'proved', by: 'Bichroma', accountId: null, thingId: full })
    expect(proved.evidence).toMatchObject({
      display: studio.displayId,
      verdict: run.judged!.verdict,
      profile: run.profileHash,
      instrument: run.instrument,
    })
    await studio.admin.post(`/runs/${full}/profile`, {
      profile: { version: 2, kind: 'matrix', black: 'measured', readings: 'prove' },
    })
    expect(await newest()).toMatchObject({ act: 'rebuilt', thingId: full, changes: [{ field: 'profileHash' }] })
    const { id: placement } = await studio.admin.post<{ id: number }>('/placements', { runId: full })
    expect(await newest()).toMatchObject({ act: 'placed', thing: 'placement', thingId: placement })
    await studio.admin.post(`/placements/${placement}/verify`)
    expect(await newest()).toMatchObject({ act: 'verified', thing: 'placement', thingId: placement })
    check = await studio.start({ kind: 'check' })
    await studio.finish(check)
    await studio.admin.post(`/runs/${check}/withdraw`, { reason: 'The lamp was on.' })
    expect(await newest()).toMatchObject({ act: 'withdrew', thingId: check, why: 'The lamp was on.' })
    await studio.admin.post(`/runs/${full}/put-back`)
    expect(await newest()).toMatchObject({ act: 'put back', thingId: full })
    await studio.server.engine.ended(full)
    const stopped = await studio.start({ sampling: 'brief' })
    await studio.admin.post(`/runs/${stopped}/stop`)
    await studio.server.engine.ended(stopped)
    expect(await newest()).toMatchObject({ act: 'stopped', thing: 'run', thingId: stopped, by: 'administrator' })
  })

  test('no route is forgotten', () => {
    const told = new Set([...changes.map(([route]) => route), ...tellsNothing])
    const elsewhere = [
      ...[
        'POST /runs',
        'POST /runs/:id/stop',
        'POST /runs/:id/put-back',
        'POST /runs/:id/profile',
        'POST /runs/:id/withdraw',
      ],
      ...['POST /placements', 'POST /placements/:id/verify'],
      // tests/rollout.test.ts and tests/handRollout.test.ts hold these; a preview changes nothing.
      ...['PUT /policies', 'POST /waves', 'POST /waves/:id/pause', 'POST /waves/:id/go-on', 'POST /waves/:id/word'],
      ...['POST /waves/:id/undo', 'POST /waves/preview', 'POST /rollout/files', 'POST /rollout/found'],
      ...['POST /displays/:id/links', 'DELETE /displays/:id/links/:workstationId'],
      // tests/links.test.ts.
      ...['POST /links', 'DELETE /links/:id', 'POST /workstations/:id/desk-link', 'POST /desk/:token/answer'],
      ...['POST /desk/:token/wrong', 'POST /desk-reports/:id/answer'],
      // tests/roomLight.test.ts.
      'PUT /rooms/:id/light/level',
      // tests/peers.test.ts.
      ...['POST /peer-sets', 'PUT /peer-sets/:id', 'DELETE /peer-sets/:id', 'POST /peer-sets/:id/aim'],
      // A patch that is shown changes nothing that is kept.
      'POST /peer-sets/:id/match',
      ...['POST /peer-sets/:id/matches', 'DELETE /peer-matches/:id'],
      ...['POST /peer-sets/:id/runs', 'POST /rings', 'POST /rings/:id/stop'],
      // tests/offsets.test.ts; what is only weighed changes nothing.
      ...['POST /instrument-offsets', 'POST /instrument-offsets/:id/take', 'POST /instrument-offsets/:id/end'],
      // tests/due.test.ts.
      ...['PUT /due-rules', 'POST /due-days', 'DELETE /due-days/:id', 'PUT /displays/:id/rest'],
      // tests/rounds.test.ts.
      ...['POST /rounds/plan', 'POST /rounds/told', 'PUT /visits/:id', 'DELETE /visits/:id/pin'],
      ...['POST /visits/:id/begin', 'POST /visits/:id/block', 'POST /visits/:id/drop'],
      ...['PUT /rounds/settings', 'PUT /rounds/ways', 'PUT /rounds/times'],
      ...['PUT /rounds/people/:id', 'PUT /rounds/instruments/:id'],
      // tests/people.test.ts, tests/backups.test.ts and tests/kinds.test.ts hold these.
      ...[
        'POST /session',
        'DELETE /session',
        'DELETE /session/others',
        'PUT /session/password',
        'POST /first-visit',
        'POST /accept',
      ],
      // tests/secondFactor.test.ts.
      ...['PUT /session/second-factor', 'POST /session/second-factor/codes', 'POST /session/second-factor/remove'],
      ...['POST /runs/:id/resume', 'POST /corrections', 'POST /backups'],
    ]
    const changing = Object.keys(routeRoles).filter((name) => !name.startsWith('GET '))
    expect(changing.filter((name) => !told.has(name) && !elsewhere.includes(name))).toEqual([])
  })
})

test('what is refused leaves no entry, and an entry tells from what to what', async () => {
  const before = await count()
  await expect(studio.admin.post('/rooms', { name: 'Sedge Room' })).rejects.toThrow('Another room has this name')
  await expect(studio.admin.post('/runs', {})).rejects.toThrow()
  expect(await count()).toBe(before)
  const { id } = await studio.admin.get<DisplayDetail>(`/displays/${studio.displayId}`)
  await studio.admin.put(`/displays/${id}`, { name: 'Sedge Two', limitsId: studio.ids.limits, checkEveryDays: 7 })
  expect((await newest()).changes).toEqual(
    expect.arrayContaining([
      { field: 'name', from: 'Sedge 2', to: 'Sedge Two' },
      { field: 'checkEveryDays', from: 28, to: 7 },
    ]),
  )
})

test('filtered by thing, person, day and words; a thing shows its own part to everybody', async () => {
  const { id } = await studio.admin.post<{ id: number }>('/rooms', { name: 'Barn' })
  await studio.admin.put(`/rooms/${id}`, { name: 'Granary' })
  expect((await entries('&thing=room')).items.every((e) => e.thing === 'room')).toBe(true)
  expect((await entries('&by=Bichroma')).items.every((e) => e.accountId === null)).toBe(true)
  expect((await entries('&search=granary%20changed')).items).toMatchObject([{ name: 'Granary', act: 'changed' }])
  expect((await entries('&from=2001-01-01&to=2001-12-31')).total).toBe(0)
  const viewer = await studio.as('viewer')
  const own = await viewer.get<Page<LedgerEntry>>(`/ledger/display/${studio.displayId}`)
  expect(own.items.at(-1)!.act).toBe('added')
  expect(own.items.every((e) => e.thing === 'display' && e.thingId === studio.displayId)).toBe(true)
  await expect(viewer.get('/ledger')).rejects.toThrow('needs the role administrator')
  await expect(viewer.get('/ledger/account/1')).rejects.toThrow('tells of no such thing')
  await expect(entries('&from=yesterday')).rejects.toThrow('“from” must be a day')
  await expect(entries('&cursor=x')).rejects.toThrow('“cursor” must be')
  // In parts, without a gap.
  const all = (await entries()).items.map((e) => e.id)
  const parts: number[] = []
  for (let cursor = ''; ;) {
    const page = await studio.admin.get<Page<LedgerEntry>>(`/ledger?limit=7${cursor}`)
    parts.push(...page.items.map((e) => e.id))
    if (page.next === null) break
    cursor = `&cursor=${page.next}`
  }
  expect(parts).toEqual(all)
})

describe('whoever changes it is found', () => {
  const copy = () => {
    const file = join(studio.folder, `copy-${Math.random()}.sqlite`)
    const own = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
    own.exec(`VACUUM INTO '${file}'`)
    own.close()
    const store = new Database(file)
    store.exec('DROP TRIGGER ledger_unchanged; DROP TRIGGER ledger_whole')
    return store
  }

  test('it is whole, and the store itself refuses changes', async () => {
    const proof = await studio.admin.get<LedgerProof>('/ledger/proof')
    expect(proof).toMatchObject({ entries: await count(), faults: [], head: (await newest()).hash })
    const said: string[] = []
    const io = { print: (t: string) => said.push(t), complain: (t: string) => said.push(t), now: Date.now }
    expect(runCli(['ledger', 'verify', join(studio.folder, 'data', 'bichroma.sqlite')], io)).toBe(0)
    expect(said[0]).toContain(`All ${proof.entries} entries follow one another, and none was changed.`)
    expect(runCli(['ledger', 'verify', join(studio.folder, 'none.sqlite')], io)).toBe(2)
    expect(said.at(-1)).toContain('there is no such file')
    expect(runCli(['ledger', 'verify', 'package.json'], io)).toBe(2)
    expect(said.at(-1)).toContain('no store of Bichroma')
    const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
    for (const sql of [`UPDATE ledger SET by = 'x' WHERE id = 1`, 'DELETE FROM ledger WHERE id = 1'])
      expect(() => store.exec(sql)).toThrow('Entries of the ledger stay as they are.')
    store.close()
  })

  test.each([
    ['a name changed', `UPDATE ledger SET by = 'Somebody else' WHERE id = 5`, 5, 'it was changed'],
    ['a reason changed', `UPDATE ledger SET told = '{}' WHERE id = 6`, 6, 'it was changed'],
    ['an entry taken out', 'DELETE FROM ledger WHERE id = 7', 8, 'entries 7 to 7 are missing before it'],
    ['the first taken out', 'DELETE FROM ledger WHERE id = 1', 2, 'entries 1 to 1 are missing before it'],
    [
      'the last taken out',
      'DELETE FROM ledger WHERE id = (SELECT MAX(id) FROM ledger)',
      null,
      /^entries (\d+) to \1 are missing at the end$/,
    ],
    [
      'an entry put in the place of another',
      `DELETE FROM ledger WHERE id = 9;
       INSERT INTO ledger SELECT 9, at, account_id, 'Nobody', act, thing, thing_id, name, told, previous, hash FROM ledger WHERE id = 8`,
      9,
      'it does not follow the entry before it',
    ],
  ])('%s', async (_what, sql, id, what) => {
    const store = copy()
    expect((await proveLedger(store)).faults).toEqual([])
    // As a hand at the file would: some of it without telling the count of numbers.
    store.exec(sql)
    const { faults } = await proveLedger(store)
    store.close()
    const said: string[] = []
    const io = { print: (t: string) => said.push(t), complain: (t: string) => said.push(t), now: Date.now }
    expect(runCli(['ledger', 'verify', store.name, '--json'], io)).toBe(3)
    expect((JSON.parse(said.join('')) as LedgerProof).faults).toEqual(faults)
    expect(faults.length).toBeGreaterThan(0)
    if (id !== null) expect(faults[0].id).toBe(id)
    expect(faults[0].what).toMatch(what)
  })
})

test('as a file it is every entry that is asked for, oldest first, and what it says is proved by its hashes', async () => {
  const linesOf = async (query = '') =>
    (await (await studio.admin.raw('GET', `/ledger/file${query}`)).text())
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as LedgerEntry & { previous: string })
  const all = await linesOf()
  expect(all).toHaveLength(await count())
  all.forEach((e, i) => expect([e.id, e.previous]).toEqual([i + 1, i ? all[i - 1].hash : expect.any(String)]))
  const rooms = await linesOf('?thing=room')
  expect(rooms.map((e) => e.id)).toEqual(all.filter((e) => e.thing === 'room').map((e) => e.id))
  expect((await studio.admin.raw('GET', '/ledger/file?thing=moon')).status).toBe(400)
})

test('an entry and its change are one: when the entry cannot be written, nothing was changed', async () => {
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'))
  store.exec(`CREATE TRIGGER refuse BEFORE INSERT ON ledger BEGIN SELECT RAISE(ABORT, 'no'); END`)
  const rooms = async () => (await studio.admin.get<{ name: string }[]>('/rooms')).map((r) => r.name)
  const before = await rooms()
  const response = await studio.admin.raw('POST', '/rooms', { name: 'Never' })
  expect(response.ok).toBe(false)
  expect(await rooms()).toEqual(before)
  store.exec('DROP TRIGGER refuse')
  store.close()
  await studio.admin.post('/rooms', { name: 'Now' })
  expect(await rooms()).toContain('Now')
})
