import type { CorrectionAgain, RingDue } from '@bichroma/core/rounds'

/** A ring that falls due, and what it may be laid with: instruments that are in use, and displays that are calibrated, close together. */
export interface RingFallsDue extends RingDue {
  /** The instrument whose certificate it is laid for. */
  instrument: string | null
  /** When the last one was done, ms since 1970. */
  last: number | null
  instruments: { id: number; name: string }[]
  displays: { id: number; name: string; room: string }[]
}

/** A correction that is to be made again. */
export interface CorrectionFallsDue extends CorrectionAgain {
  id: number
  displayId: number
  displayName: string
  instrument: string
  /** ms since 1970. */
  madeAt: number
}

/** What of the instruments falls due within the next 60 days. */
export interface InstrumentsDue {
  ring: RingFallsDue | null
  /** The soonest first, so many of them at most. */
  corrections: CorrectionFallsDue[]
  correctionsInAll: number
}
