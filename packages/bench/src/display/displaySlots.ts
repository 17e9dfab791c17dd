import type { Triple } from '@bichroma/core/color'
import { decodeSlotTables, encodeSlotTables, makeSlotPipeline, type SlotTables } from '@bichroma/core/tables'
import { DeviceFault } from '@bichroma/courier'
import type { BenchClock } from '../benchClock'
import type { PanelTraits } from '../panel/panelSchema'
import type { DisplayMemory, DisplayStore } from './displayMemory'
import { changesGamut, cutInHalf, transferMs } from './writing'

/** Faults of the line that are waiting to happen: once each. */
export interface NextFaults {
  damageWrite: boolean
  cutWrite: boolean
  corruptRead: boolean
}

/** What the slots of a display live in. */
interface SlotSurroundings {
  readonly panel: PanelTraits
  readonly memory: DisplayMemory
  readonly store: DisplayStore
  readonly clock: BenchClock
  readonly next: NextFaults
  /** Throws DeviceFault while the data cable is not in. */
  needLink(): void
  unplug(): void
  save(): void
}

/** Time that asking whether a slot is empty takes, or emptying one, at real pace, ms. */
const emptyMs = 250
/** Pieces in which a write goes over the line, each told when it is there. */
const writePieces = 12

/** The slots of one display: what each holds, what is in force, and how both go over the line. */
export class DisplaySlots {
  /** How long a slot's tables are on the line, ms at real pace. */
  readonly times: { readonly write: number; readonly read: number }
  /** Pipelines of the slots as they were at the last power cycle, by slot; null for an empty one. */
  private readonly inForce = new Map<number, ((signal: Triple) => Triple) | null>()
  private waits = false

  constructor(private readonly around: SlotSurroundings) {
    this.times = transferMs(around.panel)
  }

  /** What was written holds only once the display has been off. */
  get waitForPower(): boolean {
    return this.waits
  }

  /** It has been off: what waited for that holds now. */
  powerCycled(): void {
    this.inForce.clear()
    this.waits = false
  }

  /** A slot by its number, from 1. Throws DeviceFault when there is none. */
  at(number: number): DisplayMemory['slots'][number] {
    const slot = this.around.memory.slots[number - 1]
    if (!slot)
      throw new DeviceFault(
        'bad-slot',
        `The display has ${this.around.panel.tables.slots} slots; there is no slot ${number}.`,
      )
    return slot
  }

  /** What a slot makes of a signal (0–1); null for an empty one. */
  pipelineOf(number: number): ((signal: Triple) => Triple) | null {
    let found = this.inForce.get(number)
    if (found === undefined) {
      const tables = this.tablesOf(number)
      this.inForce.set(number, (found = tables && makeSlotPipeline(tables)))
    }
    return found
  }

  private tablesOf(number: number): SlotTables | null {
    const { memory, store, panel } = this.around
    const bytes = memory.slots[number - 1].holds ? store.tables(number) : null
    return bytes && decodeSlotTables(bytes, panel.tables.pipeline)
  }

  async read(number: number): Promise<{ label: string | null; bytes: Uint8Array | null }> {
    const { clock, next, needLink } = this.around
    needLink()
    const { label } = this.at(number)
    const tables = this.tablesOf(number)
    await clock.pass(tables ? this.times.read : emptyMs)
    needLink()
    if (!tables) return { label, bytes: null }
    const corrupt = next.corruptRead
    next.corruptRead = false
    return { label, bytes: encodeSlotTables(corrupt ? damaged(tables) : tables) }
  }

  /** Writes a slot, or empties it (null); `onProgress` hears how much is there, 0–1. */
  async write(
    number: number,
    label: string | null,
    bytes: Uint8Array | null,
    onProgress: (done: number) => void = () => {},
  ): Promise<void> {
    const { panel, next, needLink } = this.around
    needLink()
    this.at(number)
    const tables = bytes && this.taken(bytes)
    await this.reset(tables !== null, onProgress)
    if (tables && next.cutWrite) await this.cutWrite(number, tables)
    await this.transfer(tables !== null, onProgress)
    const damage = tables !== null && next.damageWrite
    if (damage) next.damageWrite = false
    const kept = label ?? (tables ? null : (panel.tables.presets[number - 1] ?? null))
    this.keep(number, kept, damage ? damaged(tables) : tables)
  }

  /** The tables that the firmware makes of bytes. Throws DeviceFault for what it does not take. */
  private taken(bytes: Uint8Array): SlotTables {
    const { firmware, tables: traits } = this.around.panel
    let tables: SlotTables
    try {
      tables = decodeSlotTables(bytes, traits.pipeline)
    } catch (error) {
      throw new DeviceFault('bad-tables', (error as Error).message)
    }
    if (traits.gamut === 'panel' && changesGamut(tables))
      throw new DeviceFault(
        'bad-tables',
        `Firmware ${firmware} takes only the panel’s own gamut as the gamut of a slot. Choose an aim with the panel’s own primaries.`,
      )
    return tables
  }

  private get resetMs() {
    return this.around.panel.tables.resetSeconds * 1000
  }

  private async inPieces(full: boolean, wholeMs: number, onPiece: (share: number) => void) {
    const pieces = full ? writePieces : 1
    for (let i = 1; i <= pieces; i++) {
      await this.around.clock.pass(wholeMs / pieces)
      this.around.needLink()
      onPiece(i / pieces)
    }
  }

  private async reset(full: boolean, onProgress: (done: number) => void) {
    const whole = this.resetMs + this.times.write
    await this.inPieces(full, this.resetMs, (share) => onProgress((share * this.resetMs) / whole))
  }

  private async transfer(full: boolean, onProgress: (done: number) => void) {
    const whole = this.resetMs + this.times.write
    await this.inPieces(full, full ? this.times.write : emptyMs, (share) =>
      onProgress(1 - ((1 - share) * this.times.write) / whole),
    )
  }

  /** The cable is out half way: one half is new, the other as it was. */
  private async cutWrite(number: number, tables: SlotTables) {
    const { next, clock, unplug, needLink } = this.around
    next.cutWrite = false
    const old = this.tablesOf(number)
    await clock.pass(this.times.write / 2)
    unplug()
    this.keep(number, null, cutInHalf(tables, old))
    needLink()
  }

  private keep(number: number, label: string | null, tables: SlotTables | null) {
    const slot = this.at(number)
    if (this.around.panel.tables.powerCycle) {
      // Until it is switched off and on, the display works with what it had.
      this.pipelineOf(number)
      this.waits = true
    } else this.inForce.delete(number)
    slot.label = label
    slot.holds = tables !== null
    this.around.store.keepTables(number, tables && encodeSlotTables(tables))
    this.around.save()
  }
}

/** One integer that a bad line flipped. */
function damaged(tables: SlotTables): SlotTables {
  const flip = (values: readonly number[]) => values.map((v, i) => (i === values.length >> 1 ? v ^ 1 : v))
  if (tables.matrix) return { ...tables, matrix: flip(tables.matrix) }
  if (tables.grid) return { ...tables, grid: flip(tables.grid) }
  const [red, green, blue] = tables.after!
  return { ...tables, after: [red, flip(green), blue] }
}
