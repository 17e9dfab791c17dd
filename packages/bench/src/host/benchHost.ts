import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { Triple } from '@bichroma/core/color'
import type { OperatingSystem } from '@bichroma/core/register'
import type { SignalRange } from '@bichroma/core/tables'
import type { ProgramFound } from '@bichroma/core/rollout'
import {
  hostConditionNames,
  type Associations,
  type Binding,
  type HostChange,
  type HostCondition,
  type HostFacts,
} from '@bichroma/contract'
import { DeviceFault, nodeHash, type HostDevice } from '@bichroma/courier'
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
  /** Programs that show pictures, as they are set at first. */
  readonly programs: readonly ProgramFound[]
  /** Settings that this system does not tell. */
  readonly untold?: readonly HostCondition[]
}

/** Durations at real pace, ms. */
const takes = { place: 600, bind: 300, remove: 200, set: 200, note: 100 }
/** Longest path that its system takes. */
const longestPath = 259
/** Systems on which names that differ in case only are one. */
const foldsCase: readonly OperatingSystem[] = ['windows', 'macos']
/** Systems that tell what bound a profile last. */
const tellsBy: readonly OperatingSystem[] = ['windows', 'linux']

/** When a courier dies while it places a profile. */
export const deaths = ['before the write', 'before the binding', 'before the answer'] as const
export type Death = (typeof deaths)[number]
/** How long nobody has touched a workstation when the bench starts, ms. */
const idleAtFirst = 4 * 3_600_000

/** A simulated workstation: a profile store of real files under a root of its own, and its system's own bindings. */
export class BenchHost implements HostDevice {
  readonly conditions: Record<HostCondition, boolean> = Object.fromEntries(
    hostConditionNames.map((n) => [n, false]),
  ) as Record<HostCondition, boolean>
  systemVersion: string
  diskFull = false
  /** Its folders of profiles cannot be written. */
  readOnly = false
  longestPath = longestPath
  /** Half of the next file is lost, and nobody says so. */
  cutNextFile = false
  /** It tells nobody when something changes. */
  deaf = false
  /** When the courier dies at the next placing, and what happens to it then. */
  dies: { readonly at: Death; readonly die: () => void } | null = null
  /** What stands on the screen for whoever works there. */
  note: string | null = null
  /** The page of the desk on the server, and what whoever works there is told. */
  desk: { page: string | null; messages: readonly { id: number; text: string }[] } = { page: null, messages: [] }
  private readonly set: ProgramFound[]
  private readonly by = new Map<string, string>()
  private readonly listeners = new Set<(what: HostChange | 'displays') => void>()
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
    this.set = traits.programs.map((p) => ({ ...p }))
    this.leftAt = clock.now() - idleAtFirst
  }

  /** Somebody sits down at it, or leaves. */
  attend(on: boolean): void {
    if (this.atWork && !on) this.leftAt = this.clock.now()
    this.atWork = on
  }

  async facts(): Promise<HostFacts> {
    const { name, operatingSystem } = this.traits
    return {
      name,
      operatingSystem,
      systemVersion: this.systemVersion,
      conditions: {
        ...this.conditions,
        ...Object.fromEntries((this.traits.untold ?? []).map((condition) => [condition, null])),
      },
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

  /** Calls whenever something changes that no command asked for; gives what ends that. */
  watch(told: (what: HostChange | 'displays') => void): () => void {
    this.listeners.add(told)
    return () => this.listeners.delete(told)
  }

  /** Another display is plugged in, or one was pulled. */
  tellDisplays(): void {
    this.tell('displays')
  }

  private tell(what: HostChange | 'displays') {
    if (!this.deaf) for (const told of this.listeners) told(what)
  }

  private busy: Promise<unknown> = Promise.resolve()

  /** One change of its stores after another, as a system keeps it. */
  private alone<T>(work: () => Promise<T>): Promise<T> {
    const done = this.busy.then(work)
    this.busy = done.catch(() => {})
    return done
  }

  private dieAt(at: Death) {
    const { dies } = this
    if (dies?.at !== at) return
    this.dies = null
    dies.die()
    throw new Error('The courier died.')
  }

  /** The file that has a name already, by the rules of its system; null when none has. */
  private async holderOf(scope: Scope, fileName: string): Promise<string | null> {
    const folds = foldsCase.includes(this.traits.operatingSystem)
    const alike = (name: string) => (folds ? name.toLowerCase() === fileName.toLowerCase() : name === fileName)
    const folder = join(this.root, profileFolders[this.traits.operatingSystem][scope])
    return (await readdir(folder).catch((): string[] => [])).find(alike) ?? null
  }

  private mayWrite(scope: Scope, path: string) {
    const { name, operatingSystem, administrator } = this.traits
    const at = shownPath(operatingSystem, path)
    if (scope === 'machine' && !administrator)
      throw new DeviceFault(
        'privilege',
        `The courier on ${name} has no administrator rights, so it cannot place a profile for the whole machine. Place it for the user, or run the courier as an administrator.`,
      )
    if (at.length > this.longestPath)
      throw new DeviceFault('path', `${at} is longer than ${name} takes. Give the profile a shorter name.`)
    if (this.readOnly)
      throw new DeviceFault(
        'read-only',
        `The folder of ${at} is read-only on ${name}. See that the courier may write there.`,
      )
    if (this.diskFull)
      throw new DeviceFault(
        'disk-full',
        `The disk of ${name} is full. Free some room, then verify the placement again.`,
      )
  }

  async placeProfile(
    displaySerial: string,
    fileName: string,
    bytes: Uint8Array,
    scope: Scope,
    { replaces = [], unbinds = [] }: { replaces?: readonly string[]; unbinds?: readonly string[] } = {},
  ) {
    const { name, operatingSystem } = this.traits
    this.mayWrite(scope, this.pathOf(scope, fileName))
    const path = await this.alone(async () => {
      const holder = await this.holderOf(scope, fileName)
      const path = this.pathOf(scope, holder ?? fileName)
      if (holder !== null) {
        const held = nodeHash(await readFile(join(this.root, path)))
        if (held !== nodeHash(bytes) && !replaces.includes(held))
          throw new DeviceFault(
            'name-taken',
            `${shownPath(operatingSystem, path)} on ${name} is another’s file, and it stays. Give the profile another name.`,
          )
      }
      this.dieAt('before the write')
      const written = this.cutNextFile ? bytes.subarray(0, bytes.length >> 1) : bytes
      this.cutNextFile = false
      await this.replaceFile(join(this.root, path), written)
      this.dieAt('before the binding')
      await this.add(displaySerial, holder ?? fileName, scope, unbinds)
      this.by.set(displaySerial, 'Bichroma')
      return path
    })
    this.dieAt('before the answer')
    await this.clock.pass(takes.place)
    return { path: shownPath(operatingSystem, path) }
  }

  /** Binds what is named to a display, and nothing else. */
  async bind(displaySerial: string, associations: Associations): Promise<void> {
    if (this.readOnly || this.diskFull) this.mayWrite(associations.perUser ? 'user' : 'machine', '')
    await this.alone(() =>
      this.associate(displaySerial, {
        machine: [...associations.machine],
        user: [...associations.user],
        perUser: associations.perUser,
      }),
    )
    this.by.set(displaySerial, 'Bichroma')
    await this.clock.pass(takes.bind)
  }

  /** Removes a file that holds what is named and that nothing has. */
  async removeProfile(fileName: string, scope: Scope, hash: string): Promise<boolean> {
    const path = join(this.root, this.pathOf(scope, fileName))
    await this.clock.pass(takes.remove)
    return this.alone(async () => {
      const held = await readFile(path).then(nodeHash, () => null)
      const had = Object.values(await this.bindings()).some((b) => b[scope].includes(fileName))
      if (held !== hash || had || this.readOnly) return false
      await rm(path)
      return true
    })
  }

  /** A profile more for a display, as its default, as anybody at the workstation could; it may wait for a sign-out. */
  private async add(serial: string, fileName: string, scope: Scope, unbinds: readonly string[] = []) {
    const bound = ((await this.bindings())[serial] as Bound | undefined) ?? { machine: [], user: [], perUser: false }
    const left = (names: readonly string[]) => names.filter((n) => n !== fileName && !unbinds.includes(n))
    await this.associate(serial, {
      machine: left(bound.machine),
      user: left(bound.user),
      [scope]: [...left(bound[scope]), fileName],
      // Who places for the machine means everybody: the user's own choice must not stand before it.
      perUser: scope === 'user',
      ...(scope === 'machine' && { user: [] }),
    })
  }

  private async associate(serial: string, to: Bound) {
    const bindings = await this.bindings()
    const was = bindings[serial] as Bound | undefined
    bindings[serial] = to
    await this.replaceFile(join(this.root, this.bindingStore.path), this.bindingStore.write(bindings))
    const scope = inForce(to)?.scope
    const waitsFor = scope ? this.bindingStore.waitsFor[scope] : null
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
      hash: await readFile(join(this.root, path)).then(nodeHash, () => null),
      waitsFor,
      associations: { machine: [...bound.machine], user: [...bound.user], perUser: bound.perUser },
      by: (tellsBy.includes(this.traits.operatingSystem) && this.by.get(serial)) || null,
    }
  }

  /** What the system binds to each display; where that waits for something, it says for what. */
  async listInForce(): Promise<Binding[]> {
    const listed = await Promise.all(
      Object.entries(await this.bindings()).map(([serial, bound]) =>
        this.asBinding(serial, bound, this.before.get(serial)?.waitsFor ?? null),
      ),
    )
    return listed.filter((b) => b !== null)
  }

  async programs(): Promise<ProgramFound[]> {
    return this.set.map((p) => ({ ...p }))
  }

  async setProgram(name: string, change: Partial<Pick<ProgramFound, 'colorManagement' | 'version4'>>): Promise<void> {
    const at = this.set.findIndex((p) => p.name === name && p.settable)
    if (at < 0)
      throw new DeviceFault('privilege', `The switches of ${name} on ${this.traits.name} are for people to turn.`)
    this.set[at] = { ...this.set[at], ...change }
    await this.clock.pass(takes.set)
  }

  async leaveNote(text: string | null): Promise<void> {
    this.note = text
    await this.clock.pass(takes.note)
  }

  async tellDesk(page: string | null, messages: readonly { id: number; text: string }[]): Promise<void> {
    // Told when the server has time for it: it takes none of the displays', so that a trial is the same again.
    this.desk = { page, messages }
  }

  // — what people and systems do —

  /** The person signs out and in again, which a restart does as well. */
  signOut(): void {
    for (const [serial, { waitsFor }] of this.before) if (waitsFor === 'sign-out') this.before.delete(serial)
    this.tell('session')
  }

  restart(): void {
    this.before.clear()
    this.tell('session')
  }

  /** Somebody, a game or an update binds another profile to a display. */
  async replaceProfile(displaySerial: string, by: string): Promise<void> {
    const name = `${by.replaceAll(/[^a-z0-9]+/gi, '-')}.icc`
    await this.alone(async () => {
      const bytes = new TextEncoder().encode(`A profile that ${by} put here.`)
      await this.replaceFile(join(this.root, this.pathOf('user', name)), bytes)
      await this.add(displaySerial, name, 'user')
    })
    this.by.set(displaySerial, by)
    this.before.delete(displaySerial)
    this.tell('bindings')
  }

  /** Somebody takes every profile from a display. */
  async unbind(displaySerial: string): Promise<void> {
    await this.alone(() => this.associate(displaySerial, { machine: [], user: [], perUser: false }))
    this.by.delete(displaySerial)
    this.tell('bindings')
  }

  /** A file of somebody else’s. */
  async putFile(scope: Scope, name: string, bytes: Uint8Array): Promise<void> {
    await this.alone(() => this.replaceFile(join(this.root, this.pathOf(scope, name)), bytes))
    this.tell('bindings')
  }

  /** Somebody removes a file, or cleans up. */
  async deleteFile(scope: Scope, name: string): Promise<void> {
    await this.alone(() => rm(join(this.root, this.pathOf(scope, name)), { force: true }))
    this.tell('bindings')
  }

  /** Every file of its folders by scope and name, with its SHA-256. */
  async files(): Promise<{ scope: Scope; name: string; hash: string }[]> {
    const found: { scope: Scope; name: string; hash: string }[] = []
    for (const scope of ['machine', 'user'] as const) {
      const folder = join(this.root, profileFolders[this.traits.operatingSystem][scope])
      for (const name of await readdir(folder).catch((): string[] => []))
        found.push({ scope, name, hash: nodeHash(await readFile(join(folder, name))) })
    }
    return found
  }

  /** Somebody turns a switch of a program. */
  turnSwitch(name: string, change: Partial<Pick<ProgramFound, 'colorManagement' | 'version4'>>): void {
    const at = this.set.findIndex((p) => p.name === name)
    if (at < 0) throw new RangeError(`${this.traits.name} has no program ${name}.`)
    this.set[at] = { ...this.set[at], ...change }
    this.tell('programs')
  }

  /** An update of the system: a new version, settings back to how their maker likes them, everybody signed out. */
  updateSystem(version: string): void {
    this.systemVersion = version
    this.conditions.eveningTint = true
    this.conditions.screenSaver = true
    this.restart()
  }
}
