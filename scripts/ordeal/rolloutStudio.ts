import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { Bench, BenchClock, fenLantern, type Scenario } from '@bichroma/bench'
import { contentHash } from '@bichroma/core/profiles'
import type { OperatingSystem } from '@bichroma/core/register'
import type { RolloutRow, StartWave, WaveDetail, WavePreview } from '@bichroma/contract'
import { startServer, type RunningServer } from '@bichroma/server'
import { demoAims, demoLimits } from '../demoStudio'
import { displayBody } from '../displayBody'
import { ApiClient } from '../apiClient'
import { copyOfMade } from '../madeOnce'

const systems: readonly OperatingSystem[] = ['windows', 'macos', 'linux']
const word = 'ordeal-word'
const day = 86_400_000

/** Workstations with displays of two kinds: tables in the display, and in the video card. */
function rolloutScenario(workstations: number, displaysEach: number): Scenario {
  const kinds = fenLantern.workstations.flatMap((w) => w.displays)
  const stored = kinds.find((d) => d.panel.tables.in === 'display' && d.panel.tables.slots > 1)!
  const card = kinds.find((d) => d.panel.tables.in === 'card')!
  return {
    studio: 'Fen & Lantern',
    seed: 7,
    rooms: { 'Sedge Room': { illuminanceLux: 30, kelvin: 5000 } },
    instruments: [],
    workstations: Array.from({ length: workstations }, (_, i) => ({
      host: {
        name: `reed-${String(i + 1).padStart(3, '0')}`,
        operatingSystem: systems[i % 3],
        systemVersion: '11',
        // Two in nine have no rights for the whole machine.
        administrator: i % 9 < 7,
        signalRange: 'full' as const,
        programs: [
          {
            name: 'Lookout',
            kind: 'browser' as const,
            colorManagement: 'tagged' as const,
            version4: false,
            settable: i % 2 === 0,
          },
        ],
      },
      room: 'Sedge Room',
      displays: Array.from({ length: displaysEach }, (_, n) => ({
        ...(n % 4 === 3 ? card : stored),
        name: `Reed ${i + 1}-${n + 1}`,
        serial: `RD-${String(i + 1).padStart(3, '0')}-${n + 1}`,
      })),
    })),
  }
}

/** What was made of a studio: the administrator's session, the couriers' keys, and when it was. */
interface Made {
  readonly cookie: string
  readonly keys: Readonly<Record<string, string>>
  readonly now: number
}

/** Puts a scenario's displays into the register of a new server, with an instrument for their runs. */
async function registerAll(folder: string, scenario: Scenario): Promise<void> {
  // Noon, so that no night begins or ends while nobody looks.
  let now = new Date(2026, 10, 27, 12).getTime()
  const server = await startServer({ dataDir: join(folder, 'data'), now: () => now++, durable: false })
  await server.access.addAccount('administrator', 'Admin', 'administrator', word)
  const client = new ApiClient(server.url)
  await client.signIn('administrator', word)
  const idOf = async (path: string, body: unknown) => (await client.post<{ id: number }>(path, body)).id
  for (const name of ['Atlas web', 'Plate print']) await idOf('/aims', { name, aim: Object.values(demoAims)[0] })
  const limitsId = await idOf('/limits', { name: 'Plate work', limits: demoLimits['Plate work'] })
  const rooms: number[] = []
  for (let r = 0; r < Math.max(1, Math.ceil(scenario.workstations.length / 12)); r++)
    rooms.push(await idOf('/rooms', { name: `Reeds ${r + 1}` }))
  const keys: Record<string, string> = {}
  for (const [i, { host, displays }] of scenario.workstations.entries()) {
    const { name, operatingSystem, systemVersion } = host
    const roomId = rooms[Math.floor(i / 12)]
    const workstationId = await idOf('/workstations', { name, operatingSystem, systemVersion, roomId })
    for (const display of displays)
      await idOf('/displays', displayBody(display, { workstationId, limitsId, checkEveryDays: 28 }))
    keys[name] = (await client.post<{ key: string }>(`/workstations/${workstationId}/courier-key`)).key
  }
  await server.close()
  const store = new Database(join(folder, 'data', 'bichroma.sqlite'))
  store
    .prepare(`INSERT INTO instrument (maker, model, serial, kind) VALUES ('Tessel', 'C3', 'T-1', 'colorimeter')`)
    .run()
  store.close()
  writeFileSync(join(folder, 'made.json'), JSON.stringify({ cookie: client.cookie, keys, now } satisfies Made))
}

/** A server and a bench of many workstations in this process, for waves. Profiles are filed as a run's end files them. */
export class RolloutStudio {
  private constructor(
    readonly folder: string,
    public server: RunningServer,
    readonly bench: Bench,
    readonly client: ApiClient,
    readonly scenario: Scenario,
    readonly clock: { now: number },
    private readonly store: Database.Database,
  ) {}

  /** Tests bring a client of their own, which looks at every answer. */
  static async open(workstations: number, displaysEach: number, Client = ApiClient): Promise<RolloutStudio> {
    const scenario = rolloutScenario(workstations, displaysEach)
    const folder = await copyOfMade(`rollout-${workstations}-${displaysEach}`, (made) => registerAll(made, scenario))
    const { cookie, keys, now } = JSON.parse(readFileSync(join(folder, 'made.json'), 'utf8')) as Made
    const clock = { now }
    const server = await startServer({ dataDir: join(folder, 'data'), now: () => clock.now++, durable: false })
    const bench = new Bench({
      scenario,
      server: server.url,
      keys,
      clock: new BenchClock(Infinity),
      stateDir: join(folder, 'bench'),
      retryMs: 20,
    })
    const store = new Database(join(folder, 'data', 'bichroma.sqlite'), { timeout: 5000 })
    store.function('folded', { deterministic: true }, (text) => String(text))
    return new RolloutStudio(folder, server, bench, new Client(server.url, cookie), scenario, clock, store)
  }

  /** Files a profile for a slot of a display, as a proved run does; gives the run's number. */
  file(displayId: number, slot: number, version: number): number {
    const bytes = Buffer.from(`Profile of display ${displayId}, slot ${slot}, version ${version}. ${'-'.repeat(600)}`)
    const hash = contentHash(bytes)
    const at = (this.clock.now += 1000)
    const label = slot === 1 ? 'Atlas web' : 'Plate print'
    this.store.prepare('INSERT OR IGNORE INTO content (hash, bytes, created_at) VALUES (?, ?, ?)').run(hash, bytes, at)
    this.store.prepare('UPDATE slot SET label = ? WHERE display_id = ? AND number = ?').run(label, displayId, slot)
    return Number(
      this.store
        .prepare(
          `INSERT INTO run (display_id, slot, kind, label, aim, limits, instrument_id, account_id, state, stage, started_at, ended_at,
             profile_hash, profile_name) VALUES (?, ?, 'full', ?, '{"luminance":120}', '{}', 1, 1, 'done', 'file', ?, ?, ?, ?)`,
        )
        .run(displayId, slot, label, at, at, hash, `Reed-${displayId}-slot-${slot}-v${version}.icc`).lastInsertRowid,
    )
  }

  /** A value of the store, for what no route tells. */
  ask<T>(sql: string, ...parameters: unknown[]): T[] {
    return this.store.prepare(sql).all(...parameters) as T[]
  }

  rows = () => this.client.list<RolloutRow>('/rollout')
  row = async (displayId: number) => (await this.rows()).find((r) => r.displayId === displayId)!

  /** Whatever is under way comes to its end, and everything that is there is read back, until that changes nothing more. */
  async settle(): Promise<void> {
    let before = ''
    for (let round = 0; round < 6; round++) {
      await this.server.schedule.look(0)
      const after = JSON.stringify(
        this.ask(`SELECT (SELECT MAX(id) FROM found), (SELECT MAX(id) FROM ledger), (SELECT group_concat(curves) FROM display),
          (SELECT group_concat(id || state || tries || ifnull(verified_at, '')) FROM placement),
          (SELECT group_concat(id || state) FROM wave_item), (SELECT group_concat(id || state) FROM wave)`),
      )
      if (after === before) return
      before = after
    }
  }

  /** Starts a wave as its preview says it. */
  async wave(selection: StartWave['selection'], change: Partial<StartWave> = {}): Promise<number> {
    const { digest } = await this.client.post<WavePreview>('/waves/preview', { selection })
    const usual = { name: 'Morning', first: 3, gate: 'read-back', stopShare: 1, days: 14 }
    return (await this.client.post<{ id: number }>('/waves', { ...usual, selection, digest, ...change })).id
  }

  detail = (id: number) => this.client.get<WaveDetail>(`/waves/${id}`)

  /** Closes the server and starts another on the same folder and port; couriers come back by themselves. */
  async restart(): Promise<void> {
    const port = Number(new URL(this.server.url).port)
    await this.server.close()
    const { clock } = this
    this.server = await startServer({
      dataDir: join(this.folder, 'data'),
      now: () => clock.now++,
      durable: false,
      port,
    })
  }

  /** So many days later; the session of before has ended by then. */
  async laterBy(days: number): Promise<void> {
    this.clock.now += days * day
    await this.client.signIn('administrator', word)
  }

  async close(): Promise<void> {
    this.bench.stop()
    await this.server.close()
    this.store.close()
    rmSync(this.folder, { recursive: true, force: true })
  }
}
