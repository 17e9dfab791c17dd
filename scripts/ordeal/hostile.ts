import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Role } from '@bichroma/contract'
import { exampleDisplay, exampleHost } from '@bichroma/contract/test'
import { uniformFrom } from '@bichroma/core/basics'
import { startServer } from '@bichroma/server'
import { ApiClient } from '../apiClient'
import { demoAims, demoLimits } from '../demoStudio'
import { hostileCourier, type CourierTally } from './hostileCourier'
import { hostileHttp, type HttpTally } from './hostileHttp'
import { ServerChild } from './serverChild'

export interface HostileOutcome {
  readonly http: HttpTally
  readonly courier: CourierTally
  /** How the server ended, if it did. */
  readonly exited: ServerChild['exited']
  /** Resident memory after a fifth of it all and after the rest, MB. */
  readonly residentMb: readonly [number, number]
  /** What no longer worked for honest people afterwards. */
  readonly broken: readonly string[]
  readonly log: string
}

const roles: readonly Role[] = ['viewer', 'technician', 'administrator']

/** Makes a studio with accounts of each role, a display, a validation and an enrolled workstation. */
async function prepare(dataDir: string): Promise<string> {
  const server = await startServer({ dataDir })
  for (const role of roles) await server.access.addAccount(role, role, role, `${role}-word`)
  const admin = new ApiClient(server.url)
  await admin.signIn('administrator', 'administrator-word')
  await admin.post('/aims', { name: 'Atlas web', aim: demoAims['Atlas web'] })
  await admin.post('/limits', { name: 'Plate work', limits: demoLimits['Plate work'] })
  await admin.post('/rooms', { name: 'Sedge Room' })
  const { name, operatingSystem, systemVersion } = exampleHost
  await admin.post('/workstations', { name, operatingSystem, systemVersion, roomId: 1 })
  const { serial, maker, model, firmware, panelKind, slots } = exampleDisplay
  const care = { workstationId: 1, limitsId: 1, checkEveryDays: 28 }
  await admin.post('/displays', { name: 'Sedge 2', serial, maker, model, firmware, panelKind, slots, ...care })
  await admin.post('/displays/1/validations', {
    slot: 1,
    aimId: 1,
    fileName: 'read.csv',
    text: 'RGB_R,RGB_G,RGB_B,XYZ_X,XYZ_Y,XYZ_Z\n1,1,1,113,119,129\n0,0,0,0.1,0.1,0.1\n1,0,0,49,25,3\n0,1,0,43,85,14\n0,0,1,22,9,113\n',
    readAt: 1_700_000_000_000,
    instrument: 'Elsewhere',
  })
  const { key } = await admin.post<{ key: string }>('/workstations/1/courier-key')
  await server.close()
  return key
}

/** What honest people need, after all that. */
const needed = [
  '/displays',
  '/displays/1',
  '/runs',
  '/drift',
  '/rollout',
  '/pulse',
  '/reports/fleet?as=pdf',
  '/rooms/1/reports',
  '/instruments',
  '/settings',
]

/**
 * Hostile requests over all routes and hostile messages of an enrolled courier, at once, at a server in a process of its
 * own; then what honest people need. Seeded.
 */
export async function hostile({
  requests,
  messages,
  seed,
}: {
  requests: number
  messages: number
  seed: number
}): Promise<HostileOutcome> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-hostile-'))
  const dataDir = join(folder, 'data')
  const key = await prepare(dataDir)
  const child = await ServerChild.start(dataDir)
  try {
    const cookies = ['']
    for (const role of roles) {
      const client = new ApiClient(child.url)
      await client.signIn(role, `${role}-word`)
      cookies.push(client.cookie)
    }
    // The key is replaced by whoever finds the route: an honest administrator gives the courier its newest.
    const newestKey = async () => {
      const admin = new ApiClient(child.url, cookies[3])
      return (await admin.post<{ key: string }>('/workstations/1/courier-key').catch(() => ({ key }))).key
    }
    let over = false
    const honest = honestWork(new ApiClient(child.url, cookies[2]), () => over || child.exited !== null)
    const http: HttpTally = { sent: 0, statuses: {}, wrong: [] }
    const courier: CourierTally = { sent: 0, connections: 0, refused: 0, commands: 0 }
    const resident: number[] = []
    const parts = 5
    for (let part = 0; part < parts && !child.exited; part++) {
      const [h, c] = await Promise.all([
        hostileHttp(child.url, cookies, Math.ceil(requests / parts), uniformFrom(seed + part)),
        newestKey().then((k) => hostileCourierFor(child, k, Math.ceil(messages / parts), seed + 100 + part, newestKey)),
      ])
      http.sent += h.sent
      for (const [status, n] of Object.entries(h.statuses))
        http.statuses[Number(status)] = (http.statuses[Number(status)] ?? 0) + n
      http.wrong.push(...h.wrong)
      courier.sent += c.sent
      courier.connections += c.connections
      courier.refused += c.refused
      courier.commands += c.commands
      if (!child.exited) resident.push((await child.ask()).residentMb)
    }
    over = true
    await honest
    const broken: string[] = []
    for (const path of child.exited ? [] : needed) {
      const response = await new ApiClient(child.url, cookies[3]).raw('GET', path)
      if (!response.ok) broken.push(`${path}: ${response.status} ${(await response.text()).slice(0, 200)}`)
      else await response.arrayBuffer()
    }
    return {
      http,
      courier,
      exited: child.exited,
      residentMb: [resident[0] ?? NaN, resident[resident.length - 1] ?? NaN],
      broken,
      log: child.log,
    }
  } finally {
    await child.end('SIGKILL')
    rmSync(folder, { recursive: true, force: true })
  }
}

/** A technician who works on, so that the hostile courier has commands to answer. */
async function honestWork(client: ApiClient, over: () => boolean): Promise<void> {
  const run = { displayId: 1, kind: 'full', slot: 1, aimId: 1, overwrites: '', instrumentId: 1, sampling: 'brief' }
  const asked: readonly [string, string, object?][] = [
    ['POST', '/displays/1/name'],
    ['POST', '/runs', run],
    ['POST', '/runs', { ...run, kind: 'baseline' }],
    ['POST', '/placements/1/verify'],
    ['POST', '/rooms/1/light', { instrumentId: 1 }],
  ]
  while (!over()) {
    for (const [method, path, body] of asked) {
      await client.raw(method, path, body).catch(() => null)
      const runs = await client.list<{ id: number; state: string }>('/runs').catch(() => [])
      for (const { id, state } of runs.filter((r) => ['running', 'waiting', 'interrupted'].includes(r.state)))
        await client.raw('POST', `/runs/${id}/stop`, { letGo: state === 'interrupted' }).catch(() => null)
    }
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
}

/** Until so much was said, with a new key whenever the old one has gone. */
async function hostileCourierFor(
  child: ServerChild,
  firstKey: string,
  count: number,
  seed: number,
  newestKey: () => Promise<string>,
): Promise<CourierTally> {
  const whole: CourierTally = { sent: 0, connections: 0, refused: 0, commands: 0 }
  const uniform = uniformFrom(seed)
  let key = firstKey
  while (whole.sent < count && !child.exited) {
    const part = await hostileCourier(child.url, key, Math.min(count - whole.sent, 2000), uniform, 40)
    whole.sent += part.sent
    whole.connections += part.connections
    whole.refused += part.refused
    whole.commands += part.commands
    key = await newestKey()
  }
  return whole
}
