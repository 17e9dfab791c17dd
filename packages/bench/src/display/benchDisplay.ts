import type { Triple, XYZ } from '@bichroma/core/color'
import { quantizeSignal, type SignalRange } from '@bichroma/core/tables'
import type { CourierDisplay, DisplayControls, LoaderState } from '@bichroma/contract'
import { DeviceFault, type DisplayDevice } from '@bichroma/courier'
import type { BenchClock } from '../benchClock'
import { scaleLight, xyzOfLight, type Light } from '../light/light'
import { reflectedLight, type RoomLight } from '../light/roomLight'
import { PanelModel, type PanelState } from '../panel/panelModel'
import type { PanelTraits } from '../panel/panelSchema'
import { centre, type Place } from '../panel/surface'
import { seedOf } from '../random'
import { factoryMemory, passingStore, type DisplayMemory, type DisplayStore } from './displayMemory'
import { shareOfFormer, type Change } from './response'
import { overTheCable, withGains } from './signalPath'
import { DisplaySlots, type NextFaults } from './displaySlots'

/** One display of a scenario: which model, which piece of it, and how it has been used. */
export interface DisplayTraits {
  readonly serial: string
  readonly panel: PanelTraits
  /** Hours of use when the scenario begins, and hours a day since. */
  readonly hours: number
  readonly hoursPerDay: number
  /** Minutes that it has been on when the bench starts. */
  readonly warmMinutes: number
}

/** What stands around a display: the workstation's picture, and the light in the room. */
export interface Surroundings {
  readonly signalRange: SignalRange
  /** What the workstation makes of a signal before it leaves it. */
  signal(rgb: Triple): Triple
  /** What the workstation's automatics do to the light of the channels in this room. */
  lightFactors(room: RoomLight): Triple
  readonly room: () => RoomLight
}

/** Durations at real pace, ms. */
const takes = { draw: 20, control: 250, activate: 1400, powerCycle: 20_000 }
/** Offsets at the display's buttons are steps of this share of full drive. */
const offsetStep = 0.002
/** Share of the screen that a patch fills unless the courier asks for another. */
const usualArea = 0.1

const nowhere: Surroundings = {
  signalRange: 'full',
  signal: (rgb) => rgb,
  lightFactors: () => [1, 1, 1],
  room: () => ({ illuminanceLux: 0, kelvin: 5000 }),
}

/** A simulated display: a panel behind the pipelines of its slots, with a data link that can be unplugged. */
export class BenchDisplay implements DisplayDevice {
  readonly identity: CourierDisplay
  readonly memory: DisplayMemory
  private readonly panel: PanelModel
  private readonly slots: DisplaySlots
  private onSince: number
  private asleep = false
  /** Until when it was told to stay awake. */
  private awakeUntil = -Infinity
  private pipeline: 'slot' | 'bypass' = 'slot'
  private shown: Triple = [0, 0, 0]
  private area = usualArea
  private change: Change | null = null
  private named: { lines: string[]; until: number } | null = null
  /** The data cable beside the video cable. */
  dataLink = true
  /** The video cable and the mains. */
  private cable = true
  /** What of its slot lies in the video card is there; for one whose tables live there. */
  private loader: LoaderState = 'on'
  private readonly listeners = new Set<(what: 'slots' | 'loaders' | 'displays') => void>()
  /** Faults that are waiting to happen: once each. */
  readonly next: NextFaults = { damageWrite: false, cutWrite: false, corruptRead: false }

  constructor(
    readonly traits: DisplayTraits,
    private readonly clock: BenchClock,
    private readonly store: DisplayStore = passingStore(),
    private readonly surroundings: Surroundings = nowhere,
  ) {
    const { panel } = traits
    this.panel = new PanelModel(panel, seedOf(traits.serial))
    this.onSince = clock.now() - traits.warmMinutes * 60_000
    this.memory = store.recall() ?? factoryMemory(panel, traits.hours, clock.now())
    this.slots = new DisplaySlots({
      panel,
      memory: this.memory,
      store,
      clock,
      next: this.next,
      needLink: () => this.needLink(),
      unplug: () => (this.dataLink = false),
      save: () => this.save(),
    })
    this.identity = {
      serial: traits.serial,
      maker: panel.maker,
      model: panel.model,
      firmware: panel.firmware,
      panelKind: panel.light.source,
      slots: panel.tables.slots,
      tablesIn: panel.tables.in,
      pipeline: panel.tables.pipeline,
      gamutTargets: panel.tables.gamut,
      presets: Array.from({ length: panel.tables.slots }, (_, i) => panel.tables.presets[i] ?? null),
      resetSeconds: panel.tables.resetSeconds,
      writeSeconds: this.slots.times.write / 1000,
      powerCycle: panel.tables.powerCycle,
      signalBits: panel.signal.bits,
      signalRange: surroundings.signalRange,
      backlight: { min: panel.control.min, max: panel.control.max },
      brightnessBy: panel.control.by,
      gains: panel.gains && { min: 0, max: panel.gains.max, factory: panel.gains.max, place: panel.gains.place },
    }
  }

  // — light —

  private get warmMinutes() {
    if (this.asleep) return 0
    return Math.max(0, (this.clock.now() - this.onSince) / 60_000)
  }

  private get active() {
    return this.memory.slots[this.memory.activeSlot - 1]
  }

  private get hours() {
    return this.memory.hours + ((this.clock.now() - this.memory.countedAt) / 86_400_000) * this.traits.hoursPerDay
  }

  private get state(): PanelState {
    return {
      backlight: this.active.backlight,
      warmMinutes: this.warmMinutes,
      hours: this.hours,
      at: this.clock.now(),
      area: this.area,
    }
  }

  /** What the panel is driven with for a signal, 0–1 per channel. */
  private driveOf(signal: Triple): Triple {
    const { panel } = this.traits
    const { gains, offsets, inputRange } = this.memory
    const sent = this.surroundings.signal(quantizeSignal(signal, panel.signal.bits))
    const taken = overTheCable(sent, this.surroundings.signalRange, inputRange, panel.signal.bits)
    const gain = gains.map((g) => g / (panel.gains?.max ?? 100)) as unknown as Triple
    const offset = offsets.map((o) => o * offsetStep) as unknown as Triple
    const before = panel.gains?.place === 'before' ? withGains(taken, gain, offset) : taken
    const tables =
      this.pipeline === 'slot' && this.loader === 'on' ? this.slots.pipelineOf(this.memory.activeSlot) : null
    const out = tables ? tables(before) : before
    return panel.gains?.place === 'before' ? out : withGains(out, gain, offset)
  }

  private lightOf(signal: Triple, place: Place): Light {
    const drive = this.driveOf(signal)
    const light = this.panel.lightOfDrive(drive, this.state, place)
    const automatic = this.surroundings.lightFactors(this.surroundings.room())
    // A dark picture makes it turn its own light down.
    const contrast = this.memory.dynamicContrast ? 0.55 + 0.45 * Math.max(...drive) : 1
    return { ...light, weights: Array.from(light.weights, (w, i) => w * contrast * (automatic[i] ?? 1)) }
  }

  /** Light of what is shown, on average between two instants (ms), at a place of the screen. */
  lightBetween(from: number, to: number, place: Place = centre): Light {
    if (!this.connected || this.asleep) return { spectra: [], weights: [] }
    const light = this.lightOf(this.shown, place)
    if (!this.change) return light
    const left = shareOfFormer(this.traits.panel.time, this.change.at, from, to)
    if (left < 1e-6) return light
    const { from: former } = this.change
    return {
      spectra: [...light.spectra, ...former.spectra],
      weights: [...Array.from(light.weights, (w) => w * (1 - left)), ...Array.from(former.weights, (w) => w * left)],
    }
  }

  /** What the glass sends back of the room's light. */
  reflection(): Light {
    return reflectedLight(this.surroundings.room(), this.traits.panel.light.reflectance)
  }

  /** The room's light where it stands. */
  room(): RoomLight {
    return this.surroundings.room()
  }

  /** A projector is read from a stand: whatever room light falls on its screen is seen with it. */
  get readFromStand(): boolean {
    return this.traits.panel.form === 'projector'
  }

  /** XYZ in cd/m² that a signal would make now at a place, settled and without noise; for tests, never for the server. */
  truth(signal: Triple, place: Place = centre): XYZ {
    const light = xyzOfLight(this.lightOf(signal, place))
    if (!this.readFromStand) return light
    const room = xyzOfLight(this.reflection())
    return [light[0] + room[0], light[1] + room[1], light[2] + room[2]]
  }

  // — what it tells —

  /** Calls whenever hands change something that is told; gives what ends that. */
  watch(told: (what: 'slots' | 'loaders' | 'displays') => void): () => void {
    this.listeners.add(told)
    return () => this.listeners.delete(told)
  }

  private tell(what: 'slots' | 'loaders' | 'displays') {
    for (const told of this.listeners) told(what)
  }

  get connected(): boolean {
    return this.cable
  }

  set connected(on: boolean) {
    if (on !== this.cable) setImmediate(() => this.tell('displays'))
    this.cable = on
  }

  async shownSlot(): Promise<number | null> {
    return this.connected && this.dataLink ? this.memory.activeSlot : null
  }

  async curves(): Promise<LoaderState | null> {
    return this.traits.panel.tables.in === 'card' ? this.loader : null
  }

  async loadCurves(): Promise<void> {
    this.needPicture()
    await this.clock.pass(takes.control)
    this.loader = 'on'
  }

  /** The loader of the video card is turned off, or loses the curves, or gets them back. */
  setLoader(state: LoaderState): void {
    if (this.traits.panel.tables.in !== 'card')
      throw new RangeError('The tables of this display are in the display itself.')
    this.loader = state
    this.tell('loaders')
  }

  // — commands —

  private needPicture() {
    if (!this.connected)
      throw new DeviceFault('no-display', 'The display is not there. Plug its cable in at both ends and switch it on.')
  }

  private needLink() {
    this.needPicture()
    if (!this.dataLink)
      throw new DeviceFault(
        'data-link',
        'The display does not answer over its data cable. Plug the data cable in beside the video cable, at both ends.',
      )
  }

  /** What the memory held when it was last written, hours left out: they can be counted from any instant. */
  private written = ''

  private save() {
    const { hours: _hours, countedAt: _at, ...rest } = this.memory
    const text = JSON.stringify(rest)
    if (text === this.written) return
    this.written = text
    this.memory.hours = this.hours
    this.memory.countedAt = this.clock.now()
    this.store.remember(this.memory)
  }

  /** Nobody has used its workstation for a while: it goes to sleep and cools down, unless it was told to stay awake. */
  sleep(): void {
    if (this.clock.now() < this.awakeUntil) return
    this.asleep = true
  }

  get sleeps(): boolean {
    return this.asleep
  }

  private rouse() {
    if (!this.asleep) return
    this.asleep = false
    this.onSince = this.clock.now()
  }

  async wake(minutes: number) {
    this.needPicture()
    await this.clock.pass(takes.draw)
    this.rouse()
    this.awakeUntil = this.clock.now() + minutes * 60_000
  }

  async showPatch(rgb: Triple, area = usualArea, waitMs = 0) {
    this.needPicture()
    // A picture that is drawn wakes it.
    this.rouse()
    await this.clock.pass(takes.draw)
    const now = this.clock.now()
    const from = this.lightBetween(now, now)
    this.shown = rgb
    this.area = area
    this.change = { at: now, from: scaleLight(from, 1) }
    if (waitMs > 0) await this.clock.pass(waitMs)
  }

  async getControls(): Promise<DisplayControls> {
    this.needPicture()
    await this.clock.pass(takes.control)
    const { gains, inputRange, activeSlot, dynamicContrast } = this.memory
    return {
      backlight: this.active.backlight,
      pipeline: this.pipeline,
      activeSlot,
      dataLink: this.dataLink,
      inputRange,
      gains: this.traits.panel.gains && [...gains],
      dynamicContrast,
      needsPowerCycle: this.slots.waitForPower,
      warmMinutes: this.traits.panel.time.tellsWarmth ? this.warmMinutes : null,
    }
  }

  async showName(lines: readonly string[], seconds: number) {
    this.needPicture()
    await this.clock.pass(takes.draw)
    this.named = { lines: [...lines], until: this.clock.now() + seconds * 1000 }
  }

  /** The name that stands on it now, if one does; for whoever looks at it. */
  get nameShown(): readonly string[] | null {
    return this.named && this.clock.now() < this.named.until ? this.named.lines : null
  }

  async setControls(change: { backlight?: number; gains?: Triple; pipeline?: 'slot' | 'bypass' }) {
    this.needLink()
    const { backlight: range, gains: gainRange } = this.identity
    if (change.backlight !== undefined) {
      if (this.identity.brightnessBy === 'hands')
        throw new DeviceFault('device', 'This display’s brightness obeys only its own buttons.')
      if (change.backlight < range.min || change.backlight > range.max)
        throw new DeviceFault(
          'device',
          `The backlight takes ${range.min} to ${range.max}; ${change.backlight} is not among them.`,
        )
      this.active.backlight = change.backlight
    }
    if (change.gains) {
      if (!gainRange) throw new DeviceFault('device', 'This display has no gains.')
      if (change.gains.some((g) => g < gainRange.min || g > gainRange.max))
        throw new DeviceFault('device', `The gains take ${gainRange.min} to ${gainRange.max}.`)
      this.memory.gains = [change.gains[0], change.gains[1], change.gains[2]]
    }
    if (change.pipeline) this.pipeline = change.pipeline
    this.save()
    return this.getControls()
  }

  readSlot(number: number) {
    return this.slots.read(number)
  }

  writeSlot(number: number, label: string | null, bytes: Uint8Array | null, onProgress?: (done: number) => void) {
    this.loader = 'on'
    return this.slots.write(number, label, bytes, onProgress)
  }

  async activateSlot(number: number) {
    this.needLink()
    this.slots.at(number)
    await this.clock.pass(takes.activate)
    this.memory.activeSlot = number
    this.loader = 'on'
    this.save()
    return this.getControls()
  }

  // — hands —

  /** Somebody presses the display's own buttons. RangeError on what it has not. */
  press(change: {
    slot?: number
    backlight?: number
    gains?: Triple
    offsets?: Triple
    inputRange?: SignalRange
  }): void {
    const { panel } = this.traits
    const { min, max } = panel.control
    if (change.slot !== undefined && !this.memory.slots[change.slot - 1])
      throw new RangeError(`The display has slots 1 to ${this.memory.slots.length}.`)
    if (change.backlight !== undefined && !(change.backlight >= min && change.backlight <= max))
      throw new RangeError(`The brightness control goes from ${min} to ${max}.`)
    if ((change.gains || change.offsets) && !panel.gains) throw new RangeError('This display has no gains or offsets.')
    if (change.gains?.some((g) => !(g >= 0 && g <= panel.gains!.max)))
      throw new RangeError(`Gains go from 0 to ${panel.gains!.max}.`)
    if (change.slot !== undefined && change.slot !== this.memory.activeSlot) {
      this.memory.activeSlot = change.slot
      this.tell('slots')
    }
    if (change.backlight !== undefined) this.active.backlight = change.backlight
    if (change.gains) this.memory.gains = change.gains
    if (change.offsets) this.memory.offsets = change.offsets
    if (change.inputRange) this.memory.inputRange = change.inputRange
    this.save()
  }

  /** Somebody switches it off and on: tables that waited for that hold now, and a little warmth is lost. */
  async powerCycle(): Promise<void> {
    await this.clock.pass(takes.powerCycle)
    this.onSince = Math.min(this.clock.now(), this.onSince + 3 * takes.powerCycle)
    this.slots.powerCycled()
    this.pipeline = 'slot'
  }

  /** Lets it have worked so many hours more. */
  age(hours: number): void {
    this.memory.hours += hours
    this.written = ''
    this.save()
  }

  setDynamicContrast(on: boolean): void {
    this.memory.dynamicContrast = on
    this.save()
  }
}
