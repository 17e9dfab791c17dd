import type { PatchReading, RawCorners, ResolvedAim } from '@bichroma/core'
import type { WhiteWatch } from '../guardedReadings'

/** What Shape works on: the aim made for this panel, its raw corners, and the watch over white while it reads. */
export interface ShapeSubject {
  readonly aim: ResolvedAim
  readonly corners: RawCorners
  readonly cornerReadings: readonly PatchReading[]
  readonly signalBits: number
  readonly watch: WhiteWatch
}
