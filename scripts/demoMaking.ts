import type { Scenario } from '@bichroma/bench'
import type { RunKind } from '@bichroma/core/runs'
import type { RunDetail } from '@bichroma/contract'
import type { RunningServer } from '@bichroma/server'
import type { ApiClient } from './apiClient'
import { displayBody } from './displayBody'
import { demoAims, demoLimits, demoRoomLight, demoStories } from './demoStudio'

export const day = 86_400_000
export const hour = 3_600_000

/** The studio's clock while its history is made: it jumps from visit to visit, and runs on a little in between. */
export class HistoryClock {
  private jumpedAt = Date.now()

  constructor(private at: number) {}

  now = () => this.at + Date.now() - this.jumpedAt

  jumpTo(at: number) {
    this.at = at
    this.jumpedAt = Date.now()
  }
}

/** A studio being made. */
export class Making {
  readonly displayIds: Record<string, number> = {}
  readonly workstationOf: Record<string, string> = {}
  readonly workstationIds: Record<string, number> = {}
  readonly serialOf: Record<string, string> = {}
  readonly aimIds: Record<string, number> = {}
  readonly roomIds: Record<string, number> = {}

  constructor(
    readonly scenario: Scenario,
    readonly clock: HistoryClock,
    readonly server: RunningServer,
    readonly client: ApiClient,
    readonly say: (line: string) => void,
  ) {}

  idOf = async (path: string, body: unknown) => (await this.client.post<{ id: number }>(path, body)).id

  /** Puts aims, limits, rooms, workstations and displays into the register; gives the couriers' keys. */
  async register(): Promise<Record<string, string>> {
    for (const [name, aim] of Object.entries(demoAims)) this.aimIds[name] = await this.idOf('/aims', { name, aim })
    const limitsIds: Record<string, number> = {}
    for (const [name, limits] of Object.entries(demoLimits))
      limitsIds[name] = await this.idOf('/limits', { name, limits })
    const { roomIds } = this
    for (const name of Object.keys(this.scenario.rooms)) {
      const light = demoRoomLight.ranges[name] ?? null
      const lux = demoRoomLight.levels[name]
      roomIds[name] = await this.idOf('/rooms', { name, light, ...(lux !== undefined && { level: { lux } }) })
    }
    const keys: Record<string, string> = {}
    for (const { room, host, displays } of this.scenario.workstations) {
      const { name, operatingSystem, systemVersion } = host
      const body = { name, operatingSystem, systemVersion, roomId: roomIds[room] }
      const workstationId = await this.idOf('/workstations', body)
      this.workstationIds[name] = workstationId
      keys[name] = (await this.client.post<{ key: string }>(`/workstations/${workstationId}/courier-key`)).key
      for (const display of displays) {
        const { name: displayName, serial } = display
        const care = demoStories[displayName] ?? { limits: 'Everyday', checkEveryDays: 28 }
        const { checkEveryDays } = care
        const body = displayBody(display, { workstationId, limitsId: limitsIds[care.limits], checkEveryDays })
        this.displayIds[displayName] = await this.idOf('/displays', body)
        this.workstationOf[displayName] = name
        this.serialOf[displayName] = serial
      }
    }
    return keys
  }
}

/** Does something to the bench of the demo; its control's address. Throws Error with the sentence of the bench. */
export type AskBench = (path: string, body: object) => Promise<void>

export const asking =
  (control: string): AskBench =>
  async (path, body) => {
    const response = await fetch(control + path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
    if (!response.ok) throw new Error(await response.text())
  }

/** One event of the history: what is done to which display on which day. */
export interface Visit {
  readonly daysAgo: number
  readonly display: string
  readonly kind: RunKind
  readonly slot: number
  readonly aim?: string
  readonly place?: boolean
}

/** What is done by hand in the demo's history. */
export interface DemoWork {
  readonly visit: (visit: Visit, instrument: string) => Promise<void>
  readonly here: (instrument: string, workstation: string) => Promise<void>
  readonly throughRun: (runId: number, display: string, instrument: string) => Promise<RunDetail>
  readonly idOfInstrument: (serial: string) => Promise<number>
}
