import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Bench, BenchClock, fenLantern } from '@bichroma/bench'
import { uniformFrom } from '@bichroma/core/basics'
import type { DisplayDetail, RunDetail } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { HeldClient } from './heldClient'
import { demoAims } from '../scripts/demoStudio'
import { asSeen, live, passwords } from './studio'
import { until } from '../scripts/waiting'
import { builtProgram } from '../scripts/builtProgram.cjs'
import { expectSame } from './expectSame'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-restart-'))
const dataDir = join(folder, 'data')
const servers: ChildProcess[] = []
const keys: Record<string, string> = {}
let bench: Bench
let displayId = 0

/** Starts the server as a process of its own and waits for its address. */
function startProcess(port = 0): Promise<{ url: string; kill: () => Promise<void> }> {
  const child = spawn(
    process.execPath,
    [builtProgram('packages/server/src/app/main.ts'), '--data', dataDir, '--port', String(port)],
    {
      cwd: join(__dirname, '..'),
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  )
  servers.push(child)
  return new Promise((resolve, reject) => {
    let text = ''
    child.stdout!.on('data', (chunk: Buffer) => {
      text += chunk.toString()
      if (!text.includes('\n')) return
      resolve({
        ...(JSON.parse(text) as { url: string }),
        kill: () => new Promise((done) => (child.once('exit', () => done()), child.kill('SIGKILL'))),
      })
    })
    child.once('exit', (code) => reject(new Error(`The server ended with ${code}.`)))
  })
}

beforeAll(async () => {
  const server = await startServer({ dataDir })
  await server.access.addAccount('administrator', 'Admin', 'administrator', passwords.administrator)
  const client = new HeldClient(server.url)
  await client.signIn('administrator', passwords.administrator)
  const idOf = async (path: string, body: unknown) => (await client.post<{ id: number }>(path, body)).id
  await idOf('/aims', { name: 'Atlas web', aim: demoAims['Atlas web'] })
  const limitsId = await idOf('/limits', { name: 'Plate work', limits: asSeen })
  const roomId = await idOf('/rooms', { name: 'Sedge Room' })
  const workstationId = await idOf('/workstations', {
    name: live.workstation,
    operatingSystem: 'linux',
    systemVersion: '12',
    roomId,
  })
  displayId = await idOf('/displays', {
    name: 'Sedge 2',
    maker: 'Quillon',
    model: 'Q27',
    serial: live.serial,
    firmware: '3.1',
    slots: 3,
    panelKind: 'wide-gamut-led',
    workstationId,
    limitsId,
    checkEveryDays: 28,
  })
  keys[live.workstation] = (await client.post<{ key: string }>(`/workstations/${workstationId}/courier-key`)).key
  await server.close()
})
afterAll(() => {
  bench?.stop()
  for (const server of servers) server.kill('SIGKILL')
  rmSync(folder, { recursive: true, force: true })
})

/** Readings after which the server is killed: four moments, anywhere in the run; `npm run -s ordeal -- kills` has 200. */
const kills = (() => {
  const uniform = uniformFrom(20261126)
  return Array.from({ length: 4 }, (_, i) => Math.floor(4 + 24 * (i + uniform())))
})()

test('a server killed four times in a run: every acknowledged reading is kept, and the run ends as accurate as any @long @long', async () => {
  let server = await startProcess()
  const port = Number(new URL(server.url).port)
  bench = new Bench({
    scenario: fenLantern,
    server: server.url,
    keys,
    clock: new BenchClock(Infinity),
    stateDir: join(folder, 'bench'),
    retryMs: 20,
  })
  bench.carry(live.instrument, live.workstation)
  bench.connect(live.workstation)
  let client = new HeldClient(server.url)
  const again = async () => {
    client = new HeldClient(server.url)
    await client.signIn('administrator', passwords.administrator)
    await until(
      async () => (await client.get<DisplayDetail>(`/displays/${displayId}`)).live,
      'the courier is connected',
    )
  }
  await again()
  const { id } = await client.post<{ id: number }>('/runs', {
    displayId,
    kind: 'full',
    slot: 1,
    aimId: 1,
    overwrites: '',
    sampling: 'brief',
  })
  const runOf = () => client.get<RunDetail>(`/runs/${id}`)

  for (const readings of kills) {
    let seen = await runOf()
    await until(async () => (seen = await runOf()).log.length >= readings, `${readings} readings are there`)
    await server.kill()
    server = await startProcess(port)
    await again()
    const interrupted = await runOf()
    expect(interrupted.state).toBe('interrupted')
    expect(interrupted.message).toMatch(
      /^The server stopped during (Baseline|Level|Shape|Load|Prove)\. All \d+ readings are kept\./,
    )
    expect(interrupted.log.slice(0, seen.log.length)).toEqual(seen.log)
    // An interrupted run still holds its display.
    await expect(client.post('/runs', { displayId, kind: 'full', slot: 2, aimId: 1, overwrites: '' })).rejects.toThrow(
      'in a run already',
    )
    await client.post(`/runs/${id}/resume`)
  }
  await until(async () => !['running', 'waiting'].includes((await runOf()).state), 'the run has ended', 240_000)
  const done = await runOf()
  expect(done).toMatchObject({ message: null, state: 'done', judged: { verdict: 'within' } })
  expect(done.log.map((r) => r.seq)).toEqual(done.log.map((_, i) => i))
  expect(done.judged!.averageDeltaE).toBeLessThan(0.6)
  await server.kill()
}, 300_000)

test('a server killed in the middle, then stopped by hand: the slot is put back', async () => {
  let server = await startProcess()
  bench?.stop()
  bench = new Bench({
    scenario: fenLantern,
    server: server.url,
    keys,
    clock: new BenchClock(Infinity),
    stateDir: join(folder, 'bench'),
    retryMs: 20,
  })
  bench.carry(live.instrument, live.workstation)
  bench.connect(live.workstation)
  const slots = async () => ({
    memory: structuredClone(bench.display(live.serial).memory.slots),
    first: await bench.display(live.serial).readSlot(1),
  })
  const held = await slots()
  let client = new HeldClient(server.url)
  await client.signIn('administrator', passwords.administrator)
  await until(async () => (await client.get<DisplayDetail>(`/displays/${displayId}`)).live, 'the courier is connected')
  const { slots: rack } = await client.get<DisplayDetail>(`/displays/${displayId}`)
  const { id } = await client.post<{ id: number }>('/runs', {
    displayId,
    kind: 'full',
    slot: 1,
    aimId: 1,
    overwrites: rack[0].label ?? '',
  })
  await until(async () => (await client.get<RunDetail>(`/runs/${id}`)).stage === 'prove', 'the run proves')
  const port = Number(new URL(server.url).port)
  await server.kill()
  expect(await slots()).not.toEqual(held)
  server = await startProcess(port)
  client = new HeldClient(server.url)
  await client.signIn('administrator', passwords.administrator)
  await until(async () => (await client.get<DisplayDetail>(`/displays/${displayId}`)).live, 'the courier is connected')
  await client.post(`/runs/${id}/stop`)
  await until(async () => (await client.get<RunDetail>(`/runs/${id}`)).state === 'stopped', 'the run has stopped')
  expectSame(await slots(), held)
  await server.kill()
}, 300_000)
