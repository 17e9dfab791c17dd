import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Bench, BenchClock, fenLantern } from '@bichroma/bench'
import type { DisplayDetail } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { live } from '../../tests/studio'
import { until } from '../waiting'
import { ApiClient } from '../apiClient'
import { demoAims, demoLimits } from '../demoStudio'
import { displayBody } from '../displayBody'
import { ServerChild } from './serverChild'

const word = 'ordeal-word'

/** Makes a studio of one display; gives the keys of its courier. */
async function prepare(dataDir: string): Promise<Record<string, string>> {
  const server = await startServer({ dataDir })
  await server.access.addAccount('administrator', 'Admin', 'administrator', word)
  const client = new ApiClient(server.url)
  await client.signIn('administrator', word)
  await client.post('/aims', { name: 'Atlas web', aim: demoAims['Atlas web'] })
  const limits = { name: 'Plate work', limits: demoLimits['Plate work'] }
  const { id: limitsId } = await client.post<{ id: number }>('/limits', limits)
  await client.post('/rooms', { name: 'Sedge Room' })
  const workstation = { name: live.workstation, operatingSystem: 'linux', systemVersion: '12', roomId: 1 }
  await client.post('/workstations', workstation)
  const { displays } = fenLantern.workstations.find((w) => w.host.name === live.workstation)!
  await client.post('/displays', displayBody(displays[0], { workstationId: 1, limitsId, checkEveryDays: 28 }))
  const { key } = await client.post<{ key: string }>('/workstations/1/courier-key')
  await server.close()
  return { [live.workstation]: key }
}

/** A server in a process of its own, a bench with its one display in this one, and an administrator signed in. */
export class LiveServer {
  private constructor(
    private readonly folder: string,
    readonly dataDir: string,
    public child: ServerChild,
    readonly client: ApiClient,
    readonly bench: Bench,
  ) {}

  /** `pace` of the bench: 1 is real, Infinity waits for nothing. `program`: another server's than the usual. */
  static async open(pace: number, probe: boolean, program?: string): Promise<LiveServer> {
    const folder = mkdtempSync(join(tmpdir(), 'bichroma-ordeal-'))
    const dataDir = join(folder, 'data')
    const keys = await prepare(dataDir)
    const child = await ServerChild.start(dataDir, { probe, program })
    const bench = new Bench({
      scenario: fenLantern,
      server: child.url,
      keys,
      clock: new BenchClock(pace),
      stateDir: join(folder, 'bench'),
      retryMs: 20,
    })
    bench.carry(live.instrument, live.workstation)
    bench.connect(live.workstation)
    const client = new ApiClient(child.url)
    await client.signIn('administrator', word)
    const server = new LiveServer(folder, dataDir, child, client, bench)
    await server.here()
    return server
  }

  display = () => this.client.get<DisplayDetail>('/displays/1')

  here = () => until(async () => (await this.display()).live, 'the courier is connected')

  /** Starts a run on the display's first slot. */
  async start(kind: 'full' | 'check', sampling = 'brief'): Promise<number> {
    const { slots } = await this.display()
    const full = { aimId: 1, overwrites: slots[0].label ?? '', sampling }
    const body = { displayId: 1, slot: 1, kind, ...(kind === 'full' && full) }
    return (await this.client.post<{ id: number }>('/runs', body)).id
  }

  /** Kills the server as a power cut would, and starts another on the same folder and port; ms that the start took. */
  async killAndStart(): Promise<number> {
    const port = Number(new URL(this.child.url).port)
    await this.child.end('SIGKILL')
    const started = Date.now()
    this.child = await ServerChild.start(this.dataDir, { probe: false, port })
    const tookMs = Date.now() - started
    await this.here()
    return tookMs
  }

  async close(): Promise<void> {
    this.bench.stop()
    await this.child.end('SIGKILL')
    rmSync(this.folder, { recursive: true, force: true })
  }
}
