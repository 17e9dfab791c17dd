import { mkdir, readFile, rename, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { Triple } from '@bichroma/core/color'
import { contentHash } from '@bichroma/core/profiles'
import type { OperatingSystem } from '@bichroma/core/register'
import type { SignalRange } from '@bichroma/core/tables'
import { hostConditionNames, type Binding, type HostCondition, type HostFacts } from '@bichroma/contract'
import { DeviceFault, type HostDevice } from '@bichroma/courier'
import type { BenchClock } from '../benchClock'
import type { RoomLight } from '../light/roomLight'
import { bindingStores, inForce, type Bound } from './bindingStores'
import { profileFolders, shownPath, type Scope } from './profileFolders'
import { automaticFactors, signalOnScreen } from './screenEffects'

/** A workstation of a scenario. */
export interface HostTraits {
  readonly name: string
  readonly operatingSystem: OperatingSystem
  readonly systemVersion: string
  /** The courier runs with administrator rights, so that it may write for the whole machine. */
  readonly administrator: boolean
  readonly signalRange: SignalRange
  readonly applications: HostFacts['applications']
  /** Settings that this system does not tell. */
  readonly untold?: readonly HostCondition[]
}

/** Durations at real pace, ms. */
const takes = { place: 600, list: 200 }
/** How long nobody has touched a workstation when the bench starts, ms. */
const idleAtFirst = 4 * 3_600_000

/** A simulated workstation: a profile store of real files under a root of its own, and its system's own bindings. */
export class BenchHost implements HostDevice {
  readonly conditions: Record<HostCondition, boolean> = Object.fromEntries(
    hostConditionNames.map((n) => [n, false]),
  ) as Record<HostCondition, boolean>
  systemVersion: string
  diskFull = false
  /** Somebody works at it. */
  private atWork = false
  private leftAt: number
  /** How far its own clock is off, ms. */
  clockShiftMs = 0
  /** What is bound but waits for a sign-out or restart: what is in force until then, by display. */
  private readonly before = new Map<string, { found: Bound | undefined; waitsFor: 'sign-out' | 'restart' }>()

  constructor(
    readonly traits: HostTraits,
    private readonly root: string,
    private readonly clock: BenchClock,
  ) {
    this.systemVersion = traits.systemVersion
    this.leftAt = clock.now() - idleAtFirst
  }

  /** Somebody sits down at it, or leaves. */
  attend(on: boolean): void {
    if (this.atWork && !on) this.leftAt = this.clock.now()
    this.atWork = on
  }

  async facts(): Promise<HostFacts> {
    const { name, operatingSystem, applications } = this.traits
    return {
      name,
      operatingSystem,
      systemVersion: this.systemVersion,
      conditions: {
        ...this.conditions,
        ...Object.fromEntries((this.traits.untold ?? []).map((condition) => [condition, null])),
      },
      applications: [...applications],
      idleMinutes: this.atWork ? 0 : Math.max(0, (this.clock.now() - this.leftAt) / 60_000),
      clock: Math.round(this.clock.wall() + this.clockShiftMs),
    }
  }

  get signalRange(): SignalRange {
    return this.traits.signalRange
  }

  signal(rgb: Triple): Triple {
    return signalOnScreen(this.conditions, rgb)
  }

  lightFactors(room: RoomLight): Triple {
    return automaticFactors(this.conditions, room)
  }

  private get bindingStore() {
    return bindingStores[this.traits.operatingSystem]
  }

  private async bindings(): Promise<Record<string, Bound>> {
    try {
      return this.bindingStore.read(await readFile(join(this.root, this.bindingStore.path), 'utf8'))
    } catch {
      return {}
    }
  }

  private pathOf(scope: Scope, name: string) {
    return join(profileFolders[this.traits.operatingSystem][scope], name)
  }

  async placeProfile(displaySerial: string, fileName: string, bytes: Uint8Array, scope: Scope) {
    const { name, operatingSystem, administrator } = this.traits
    if (scope === 'machine' && !administrator)
      throw new DeviceFault(
        'privilege',
        `The courier on ${name} has no administrator rights, so it cannot place a profile for the whole machine. Place it for the user, or run the courier as an administrator.`,
      )
    const path = this.pathOf(scope, fileName)
    if (this.diskFull)
      throw new DeviceFault(
        'disk-full',
        `The disk of ${name} is full. Free some room, then verify the placement again.`,
      )
    try {
      await this.bind(displaySerial, fileName, bytes, scope)
    } catch {
      throw new DeviceFault(
        'privilege',
        `The profile could not be written to ${shownPath(operatingSystem, path)}. See that the courier may write there.`,
      )
    }
    await this.clock.pass(takes.place)
    return { path: shownPath(operatingSystem, path) }
  }

  /** Writes a profile and binds it, as anybody at the workstation could; it may wait for a sign-out to be in force. */
  private async bind(serial: string, fileName: string, bytes: Uint8Array, scope: Scope) {
    await this.replaceFile(join(this.root, this.pathOf(scope, fileName)), bytes)
    const bindings = await this.bindings()
    const was = bindings[serial] as Bound | undefined
    const bound = was ?? { machine: [], user: [], perUser: false }
    bindings[serial] = {
      ...bound,
      [scope]: [...bound[scope].filter((n) => n !== fileName), fileName],
      // Who places for the machine means everybody: the user's own choice must not stand before it.
      perUser: scope === 'user',
      ...(scope === 'machine' && { user: [] }),
    }
    await this.replaceFile(join(this.root, this.bindingStore.path), this.bindingStore.write(bindings))
    const waitsFor = this.bindingStore.waitsFor[scope]
    if (waitsFor && !this.before.has(serial)) this.before.set(serial, { found: was, waitsFor })
    if (!waitsFor) this.before.delete(serial)
  }

  private async replaceFile(path: string, content: Uint8Array | string) {
    await mkdir(dirname(path), { recursive: true })
    await writeFile(`${path}.new`, content)
    await rename(`${path}.new`, path)
  }

  private async asBinding(
    serial: string,
    bound: Bound | undefined,
    waitsFor: Binding['waitsFor'],
  ): Promise<Binding | null> {
    const chosen = bound && inForce(bound)
    if (!chosen) return null
    const path = this.pathOf(chosen.scope, chosen.name)
    return {
      serial,
      scope: chosen.scope,
      path: shownPath(this.traits.operatingSystem, path),
      hash: await readFile(join(this.root, path)).then(contentHash, () => null),
      waitsFor,
    }
  }

  /** What the system binds to each display; where that waits for something, it says for what. */
  async listInForce(): Promise<Binding[]> {
    await this.clock.pass(takes.list)
    const listed = await Promise.all(
      Object.entries(await this.bindings()).map(([serial, bound]) =>
        this.asBinding(serial, bound, this.before.get(serial)?.waitsFor ?? null),
      ),
    )
    return listed.filter((b) => b !== null)
  }

  // — what people and systems do —

  /** The person signs out and in again, which a restart does as well. */
  signOut(): void {
    for (const [serial, { waitsFor }] of this.before) if (waitsFor === 'sign-out') this.before.delete(serial)
  }

  restart(): void {
    this.before.clear()
  }

  /** Somebody, a game or an update binds another profile to a display. */
  async replaceProfile(displaySerial: string, by: string): Promise<void> {
    const bytes = new TextEncoder().encode(`A profile that ${by} put here.`)
    await this.bind(displaySerial, `${by.replaceAll(/[^a-z0-9]+/gi, '-')}.icc`, bytes, 'user')
    this.before.delete(displaySerial)
  }

  /** An update of the system: a new version, settings back to how their maker likes them, everybody signed out. */
  updateSystem(version: string): void {
    this.systemVersion = version
    this.conditions.eveningTint = true
    this.conditions.screenSaver = true
    this.restart()
  }
}
