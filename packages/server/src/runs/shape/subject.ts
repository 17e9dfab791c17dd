import type { Effort, PatchReading, RawCorners, ResolvedAim, ShapeMemory, SlotTables } from '@bichroma/core'
import type { WhiteWatch } from '../guardedReadings'

/** What Shape works on: the aim made for this panel, its raw corners, and the watch over white while it reads. */
export interface ShapeSubject {
  readonly effort: Effort
  readonly aim: ResolvedAim
  readonly corners: RawCorners
  readonly cornerReadings: readonly PatchReading[]
  readonly signalBits: number
  readonly watch: WhiteWatch
  /** What an earlier run learned of the panel; null to start from nothing. */
  readonly before: ShapeMemory | null
}

/** What Shape makes: the contents of the slot, and what it learned of the panel on the way. */
export interface Shaped {
  readonly tables: SlotTables
  readonly memory: ShapeMemory
}
