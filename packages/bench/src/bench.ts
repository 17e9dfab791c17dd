import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import type { Triple, XYZ } from '@bichroma/core'
import { Courier } from '@bichroma/courier'
import type { BenchClock } from './benchClock'
import { BenchHost } from './host/benchHost'
import { BenchColorimeter } from './instrument/benchColorimeter'
import { BenchDisplay, type DisplayMemory, type DisplayTraits } from './panel/benchDisplay'
import type { Scenario } from './scenario'

export interface BenchOptions {
  readonly scenario: Scenario
  readonly server: string
  /** Enrolment keys by workstation name. A workstation without one stays switched off. */
  readonly keys: Readonly<Record<string, string>>
  readonly clock: BenchClock
  /** Folder in which displays and profile stores remember. */
  readonly stateDir: string
  readonly retryMs?: number
  readonly onRefused?: (workstation: string, sentence: string) => void
}

interface Workstation {
  readonly host: BenchHost
  readonly displays: BenchDisplay[]
  readonly instruments: BenchColorimeter[]
  courier: Courier | null
}

function recall(path: string, traits: DisplayTraits, now: number): DisplayMemory {
  try {
    return JSON.parse(readFileSync(path, 'utf8'))
  } catch {
    return BenchDisplay.factoryMemory(traits, now)
  }
}

function rememberAt(path: string, memory: DisplayMemory) {
  mkdirSync(dirname(path), { recursive: true })
  writeFileSync(`${path}.new`, JSON.stringify(memory))
  renameSync(`${path}.new`, path)
}

/** Many simulated workstations with their couriers in one process. */
export class Bench {
  private readonly workstations = new Map<string, Workstation>()
  private readonly instruments: BenchColorimeter[]

  constructor(private readonly options: BenchOptions) {
    const { scenario, clock, stateDir } = options
    for (const { host, displays } of scenario.workstations) {
      this.workstations.set(host.name, {
        host: new BenchHost(host, join(stateDir, 'hosts', host.name), clock),
        displays: displays.map((traits) => {
          const path = join(stateDir, 'displays', `${traits.serial}.json`)
          return new BenchDisplay(traits, clock, recall(path, traits, clock.now()), (memory) =>
            rememberAt(path, memory),
          )
        }),
        instruments: [],
        courier: null,
      })
    }
    this.instruments = scenario.instruments.map(
      (identity, i) =>
        new BenchColorimeter(identity, clock, (serial) => this.display(serial).light(), scenario.seed + i),
    )
  }

  private workstation(name: string): Workstation {
    const found = this.workstations.get(name)
    if (!found) throw new RangeError(`The bench has no workstation ${name}.`)
    return found
  }

  /** A display by serial. RangeError for an unknown one. */
  display(serial: string): BenchDisplay {
    for (const { displays } of this.workstations.values()) {
      const found = displays.find((d) => d.identity.serial === serial)
      if (found) return found
    }
    throw new RangeError(`The bench has no display ${serial}.`)
  }

  instrument(serial: string): BenchColorimeter {
    const found = this.instruments.find((i) => i.identity.serial === serial)
    if (!found) throw new RangeError(`The bench has no instrument ${serial}.`)
    return found
  }

  host(workstation: string): BenchHost {
    return this.workstation(workstation).host
  }

  /** What a display emits for signals now, cd/m², noise-free; for tests, never for the server. */
  truth(serial: string, signals: readonly Triple[]): XYZ[] {
    return signals.map((signal) => this.display(serial).truth(signal))
  }

  /** Plugs an instrument into one workstation, after unplugging it from any other. Couriers connected say so anew. */
  carry(instrumentSerial: string, workstation: string): void {
    const instrument = this.instrument(instrumentSerial)
    for (const [name, w] of this.workstations) {
      const at = w.instruments.indexOf(instrument)
      if (at < 0 || name === workstation) continue
      w.instruments.splice(at, 1)
      this.reconnect(name)
    }
    const there = this.workstation(workstation).instruments
    if (there.includes(instrument)) return
    there.push(instrument)
    this.reconnect(workstation)
  }

  private reconnect(name: string) {
    if (!this.workstation(name).courier) return
    this.disconnect(name)
    this.connect(name)
  }

  /** Starts a workstation's courier. RangeError when there is no key for it. */
  connect(name: string): void {
    const workstation = this.workstation(name)
    const key = this.options.keys[name]
    if (!key) throw new RangeError(`The bench has no enrolment key for ${name}.`)
    const { displays, instruments, host } = workstation
    workstation.courier = new Courier({
      server: this.options.server,
      key,
      clock: this.options.clock,
      devices: { displays, instruments, host },
      retryMs: this.options.retryMs,
      onRefused: (sentence) => this.options.onRefused?.(name, sentence),
    })
    workstation.courier.start()
  }

  disconnect(name: string): void {
    this.workstation(name).courier?.stop()
    this.workstation(name).courier = null
  }

  stop(): void {
    for (const name of this.workstations.keys()) this.disconnect(name)
  }
}
