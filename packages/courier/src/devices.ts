import type {
  Associations,
  Binding,
  CourierDisplay,
  CourierInstrument,
  CourierReading,
  DisplayControls,
  FaultKind,
  HostChange,
  HostFacts,
  LoaderState,
} from '@bichroma/contract'
import type { Triple } from '@bichroma/core/color'
import type { PanelKind } from '@bichroma/core/register'
import type { ManagedPictures, ProgramFound } from '@bichroma/core/rollout'

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
  /** Wakes it if it sleeps, and keeps it awake for so many minutes. */
  wake(minutes: number): Promise<void>
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
  /** The slot on show; null when it does not tell. */
  shownSlot(): Promise<number | null>
  /** Whether its curves are in the video card; null for a display that does not live by them. */
  curves(): Promise<LoaderState | null>
  /** Loads them again. */
  loadCurves(): Promise<void>
  /** Its video cable is in, and it is on. */
  readonly connected: boolean
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
  /**
   * Writes a profile into the system's folder, binds it to the display, and says where it lies. A file of that name is
   * written over only when it holds the same or one of `replaces` (SHA-256). Names of `unbinds` are not the display's any
   * more; their files stay.
   */
  placeProfile(
    displaySerial: string,
    fileName: string,
    bytes: Uint8Array,
    scope: 'machine' | 'user',
    earlier?: { readonly replaces: readonly string[]; readonly unbinds: readonly string[] },
  ): Promise<{ path: string }>
  /** Binds what is named to a display, and nothing else. */
  bind(displaySerial: string, associations: Associations): Promise<void>
  /** Removes a file that holds what is named and that no display has; false when it stays. */
  removeProfile(fileName: string, scope: 'machine' | 'user', hash: string): Promise<boolean>
  /** What the system binds now, with the hashes of the files as they are on disk. */
  listInForce(): Promise<Binding[]>
  /** Programs that show pictures, as they are set. */
  programs(): Promise<ProgramFound[]>
  setProgram(name: string, change: { colorManagement?: ManagedPictures; version4?: boolean }): Promise<void>
  /** Leaves a note for whoever works there; null takes it away. */
  leaveNote(text: string | null): Promise<void>
  /** Where whoever works there finds the page of their desk on the server, and all that they are told now. */
  tellDesk(page: string | null, messages: readonly { id: number; text: string }[]): Promise<void>
}

/** Everything that one courier looks after. */
export interface Devices {
  readonly displays: readonly DisplayDevice[]
  readonly instruments: readonly InstrumentDevice[]
  readonly host: HostDevice
  /** Calls whenever something changes that no command asked for; gives what ends that. */
  watch?(told: (what: HostChange | 'displays') => void): () => void
}

/** A clock that tells how long things took at real pace, ms. */
export interface PaceClock {
  now(): number
}
