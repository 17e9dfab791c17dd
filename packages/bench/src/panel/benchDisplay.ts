import { decodeSlotTables, encodeSlotTables, type SlotTables, type Triple, type XYZ } from '@bichroma/core'
import type { CourierDisplay, DisplayControls } from '@bichroma/contract'
import { DeviceFault, type DisplayDevice } from '@bichroma/courier'
import type { BenchClock } from '../benchClock'
import { PanelModel, type PanelTraits } from './panelModel'

/** A display of a scenario: who it is and what its panel is like. */
export interface DisplayTraits {
  readonly serial: string
  readonly maker: string
  readonly model: string
  readonly firmware: string
  readonly slots: number
  readonly panel: PanelTraits
  /** Hours of use when the scenario begins, and hours a day since. */
  readonly hours: number
  readonly hoursPerDay: number
  /** Minutes that it has been on when the bench starts. */
  readonly warmMinutes: number
}

/** What a display remembers while it is off. */
export interface DisplayMemory {
  activeSlot: number
  /** Each slot remembers its own backlight. */
  slots: { label: string | null; tables: SlotTables | null; backlight: number }[]
  hours: number
  /** When `hours` was last counted, ms since 1970. */
  countedAt: number
}

/** Durations at real pace, ms. */
const takes = { patch: 180, control: 350, slotRead: 900, slotWrite: 4200, activate: 1400 }

const pipelineShape = {
  before: { entries: 1024, bits: 16 },
  matrixFractionBits: 14,
  after: { entries: 1024, bits: 12 },
} as const

/** A simulated display: a panel behind a slot pipeline, with a data link that can be unplugged. */
export class BenchDisplay implements DisplayDevice {
  readonly identity: CourierDisplay
  private readonly panel: PanelModel
  private readonly startedAt: number
  private pipeline: 'slot' | 'bypass' = 'slot'
  private shown: Triple = [0, 0, 0]
  /** The data cable beside the video cable. */
  dataLink = true
  /** Damages the next slot on its way in, as a bad cable would. */
  damageNextWrite = false

  constructor(
    readonly traits: DisplayTraits,
    private readonly clock: BenchClock,
    readonly memory: DisplayMemory,
    private readonly remember: (memory: DisplayMemory) => void = () => {},
  ) {
    this.panel = new PanelModel(traits.panel)
    this.startedAt = clock.now()
    this.identity = {
      serial: traits.serial,
      maker: traits.maker,
      model: traits.model,
      firmware: traits.firmware,
      panelKind: traits.panel.kind,
      slots: traits.slots,
      signalBits: traits.panel.signalBits,
      backlight: { min: 0, max: 100 },
      pipeline: pipelineShape,
    }
  }

  /** A display as it leaves its factory: bright, every slot empty. */
  static factoryMemory(traits: DisplayTraits, now: number): DisplayMemory {
    return {
      activeSlot: 1,
      slots: Array.from({ length: traits.slots }, () => ({ label: null, tables: null, backlight: 80 })),
      hours: traits.hours,
      countedAt: now,
    }
  }

  private get warmMinutes() {
    return this.traits.warmMinutes + (this.clock.now() - this.startedAt) / 60_000
  }

  private get active() {
    return this.memory.slots[this.memory.activeSlot - 1]
  }

  private get hours() {
    return this.memory.hours + ((this.clock.now() - this.memory.countedAt) / 86_400_000) * this.traits.hoursPerDay
  }

  /** What the panel emits now, cd/m², without noise. */
  light(): XYZ {
    return this.truth(this.shown)
  }

  /** What the panel would emit for a signal now, cd/m², without noise; for tests, never for the server. */
  truth(signal: Triple): XYZ {
    const { tables, backlight } = this.active
    const state = { backlight, warmMinutes: this.warmMinutes, hours: this.hours }
    return this.panel.emit(signal, this.pipeline === 'slot' ? tables : null, state)
  }

  private needLink() {
    if (!this.dataLink)
      throw new DeviceFault(
        'data-link',
        'The display does not answer over its data cable. Plug the data cable in beside the video cable, at both ends.',
      )
  }

  private slot(number: number) {
    const slot = this.memory.slots[number - 1]
    if (!slot)
      throw new DeviceFault('bad-slot', `The display has ${this.traits.slots} slots; there is no slot ${number}.`)
    return slot
  }

  private save() {
    this.memory.hours = this.hours
    this.memory.countedAt = this.clock.now()
    this.remember(this.memory)
  }

  async showPatch(rgb: Triple) {
    await this.clock.pass(takes.patch)
    this.shown = rgb
  }

  async getControls(): Promise<DisplayControls> {
    await this.clock.pass(takes.control)
    return {
      backlight: this.active.backlight,
      pipeline: this.pipeline,
      activeSlot: this.memory.activeSlot,
      dataLink: this.dataLink,
      warmMinutes: this.warmMinutes,
    }
  }

  async setControls(change: { backlight?: number; pipeline?: 'slot' | 'bypass' }) {
    this.needLink()
    if (change.backlight !== undefined) {
      const { min, max } = this.identity.backlight
      if (change.backlight < min || change.backlight > max)
        throw new DeviceFault('device', `The backlight takes ${min} to ${max}; ${change.backlight} is not among them.`)
      this.active.backlight = change.backlight
    }
    if (change.pipeline) this.pipeline = change.pipeline
    this.save()
    return this.getControls()
  }

  async readSlot(number: number) {
    this.needLink()
    const { label, tables } = this.slot(number)
    await this.clock.pass(takes.slotRead)
    return { label, bytes: tables && encodeSlotTables(tables) }
  }

  async writeSlot(number: number, label: string | null, bytes: Uint8Array | null) {
    this.needLink()
    const slot = this.slot(number)
    let tables: SlotTables | null = null
    try {
      tables = bytes && decodeSlotTables(bytes, pipelineShape)
    } catch (error) {
      throw new DeviceFault('bad-tables', (error as Error).message)
    }
    await this.clock.pass(takes.slotWrite)
    this.needLink()
    if (tables && this.damageNextWrite) {
      this.damageNextWrite = false
      tables = { ...tables, matrix: tables.matrix.map((m, i) => (i === 4 ? m ^ 1 : m)) }
    }
    slot.label = label
    slot.tables = tables
    this.save()
  }

  async activateSlot(number: number) {
    this.needLink()
    this.slot(number)
    await this.clock.pass(takes.activate)
    this.memory.activeSlot = number
    this.save()
    return this.getControls()
  }
}
