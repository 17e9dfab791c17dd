import { join } from 'node:path'
import type { Triple, XYZ } from '@bichroma/core/color'
import { Courier } from '@bichroma/courier'
import type { BenchClock } from './benchClock'
import { BenchDisplay } from './display/benchDisplay'
import { fileStore } from './display/displayMemory'
import { BenchHost } from './host/benchHost'
import { BenchInstrument } from './instrument/benchInstrument'
import { lightNow, type LitRoom } from './light/daylight'
import type { RoomLight } from './light/roomLight'
import { seedOf } from './random'
import type { Scenario } from './scenario/scenario'

export interface BenchOptions {
  readonly scenario: Scenario
  readonly server: string
  /** Enrolment keys by workstation name. A workstation without one stays switched off. */
  readonly keys: Readonly<Record<string, string>>
  readonly clock: BenchClock
  /** Folder in which displays and profile stores remember. */
  readonly stateDir: string
  /** The instant that the scenario describes, ms since 1970; now unless given. */
  readonly scenarioAt?: number
  readonly retryMs?: number
  readonly onRefused?: (workstation: string, sentence: string) => void
}

interface Workstation {
  readonly host: BenchHost
  readonly room: string
  readonly clock: BenchClock
  readonly displays: BenchDisplay[]
  readonly instruments: BenchInstrument[]
  /** How its courier's answers leave: late by so many ms (wall time), and how often each. */
  readonly line: { lateMs: number; times: number }
  courier: Courier | null
}

const day = 86_400_000

/** Many simulated workstations with their couriers in one process. */
export class Bench {
  private readonly workstations = new Map<string, Workstation>()
  private readonly displays = new Map<string, BenchDisplay>()
  private readonly instruments = new Map<string, BenchInstrument>()
  private readonly rooms = new Map<string, LitRoom>()
  /** The workstation that displays which several reach show the picture of. */
  private readonly inputs = new Map<string, string>()

  constructor(private readonly options: BenchOptions) {
    const { scenario, clock, stateDir } = options
    for (const [name, light] of Object.entries(scenario.rooms)) this.rooms.set(name, light)
    for (const { host: traits, room, displays } of scenario.workstations) {
      const lane = clock.lane()
      const host = new BenchHost(traits, join(stateDir, 'hosts', traits.name), lane)
      const made = displays.map((d) => {
        // Wherever it is plugged in by then.
        const holder = () => this.workstationOf(d.serial) ?? { host, room }
        const surroundings = {
          get signalRange() {
            return holder().host.signalRange
          },
          signal: (rgb: Triple) => holder().host.signal(rgb),
          lightFactors: (light: RoomLight) => holder().host.lightFactors(light),
          room: () => this.room(holder().room),
        }
        return new BenchDisplay(d, lane, fileStore(join(stateDir, 'displays'), d.serial), surroundings)
      })
      for (const display of made) this.displays.set(display.identity.serial, display)
      this.workstations.set(traits.name, {
        host,
        room,
        clock: lane,
        displays: made,
        instruments: [],
        line: { lateMs: 0, times: 1 },
        courier: null,
      })
    }
    const at = options.scenarioAt ?? clock.wall()
    for (const { serial, model, certifiedDaysAgo, wear } of scenario.instruments) {
      const traits = {
        serial,
        model,
        wear,
        certifiedAt: certifiedDaysAgo === null ? null : Math.floor(at - certifiedDaysAgo * day),
      }
      this.instruments.set(
        serial,
        new BenchInstrument(
          traits,
          clock,
          (display) => this.display(display),
          () => this.room(this.roomOfInstrument(serial)),
          seedOf(scenario.seed, serial),
        ),
      )
    }
  }

  private workstation(name: string): Workstation {
    const found = this.workstations.get(name)
    if (!found) throw new RangeError(`The bench has no workstation ${name}.`)
    return found
  }

  /** A display by serial. RangeError for an unknown one. */
  display(serial: string): BenchDisplay {
    const found = this.displays.get(serial)
    if (!found) throw new RangeError(`The bench has no display ${serial}.`)
    return found
  }

  instrument(serial: string): BenchInstrument {
    const found = this.instruments.get(serial)
    if (!found) throw new RangeError(`The bench has no instrument ${serial}.`)
    return found
  }

  host(workstation: string): BenchHost {
    return this.workstation(workstation).host
  }

  /** The light of a room now: its lamps, and what comes in at the windows. */
  room(name: string): RoomLight {
    return lightNow(this.litRoom(name), this.options.clock.now(), seedOf(this.options.scenario.seed, name))
  }

  private litRoom(name: string): LitRoom {
    const found = this.rooms.get(name)
    if (!found) throw new RangeError(`The bench has no room ${name}.`)
    return found
  }

  setRoom(name: string, change: Partial<LitRoom>): void {
    this.rooms.set(name, { ...this.litRoom(name), ...change })
  }

  private roomOfInstrument(serial: string): string {
    const instrument = this.instrument(serial)
    for (const { instruments, room } of this.workstations.values()) if (instruments.includes(instrument)) return room
    return this.rooms.keys().next().value as string
  }

  /** Names of the workstations. */
  get names(): string[] {
    return [...this.workstations.keys()]
  }

  /** Jumps to a later instant, ms since 1970; for making history on a bench that does not wait. */
  jumpTo(at: number): void {
    this.options.clock.jumpTo(at)
  }

  /** What whoever works at each desk is told, by workstation. */
  desks() {
    return Object.fromEntries([...this.workstations].map(([name, { host }]) => [name, host.desk]))
  }

  /** Everything as it stands, for the bench panel. */
  overview() {
    return {
      rooms: [...this.rooms.keys()].map((name) => ({ name, ...this.room(name) })),
      workstations: [...this.workstations].map(([name, { host, room, displays, instruments, courier, line }]) => ({
        name,
        room,
        operatingSystem: host.traits.operatingSystem,
        systemVersion: host.systemVersion,
        online: courier !== null,
        diskFull: host.diskFull,
        clockShiftMinutes: host.clockShiftMs / 60_000,
        ...line,
        conditions: host.conditions,
        displays: displays.map(({ identity, memory, dataLink, connected, sleeps }) => ({
          serial: identity.serial,
          model: `${identity.maker} ${identity.model}`,
          dataLink,
          connected,
          sleeps,
          activeSlot: memory.activeSlot,
          slots: memory.slots.map(({ label, backlight }) => ({ label, backlight })),
          gains: identity.gains && memory.gains,
          inputRange: memory.inputRange,
          dynamicContrast: memory.dynamicContrast,
        })),
        instruments: instruments.map((i) => i.identity.serial),
      })),
      instruments: [...this.instruments.values()].map(({ identity, seat, pluggedIn }) => ({
        serial: identity.serial,
        model: `${identity.maker} ${identity.model}`,
        seat,
        pluggedIn,
      })),
    }
  }

  /** What a display emits for signals now, cd/m², noise-free; for tests, never for the server. */
  truth(serial: string, signals: readonly Triple[]): XYZ[] {
    return signals.map((signal) => this.display(serial).truth(signal))
  }

  /** Plugs an instrument into one workstation, after unplugging it from any other. Couriers connected say so anew. */
  carry(instrumentSerial: string, workstation: string): void {
    const instrument = this.instrument(instrumentSerial)
    const there = this.workstation(workstation)
    for (const [name, w] of this.workstations) {
      const at = w.instruments.indexOf(instrument)
      if (at < 0 || name === workstation) continue
      w.instruments.splice(at, 1)
      this.reconnect(name)
    }
    if (there.instruments.includes(instrument)) return
    there.instruments.push(instrument)
    instrument.clock = there.clock
    this.reconnect(workstation)
  }

  /** The workstation that a display shows the picture of. */
  private workstationOf(serial: string): Workstation | undefined {
    const shown = this.inputs.get(serial)
    if (shown) return this.workstations.get(shown)
    return [...this.workstations.values()].find((w) => w.displays.some((d) => d.identity.serial === serial))
  }

  /** Plugs a display into another workstation, after pulling it from any other. Their couriers say so. */
  plug(serial: string, workstation: string): void {
    const display = this.display(serial)
    const there = this.workstation(workstation)
    for (const w of this.workstations.values()) {
      const at = w.displays.indexOf(display)
      if (at < 0 || w === there) continue
      w.displays.splice(at, 1)
      w.host.tellDisplays()
    }
    this.inputs.delete(serial)
    if (!there.displays.includes(display)) there.displays.push(display)
    there.host.tellDisplays()
  }

  /** Plugs a display into one more workstation: a switch, or a second cable. It shows the picture of the one before. */
  share(serial: string, workstation: string): void {
    const display = this.display(serial)
    const first = [...this.workstations].find(([, w]) => w.displays.includes(display))
    if (first && !this.inputs.has(serial)) this.inputs.set(serial, first[0])
    const there = this.workstation(workstation)
    if (!there.displays.includes(display)) there.displays.push(display)
    there.host.tellDisplays()
  }

  /** Somebody switches a display that several workstations reach to the picture of another. */
  showFrom(serial: string, workstation: string): void {
    if (!this.workstation(workstation).displays.includes(this.display(serial)))
      throw new RangeError(`${serial} is not plugged into ${workstation}.`)
    this.inputs.set(serial, workstation)
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
    workstation.courier?.stop()
    const { displays, instruments, host, line, clock } = workstation
    workstation.courier = new Courier({
      server: this.options.server,
      key,
      clock,
      devices: {
        displays,
        instruments,
        host,
        watch: (told) => {
          const ends = [host, ...this.displays.values()].map((device) =>
            device.watch((what) => {
              if (device === host || displays.includes(device as BenchDisplay)) told(what)
            }),
          )
          return () => ends.forEach((end) => end())
        },
      },
      retryMs: this.options.retryMs,
      onRefused: (sentence) => this.options.onRefused?.(name, sentence),
      outgoing: (send) => {
        const all = () => {
          for (let i = 0; i < line.times; i++) send()
        }
        if (line.lateMs > 0) setTimeout(all, line.lateMs)
        else all()
      },
    })
    workstation.courier.start()
  }

  disconnect(name: string): void {
    this.workstation(name).courier?.stop()
    this.workstation(name).courier = null
  }

  /** Makes a workstation's courier answer late by so many ms of wall time, or more than once. */
  disturbLine(name: string, change: { lateMs?: number; times?: number }): void {
    Object.assign(this.workstation(name).line, change)
  }

  stop(): void {
    for (const name of this.workstations.keys()) this.disconnect(name)
  }
}
