import { createHash } from 'node:crypto'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { Bench, BenchClock, fenLantern, type Scenario } from '@bichroma/bench'
import type { Aim, Limits } from '@bichroma/core/aims'
import type { RunState } from '@bichroma/core/runs'
import type { DisplayDetail, Role, RunDetail } from '@bichroma/contract'
import {
  openStore,
  startServer,
  strayDisplays,
  threadedSolver,
  type RunningServer,
  type ServerOptions,
} from '@bichroma/server'
import { builtProgram } from '../scripts/builtProgram.cjs'
import { ApiClient } from '../scripts/apiClient'
import { HeldClient } from './heldClient'
import { displayBody } from '../scripts/displayBody'
import { demoAims, demoLimits } from '../scripts/demoStudio'
import { copyOfMade } from '../scripts/madeOnce'
import { until } from '../scripts/waiting'

export const passwords: Readonly<Record<Role, string>> = {
  administrator: 'admin-word',
  technician: 'tech-word',
  viewer: 'view-word',
}

/** Limits that go by what was seen: tests/doubt.test.ts holds what a run says of what it does not know. */
export const asSeen: Limits = { ...demoLimits['Plate work'], decision: 'simple' }

/** The workstation, display and instrument that tests work on. */
export const live = { workstation: 'sedge-02', serial: 'QL-27-04418', instrument: 'TC-0417' }

const solving = threadedSolver(pathToFileURL(builtProgram('packages/server/src/runs/solverWorker.ts')).href)
/** Fits in a thread, as the application makes them: half as long as in Jest's sandbox. One for all servers of a file. */
const solver = { ...solving, close: async () => {} }

/** A server on a test's folder and clock, which waits for nobody longer than it must. */
const serverOptions = (folder: string, clock: BenchClock): ServerOptions => ({
  dataDir: join(folder, 'data'),
  now: () => Math.floor(clock.now()),
  gaugeMs: 1,
  graceMs: 150,
  // Nobody cuts the power of a test but tests/powerCut.test.ts.
  durable: false,
  solver,
})

/** What was made of a studio, and when. */
interface Made {
  readonly at: number
  /** The administrator's session. */
  readonly cookie: string
  readonly displayId: number
  readonly aimIds: Readonly<Record<string, number>>
  readonly keys: Readonly<Record<string, string>>
  readonly ids: { readonly workstation: number; readonly limits: number; readonly room: number }
}

/** The workstation that tests work on, as a scenario has it. */
const standing = ({ workstations }: Scenario) => workstations.find((w) => w.host.name === live.workstation)!

/** Puts a studio's people, aims, limits, and one workstation with its display into the register of a new server. */
async function makeStudio(folder: string, scenario: Scenario): Promise<Made> {
  const clock = new BenchClock(Infinity)
  const server = await startServer(serverOptions(folder, clock))
  for (const [role, password] of Object.entries(passwords))
    await server.access.addAccount(role, role, role as Role, password)
  const admin = new HeldClient(server.url)
  await admin.signIn('administrator', passwords.administrator)
  const idOf = async (path: string, body: unknown) => (await admin.post<{ id: number }>(path, body)).id
  const aimIds: Record<string, number> = {}
  for (const [name, aim] of Object.entries(demoAims)) aimIds[name] = await idOf('/aims', { name, aim })
  const limits = await idOf('/limits', { name: 'Plate work', limits: asSeen })
  const room = await idOf('/rooms', { name: 'Sedge Room' })
  const { host, displays } = standing(scenario)
  const { name, operatingSystem, systemVersion } = host
  const workstation = await idOf('/workstations', { name, operatingSystem, systemVersion, roomId: room })
  const care = { workstationId: workstation, limitsId: limits, checkEveryDays: 28 }
  const displayId = await idOf('/displays', displayBody(displays[0], care))
  const { key } = await admin.post<{ key: string }>(`/workstations/${workstation}/courier-key`)
  await server.close()
  return {
    at: clock.now(),
    cookie: admin.cookie,
    displayId,
    aimIds,
    keys: { [name]: key },
    ids: { workstation, limits, room },
  }
}

/** A server and a bench in this process, with one workstation registered and connected; everything in a folder of its own. */
export class Studio {
  private constructor(
    readonly folder: string,
    public server: RunningServer,
    readonly bench: Bench,
    readonly clock: BenchClock,
    public admin: ApiClient,
    readonly displayId: number,
    readonly aimIds: Readonly<Record<string, number>>,
    readonly keys: Readonly<Record<string, string>>,
    readonly ids: { workstation: number; limits: number; room: number },
    private readonly options: Partial<ServerOptions>,
  ) {}

  /** A studio of a scenario, copied from one that was made once. */
  static open(scenario: Scenario = fenLantern, options: Partial<ServerOptions> = {}): Promise<Studio> {
    return Studio.openAs(scenario, options, [])
  }

  /** The same, whose display has been through a full run into slot 1, with brief sampling. */
  static async proven(options: Partial<ServerOptions> = {}): Promise<Studio> {
    return Studio.openAs(fenLantern, options, [{ sampling: 'brief' }])
  }

  private static async openAs(
    scenario: Scenario,
    options: Partial<ServerOptions>,
    runs: readonly Record<string, unknown>[],
  ): Promise<Studio> {
    const { host, displays } = standing(scenario)
    const of = createHash('sha256')
      .update(JSON.stringify([host, displays[0], runs]))
      .digest('hex')
      .slice(0, 16)
    const folder = await copyOfMade(`studio-${of}`, async (template) => {
      const made = await makeStudio(template, scenario)
      if (runs.length) {
        const studio = await Studio.on(template, made, scenario, {})
        for (const run of runs) {
          const { state, message } = await studio.finish(await studio.start(run))
          if (state !== 'done') throw new Error(`The studio was not proven: ${message}`)
        }
        Object.assign(made, { at: studio.clock.now() })
        await studio.end()
      }
      writeFileSync(join(template, 'made.json'), JSON.stringify(made))
    })
    const made = JSON.parse(readFileSync(join(folder, 'made.json'), 'utf8')) as Made
    return Studio.on(folder, made, scenario, options)
  }

  /** A server and a bench on what was made in a folder. */
  private static async on(folder: string, made: Made, scenario: Scenario, options: Partial<ServerOptions>) {
    const clock = new BenchClock(Infinity, Math.max(made.at, Date.now()))
    const server = await startServer({ ...serverOptions(folder, clock), ...options })
    const { keys } = made
    const bench = new Bench({ scenario, server: server.url, keys, clock, stateDir: join(folder, 'bench'), retryMs: 10 })
    bench.carry(live.instrument, live.workstation)
    const { displayId, aimIds, ids, cookie } = made
    const admin = new HeldClient(server.url, cookie)
    const studio = new Studio(folder, server, bench, clock, admin, displayId, aimIds, keys, ids, options)
    await studio.connect()
    return studio
  }

  async connect(): Promise<void> {
    this.bench.connect(live.workstation)
    await until(async () => (await this.display()).live, 'the courier is connected')
  }

  /** Closes the server, unless it is closed already, and starts another on the same folder and port. */
  async restartServer(close = true): Promise<void> {
    const port = Number(new URL(this.server.url).port)
    if (close) await this.server.close()
    this.server = await startServer({ ...serverOptions(this.folder, this.clock), ...this.options, port })
    // A connection that was kept open to the server before may be found closed only when it is used.
    await until(async () => {
      try {
        this.admin = await this.as('administrator')
        return true
      } catch (error) {
        if ((error as Error).message === 'fetch failed') return false
        throw error
      }
    }, 'the server answers')
    await until(async () => (await this.display()).live, 'the courier is back')
  }

  async as(role: Role): Promise<ApiClient> {
    const client = new HeldClient(this.server.url)
    await client.signIn(role, passwords[role])
    return client
  }

  display = () => this.admin.get<DisplayDetail>(`/displays/${this.displayId}`)
  run = (id: number) => this.admin.get<RunDetail>(`/runs/${id}`)

  /** Adds an aim and gives its id. */
  async addAim(name: string, aim: Aim): Promise<number> {
    return (await this.admin.post<{ id: number }>('/aims', { name, aim })).id
  }

  async start(change: Record<string, unknown> = {}): Promise<number> {
    const display = await this.display()
    const slot = (change.slot as number | undefined) ?? 1
    const body = {
      displayId: this.displayId,
      kind: 'full',
      slot,
      aimId: this.aimIds['Atlas web'],
      overwrites: display.slots[slot - 1]?.label ?? '',
      ...change,
    }
    return (await this.admin.post<{ id: number }>('/runs', body)).id
  }

  /** Lets a run come to its end and gives it. */
  async finish(id: number): Promise<RunDetail> {
    await this.server.engine.ended(id)
    return this.run(id)
  }

  /** Waits until a run is in a state and, if given, at or past a number of readings. */
  async reach(id: number, state: RunState, readings = 0): Promise<RunDetail> {
    let run = await this.run(id)
    await until(async () => {
      run = await this.run(id)
      return run.state === state && run.log.length >= readings
    }, `run ${id} is ${state} with ${readings} readings`)
    return run
  }

  private async end(): Promise<void> {
    this.bench.stop()
    await this.server.close()
  }

  /** Ends it; whatever its tests did, what lists show of displays still says what it tells of. */
  async close(): Promise<void> {
    await this.end()
    const store = await openStore(join(this.folder, 'data'), { durable: false })
    const stray = await strayDisplays(store)
    await store.destroy()
    if (stray.length) throw new Error(`Lists say of displays ${stray.join(', ')} something else than they are.`)
    rmSync(this.folder, { recursive: true, force: true })
  }
}
