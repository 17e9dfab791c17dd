import type {
  Binding,
  CourierDisplay,
  CourierInstrument,
  CourierReading,
  DisplayControls,
  FaultKind,
  HostFacts,
} from '@bichroma/contract'
import type { Triple } from '@bichroma/core/color'
import type { PanelKind } from '@bichroma/core/register'

/** Something a device could not do, with a sentence that says what a person can do about it. */
export class DeviceFault extends Error {
  constructor(
    readonly kind: FaultKind,
    readonly sentence: string,
  ) {
    super(sentence)
    this.name = 'DeviceFault'
  }
}

/** A display that shows patches and stores slots. Methods throw {@link DeviceFault}. */
export interface DisplayDevice {
  readonly identity: CourierDisplay
  /**
   * Fills a share of the screen's area with a signal (0–1), black around it, and resolves `waitMs` after it is drawn. The
   * light may follow later than that.
   */
  showPatch(rgb: Triple, area?: number, waitMs?: number): Promise<void>
  /** Shows lines of text for some seconds; resolves once they are on screen. */
  showName(lines: readonly string[], seconds: number): Promise<void>
  getControls(): Promise<DisplayControls>
  setControls(change: { backlight?: number; gains?: Triple; pipeline?: 'slot' | 'bypass' }): Promise<DisplayControls>
  /** What a slot holds: its label and the bytes of its tables, null for an empty one. */
  readSlot(slot: number): Promise<{ label: string | null; bytes: Uint8Array | null }>
  /** Writes a slot; `onProgress` hears now and then how much of it is done, 0–1. */
  writeSlot(
    slot: number,
    label: string | null,
    bytes: Uint8Array | null,
    onProgress?: (done: number) => void,
  ): Promise<void>
  activateSlot(slot: number): Promise<DisplayControls>
}

/** A colorimeter or spectroradiometer. Methods throw {@link DeviceFault}. */
export interface InstrumentDevice {
  readonly identity: CourierInstrument
  zero(): Promise<void>
  /** Reads what the display of this serial shows where it hangs: XYZ in cd/m², with a correction of its own if one is named. */
  read(displaySerial: string, correction?: PanelKind): Promise<CourierReading>
  /** Illuminance where it lies, with its diffuser on; XYZ in the scale of lx. */
  readAmbient(): Promise<{ illuminanceLux: number; xyz: [number, number, number] }>
}

/** The workstation itself: its conditions and its profile store. Methods throw {@link DeviceFault}. */
export interface HostDevice {
  facts(): Promise<HostFacts>
  /** Writes a profile into the system's folder, binds it to the display, and says where it lies. */
  placeProfile(
    displaySerial: string,
    fileName: string,
    bytes: Uint8Array,
    scope: 'machine' | 'user',
  ): Promise<{ path: string }>
  /** What the system binds now, with the hashes of the files as they are on disk. */
  listInForce(): Promise<Binding[]>
}

/** Everything that one courier looks after. */
export interface Devices {
  readonly displays: readonly DisplayDevice[]
  readonly instruments: readonly InstrumentDevice[]
  readonly host: HostDevice
}

/** A clock that tells how long things took at real pace, ms. */
export interface PaceClock {
  now(): number
}
