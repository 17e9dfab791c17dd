import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { InventoryPlan, Problem, WavePreview } from '@bichroma/contract'
import { archivedTables, columnsOf } from '../packages/server/src/app/archive/tables'
import { routeFacts } from '../packages/server/src/app/openapi/routeFacts'
import { routeRoles, type RouteName } from '../packages/server/src/http/routeRoles'
import { FaultyDisk } from '../scripts/ordeal/faultyDriver'
import { Studio } from './studio'
import { until } from '../scripts/waiting'
import { expectSame } from './expectSame'

// Every route that changes something, on a disk that fails at the first of its writes, at the second, and so on: what was
// not acknowledged did not happen, in no table.

let studio: Studio
let disk: FaultyDisk
const empty = { room: 0, workstation: 0, limits: 0 }
beforeEach(async () => {
  disk = new FaultyDisk()
  studio = await Studio.proven({ storeDriver: disk.driver })
  const workstation = { name: 'other', operatingSystem: 'linux', systemVersion: '1', roomId: 1 }
  await studio.admin.post('/workstations', workstation)
  await studio.admin.post('/displays', {
    ...(routeFacts['POST /displays'].example as object),
    ...{ name: 'Second', serial: 'QL-27-00002', workstationId: 2 },
  })
  await studio.admin.post('/displays', {
    ...(routeFacts['POST /displays'].example as object),
    ...{ name: 'Third', serial: 'QL-27-00003', workstationId: 2 },
  })
  // What nothing is in, and nothing judged by.
  const { limits } = routeFacts['POST /limits'].example as { limits: object }
  empty.limits = (await studio.admin.post<{ id: number }>('/limits', { name: 'Unused', limits })).id
  empty.room = (await studio.admin.post<{ id: number }>('/rooms', { name: 'Empty' })).id
  empty.workstation = (
    await studio.admin.post<{ id: number }>('/workstations', { ...workstation, name: 'empty', roomId: 1 })
  ).id
  await studio.admin.post('/placements', { runId: 1 })
  await until(async () => (await studio.display()).rollout?.placement?.state === 'in force', 'the profile is in force')
  await studio.admin.post('/people', { login: 'somebody', name: 'Somebody', role: 'viewer' })
  await studio.admin.post('/tokens', { name: 'one', role: 'viewer', days: 9 })
})
afterEach(() => studio.close())

/** Trends are worked out by themselves, at a time of their own, and tried again when they fail. */
const follows = ['drift_due', 'slot_drift']
/** So is what a peer set comes to, by the set's own row. */
const followsOfSets = 'due standing worked_out_at verdict judged_at furthest moved luminance'.split(' ')

/** All that is stored, by table; when a workstation was seen last is noted beside. */
function stored(): Record<string, unknown[]> {
  const store = new Database(join(studio.folder, 'data', 'bichroma.sqlite'), { readonly: true })
  try {
    return Object.fromEntries(
      [
        ...archivedTables(store).filter((table) => !follows.includes(table)),
        'account_token',
        'api_token',
        'recovery_code',
        'display_now',
      ].map((table) => {
        const columns = columnsOf(store, table).filter(
          (c) =>
            !['courier_seen_at', 'seq', 'used_at', 'read_at'].includes(c) &&
            !(table === 'peer_set' && followsOfSets.includes(c)),
        )
        return [
          table,
          store
            .prepare(`SELECT ${columns.map((c) => `"${c}"`).join(', ')} FROM ${table} ORDER BY 1`)
            .raw()
            .all(),
        ]
      }),
    )
  } finally {
    store.close()
  }
}

/** Routes that are about a running run, a file of the system, or who is signed in: other tests hold them. */
const elsewhere = (name: string) =>
  name.startsWith('GET ') ||
  // Each turn of a wave is one change with its entry; tests/rollout.test.ts takes them.
  /waves\/:id\/|waves\/preview|:workstationId/.test(name) ||
  // tests/rounds.test.ts takes the plan and its visits, tests/roomLight.test.ts what watches a room.
  /rounds\/(plan|told)|\/visits\/|\/desk\/|desk-reports|desk-link/.test(name) ||
  / \/(session|first-visit|accept|backups|settings\/logo|inventory\/plan)/.test(name) ||
  /\/(stop|resume|put-back|name|light|level|watch|profile)$/.test(name) ||
  // tests/peers.test.ts takes what follows from a set's readings.
  /peer-sets\/:id\/(aim|runs|match)|peer-matches|instrument-offsets|\/rings/.test(name) ||
  ['POST /runs', 'POST /corrections', 'POST /displays/:id/validations'].includes(name)
const takesAway = (name: string) => Number(name.startsWith('DELETE ') || /\/(keep|replace|move|withdraw)$/.test(name))
const routes = (Object.keys(routeRoles) as RouteName[])
  .filter((name) => !elsewhere(name))
  .sort((a, b) => takesAway(a) - takesAway(b))

/** What is sent, where the example of the description names what this studio does not have. */
const bodies: Partial<Record<RouteName, () => Promise<object>>> = {
  'PUT /people/:id': async () => ({ name: 'Renamed' }),
  'PUT /workstations/:id': async () => ({ name: 'renamed', operatingSystem: 'linux', systemVersion: '1', roomId: 1 }),
  'PUT /limits/:id': async () => ({ ...(routeFacts['PUT /limits/:id'].example as object), name: 'Renamed' }),
  // The two have changed places before.
  'POST /displays/:id/move': async () => ({ workstationId: 2 }),
  'PUT /buildings': async () => {
    await studio.admin.post('/rooms', { name: 'Hall', building: 'Mill' }).catch(() => {})
    return { from: 'Mill', to: 'Water mill' }
  },
  'PUT /rounds/ways': async () => {
    for (const building of ['Barn', 'Silo'])
      await studio.admin.post('/rooms', { name: `Loft of ${building}`, building }).catch(() => {})
    return { kind: 'building', a: 'Silo', b: 'Barn', minutes: 9 }
  },
  'POST /displays/:id/links': async () => {
    const roomId = (await studio.admin.get<{ id: number }[]>('/rooms'))[0].id
    const body = { name: 'desk of links', operatingSystem: 'linux', systemVersion: '12', roomId }
    return { workstationId: (await studio.admin.post<{ id: number }>('/workstations', body)).id }
  },
  'POST /rollout/found': async () => {
    // One whose courier is not there.
    const { items } = await studio.admin.get<{ items: { id: number; name: string }[] }>('/workstations?courier=away')
    return { text: `bichroma-found 1\nhost\t${items[0].name}\nend\n` }
  },
  'POST /waves': async () => {
    await studio.admin.put('/policies', { level: 'studio', rules: { profile: 'none' } })
    const { digest } = await studio.admin.post<WavePreview>('/waves/preview', { selection: {} })
    return { ...(routeFacts['POST /waves'].example as object), digest }
  },
  'POST /inventory': async () => {
    const text = 'serial,name,days between checks\nQL-27-00002,Second renamed,3\n'
    const { digest } = await studio.admin.post<InventoryPlan>('/inventory/plan', { text })
    return { text, digest }
  },
}
/** Things of the first number that a route would take from the others. */
const numberOf: Partial<Record<RouteName, number>> = {
  'PUT /people/:id': 4,
  'POST /people/:id/reset': 4,
  'DELETE /people/:id/second-factor': 4,
  // The first link is that of the desk.
  'DELETE /links/:id': 2,
  'PUT /workstations/:id': 2,
  'POST /workstations/:id/courier-key': 2,
  'POST /displays/:id/move': 2,
  'POST /displays/:id/keep': 3,
  'POST /displays/:id/replace': 1,
}

test('an import of readings is whole or not at all, and its file is taken again @long', async () => {
  const body = { ...(routeFacts['POST /displays/:id/validations'].example as object), readAt: 1_700_000_000_000 }
  const runs = () => (stored().run as unknown[]).length
  const before = {
    runs: runs(),
    readings: stored().reading.length,
    ledger: stored().ledger.length,
    validation: stored().validation.length,
  }
  let writes = 0
  for (let at = 1; ; at++) {
    disk.arm('full', at)
    const response = await studio.admin.raw('POST', '/displays/1/validations', body)
    const failed = disk.failed.length
    disk.mend()
    // What follows from it may fail, and undoes nothing.
    if (!failed || response.status === 201) {
      expect(response.status).toBe(201)
      break
    }
    writes++
    expect(response.status).toBe(503)
    const now = stored()
    // What it had begun is not among what is judged, nor in any history.
    expect(now.run.filter((r) => (r as unknown[]).includes('importing')).length + before.runs).toBe(now.run.length)
    expect([now.ledger.length, now.validation.length]).toEqual([before.ledger, before.validation])
    expect(await studio.admin.list('/runs?of=judged')).toHaveLength(1)
  }
  expect(writes).toBeGreaterThan(3)
  expect(await studio.admin.list('/runs?of=judged')).toHaveLength(2)
})

/** What policies ask for is worked out, and waves go on, by themselves: once nothing of that is under way. */
async function settled() {
  let last = ''
  await until(async () => {
    await studio.server.schedule.look(0)
    await studio.server.rollout.idle()
    // What follows of rules may have failed with what it followed.
    await studio.server.rounds.due.apply()
    const before = last
    last = JSON.stringify(stored())
    return last === before
  }, 'nothing is under way')
}

/** Sends a route while each of its writes fails in turn, until the disk held; gives the status of that. */
async function tried(name: RouteName): Promise<number> {
  const [method, pattern] = name.split(' ')
  const number =
    name === 'DELETE /rooms/:id'
      ? empty.room
      : name === 'DELETE /workstations/:id'
        ? empty.workstation
        : name === 'DELETE /limits/:id'
          ? empty.limits
          : (numberOf[name] ?? 1)
  const path = pattern.replace(':id', String(number))
  const body = (await bodies[name]?.()) ?? routeFacts[name].example ?? {}
  await settled()
  const before = stored()
  for (let at = 1; ; at++) {
    expect(at).toBeLessThan(60)
    disk.arm('io', at)
    const response = await studio.admin.raw(method, path, body)
    disk.mend()
    const { status } = response
    // What follows from a thing (forecasts, news) may fail, and undoes nothing.
    if (disk.failed.length && status !== 200 && status !== 201) {
      const { detail } = (await response.json()) as Problem
      expect([at, status, detail]).toEqual([at, 503, expect.stringContaining('disk of the server failed')])
      await settled()
      expectSame(stored(), before)
      continue
    }
    // The disk held: what could be done is done, what could not was refused.
    expect([200, 201, 404, 409]).toContain(status)
    if (status < 300 && at > 1) expect(stored()).not.toEqual(before)
    return status
  }
}

test('every route is whole or not at all, and is carried out in the end @long', async () => {
  const refused: [RouteName, number][] = []
  for (const name of routes)
    try {
      const status = await tried(name)
      if (status > 300) refused.push([name, status])
    } catch (error) {
      throw new Error(`${name}: ${(error as Error).message}`, { cause: error })
    }
  expect(refused).toEqual([])
})
