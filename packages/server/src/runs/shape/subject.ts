import type { ResolvedAim } from '@bichroma/core/aims'
import type { PatchReading } from '@bichroma/core/color'
import type { Effort, RawCorners, ShapeMemory } from '@bichroma/core/runs'
import type { SignalCodes, SlotTables } from '@bichroma/core/tables'
import type { WhiteWatch } from '../guardedReadings'

/** What Shape works on: the aim made for this panel, its raw corners, and the watch over white while it reads. */
export interface ShapeSubject {
  readonly effort: Effort
  readonly aim: ResolvedAim
  readonly corners: RawCorners
  readonly cornerReadings: readonly PatchReading[]
  /** How signals are sent to the display. */
  readonly signal: SignalCodes
  readonly watch: WhiteWatch
  /** What an earlier run learned of the panel; null to start from nothing. */
  readonly before: ShapeMemory | null
}

/** What Shape makes: the contents of the slot, and what it learned of the panel on the way. */
export interface Shaped {
  readonly tables: SlotTables
  readonly memory: ShapeMemory
}
