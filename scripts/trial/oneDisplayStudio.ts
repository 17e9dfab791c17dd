import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Bench, BenchClock, flat, shippedInstrument, type InstrumentModel, type PanelTraits } from '@bichroma/bench'
import type { Aim } from '@bichroma/core/aims'
import type { Budget, RunKind, RunState, Sampling } from '@bichroma/core/runs'
import type { DisplayDetail, HostCondition, Instrument, ProfilePolicy, RunDetail } from '@bichroma/contract'
import { startServer, type RunningServer } from '@bichroma/server'
import { ApiClient } from '../apiClient'
import { demoLimits } from '../demoStudio'
import { displayBody } from '../displayBody'
import { seeTo, type Hands } from '../hands'
import { copyOfMade } from '../madeOnce'

const account = { login: 'trial', name: 'Trial', password: 'on-the-bench' }
const workstation = 'trial-01'
/** The display on trial, and the instruments: the one that reads, and a spectroradiometer to correct a colorimeter by. */
export const serials = { display: 'ON-TRIAL', sibling: 'BESIDE-IT', instrument: 'TRIAL-1', reference: 'TRIAL-2' }

/** What stands in a studio of one display. */
export interface TrialSetting {
  readonly panel: PanelTraits
  readonly aim: Aim
  readonly instrument: InstrumentModel
  readonly seed: number
  /** Settings of the host that it does not tell. */
  readonly untold?: readonly HostCondition[]
  /** Minutes that the display has been on; long unless given. */
  readonly warmMinutes?: number
  /** Hours that the display has been used. */
  readonly hours?: number
  /** The spectroradiometer that corrections are made by; the one that ships unless given. */
  readonly reference?: InstrumentModel
  /** Days since each was certified; 100 unless given. */
  readonly certifiedDaysAgo?: { readonly instrument: number; readonly reference: number }
  /** Another display of the same model, at the same workstation. */
  readonly sibling?: PanelTraits
  /** When it is, ms since 1970: part of what makes a trial the same again. */
  readonly at?: number
}

const serve = (folder: string, clock: BenchClock): Promise<RunningServer> =>
  startServer({ dataDir: join(folder, 'data'), now: () => Math.floor(clock.now()), gaugeMs: 1, durable: false })

/** A server's folder in which there is an account and nothing else, with its session’s cookie beside. */
async function makeAccount(folder: string, at: number): Promise<void> {
  const server = await serve(folder, new BenchClock(Infinity, at))
  await server.access.addAccount(account.login, account.name, 'administrator', account.password)
  const client = new ApiClient(server.url)
  await client.signIn(account.login, account.password)
  await server.close()
  writeFileSync(join(folder, 'cookie'), client.cookie)
}

/** A server, a bench and couriers in this process, with one display; everything in a folder that is removed at the end. */
export class OneDisplayStudio {
  private constructor(
    readonly server: RunningServer,
    readonly bench: Bench,
    readonly client: ApiClient,
    readonly displayId: number,
    readonly siblingId: number | null,
    readonly aimId: number,
    private readonly folder: string,
    private readonly clock: BenchClock,
  ) {}

  static async open({
    panel,
    aim,
    instrument,
    seed,
    hours = 400,
    warmMinutes = 120,
    untold = [],
    at = 1.8e12,
    reference = shippedInstrument('heron-s1'),
    certifiedDaysAgo = { instrument: 100, reference: 100 },
    sibling,
  }: TrialSetting): Promise<OneDisplayStudio> {
    const folder = await copyOfMade(`trial-${at}`, (made) => makeAccount(made, at))
    const clock = new BenchClock(Infinity, at)
    const server = await serve(folder, clock)
    const client = new ApiClient(server.url, readFileSync(join(folder, 'cookie'), 'utf8'))
    const idOf = async (path: string, body: unknown) => (await client.post<{ id: number }>(path, body)).id
    const aimId = await idOf('/aims', { name: 'Trial', aim })
    const limitsId = await idOf('/limits', { name: 'Trial', limits: demoLimits['Plate work'] })
    const host = { name: workstation, operatingSystem: 'linux' as const, systemVersion: '12' }
    const workstationId = await idOf('/workstations', { ...host, roomId: await idOf('/rooms', { name: 'Trial' }) })
    const display = { name: 'On trial', serial: serials.display, panel, hours, hoursPerDay: 9, warmMinutes }
    const care = { workstationId, limitsId, checkEveryDays: 28 }
    const displayId = await idOf('/displays', displayBody(display, care))
    const beside = sibling && { ...display, name: 'Beside it', serial: serials.sibling, panel: sibling }
    const siblingId = beside ? await idOf('/displays', displayBody(beside, care)) : null
    const { key } = await client.post<{ key: string }>(`/workstations/${workstationId}/courier-key`)
    const bench = new Bench({
      scenario: {
        studio: 'Trial',
        seed,
        rooms: { Trial: { illuminanceLux: 40, kelvin: 5000 } },
        instruments: [
          {
            serial: serials.instrument,
            model: instrument,
            certifiedDaysAgo: certifiedDaysAgo.instrument,
            wear: 1,
          },
          { serial: serials.reference, model: reference, certifiedDaysAgo: certifiedDaysAgo.reference, wear: 1 },
        ],
        workstations: [
          {
            room: 'Trial',
            host: { ...host, administrator: true, signalRange: panel.signal.range, programs: [], untold },
            displays: beside ? [display, beside] : [display],
          },
        ],
      },
      server: server.url,
      keys: { [workstation]: key },
      clock,
      stateDir: join(folder, 'bench'),
      retryMs: 10,
    })
    bench.carry(serials.reference, workstation)
    bench.carry(serials.instrument, workstation)
    bench.connect(workstation)
    while (!(await client.get<DisplayDetail>(`/displays/${displayId}`)).live) await turn()
    return new OneDisplayStudio(server, bench, client, displayId, siblingId, aimId, folder, clock)
  }

  async instrumentId(serial: string): Promise<number> {
    return (await this.client.get<Instrument[]>('/instruments')).find((i) => i.serial === serial)!.id
  }

  readonly hands: Hands = {
    brightest: 100,
    brightness: async () => (await this.display.getControls()).backlight,
    turnTo: async (backlight) => this.display.press({ backlight }),
    powerCycle: () => this.display.powerCycle(),
    seat: async () => {
      this.bench.instrument(serials.instrument).seat = flat
    },
    layOn: async (place) => {
      this.bench.instrument(serials.instrument).seat = { ...flat, place }
    },
  }

  get display() {
    return this.bench.display(serials.display)
  }

  detail = () => this.client.get<DisplayDetail>(`/displays/${this.displayId}`)

  /** Makes a correction of the instrument on this display, or another; gives the Δu′v′ that it leaves. */
  async makeCorrection(displayId = this.displayId): Promise<number> {
    const { residual } = await this.client.post<{ residual: number }>('/corrections', {
      displayId,
      instrumentId: await this.instrumentId(serials.instrument),
      referenceId: await this.instrumentId(serials.reference),
    })
    return residual
  }

  /** Starts a run with the instrument on trial. */
  async start(
    change: {
      sampling?: Sampling
      kind?: RunKind
      slot?: number
      profile?: ProfilePolicy
      budget?: Budget
      /** The one of the setting unless given. */
      aimId?: number
    } = {},
  ): Promise<number> {
    const { sampling, kind = 'full', slot = 1, profile, budget, aimId = this.aimId } = change
    const display = await this.detail()
    const { id } = await this.client.post<{ id: number }>('/runs', {
      displayId: this.displayId,
      kind,
      slot,
      instrumentId: await this.instrumentId(serials.instrument),
      ...((kind === 'full' || kind === 'baseline') && { aimId }),
      ...(kind === 'full' && {
        overwrites: display.slots[slot - 1].label ?? '',
        ...(sampling && { sampling }),
      }),
      ...(profile && { profile }),
      ...(budget && { budget }),
    })
    return id
  }

  /**
   * Lets a run come to its end and gives it. Whenever it waits, `hands` sees to what it asks for and the run goes on,
   * unless they give null; the usual hands do what the run sheet says.
   */
  async finish(
    id: number,
    hands: (run: RunDetail) => Promise<string[] | null | void> = (run) => seeTo(run, this.hands),
  ): Promise<RunDetail> {
    const held: readonly RunState[] = ['running', 'waiting']
    for (;;) {
      const ended = await Promise.race([this.server.engine.ended(id).then(() => true), turn(15).then(() => false)])
      const run = await this.client.get<RunDetail>(`/runs/${id}`)
      if (ended && !held.includes(run.state)) return run
      if (run.state === 'waiting') {
        const confirm = await hands(run)
        if (confirm !== null) await this.client.post(`/runs/${id}/resume`, { confirm: confirm ?? [] }).catch(() => null)
      }
    }
  }

  /** Lets days go by in which nothing is done. */
  async passDays(days: number): Promise<void> {
    this.clock.jumpTo(this.clock.now() + days * 86_400_000)
    // Whoever was signed in is so no more.
    await this.client.signIn(account.login, account.password)
  }

  async close(): Promise<void> {
    this.bench.stop()
    await this.server.close()
    rmSync(this.folder, { recursive: true, force: true })
  }
}

const turn = (ms = 0) => new Promise<void>((resolve) => setTimeout(resolve, ms))
