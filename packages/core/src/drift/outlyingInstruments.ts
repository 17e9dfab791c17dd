import type { InstrumentShift } from './slotTrends'
import { median } from './theilSen'

/** How an instrument reads beside the others, over all slots that it shared with them. */
export interface InstrumentStanding {
  readonly instrumentId: number
  /** Slots that it and others have read, and its readings there. */
  readonly slots: number
  readonly readings: number
  /** Medians of its shifts, %: of luminance, and of X and Z beside Y. */
  readonly luminance: number
  readonly x: number
  readonly z: number
  /** Deviations of those medians by what the slots differ among each other, %. */
  readonly errors: { readonly luminance: number; readonly x: number; readonly z: number }
  /** It differs by more than chance and by enough to matter. */
  readonly stands: boolean
}

/** Slots below which nothing is said of an instrument. */
const fewestSlots = 3
/** A shift counts from so many of its own errors, and from so much in %: a white of 1 % more Z is 0.001 u′v′ away. */
const significant = 3.5
const matters = 1
/** Rounding and drift in between leave so much uncertain, %. */
const leastError = 0.05
const deviationOfMedian = 1.4826
const medianDeviation = Math.sqrt(Math.PI / 2)

const shares = ['luminance', 'x', 'z'] as const

/** The error of the median of shifts. */
function errorOf(values: readonly number[]): number {
  const middle = median(values)
  const spread = deviationOfMedian * median(values.map((v) => Math.abs(v - middle)))
  return Math.max(leastError, (medianDeviation * spread) / Math.sqrt(values.length))
}

/** Instruments by how they read, from their shifts in single slots; those that stand out first. */
export function instrumentStandings(shifts: readonly InstrumentShift[]): InstrumentStanding[] {
  const byInstrument = new Map<number, InstrumentShift[]>()
  for (const shift of shifts) {
    const known = byInstrument.get(shift.instrumentId)
    if (known) known.push(shift)
    else byInstrument.set(shift.instrumentId, [shift])
  }
  return [...byInstrument]
    .map(([instrumentId, own]): InstrumentStanding => {
      const percent = (share: (typeof shares)[number]) => own.map((s) => 100 * s[share])
      const [luminance, x, z] = shares.map((s) => median(percent(s)))
      const [errorL, errorX, errorZ] = shares.map((s) => errorOf(percent(s)))
      const errors = { luminance: errorL, x: errorX, z: errorZ }
      const figures = { luminance, x, z }
      const stands =
        own.length >= fewestSlots &&
        shares.some((s) => Math.abs(figures[s]) >= matters && Math.abs(figures[s]) > significant * errors[s])
      return {
        instrumentId,
        slots: own.length,
        readings: own.reduce((sum, s) => sum + s.readings, 0),
        ...figures,
        errors,
        stands,
      }
    })
    .sort((a, b) => Number(b.stands) - Number(a.stands) || Math.abs(b.luminance) - Math.abs(a.luminance))
}
