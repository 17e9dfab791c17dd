import type { Triple } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import { codeOfSignal, signalOfCode, type SignalRange } from './signalRange'
import { quantizeSignal } from './slotTables'

/** The codes in which a workstation sends a signal: their bits, and their range. */
export interface SignalCodes {
  readonly bits: number
  readonly range: SignalRange
}

/**
 * The signal (0–1) nearest to a signal among those that a display can be sent. Limited range has fewer codes than the
 * workstation has values: of 8 bits 220 of 256 (ITU-R BT.709-6 §4.6).
 */
export function nearestSent(signal: Triple, { bits, range }: SignalCodes): Triple {
  if (range === 'full') return quantizeSignal(signal, bits)
  const top = 2 ** bits - 1
  return signal.map((v) => {
    const code = Math.round(codeOfSignal(Math.min(1, Math.max(0, v)), range, bits) * top) / top
    return signalOfCode(code, range, bits)
  }) as unknown as Triple
}

/**
 * What a display is sent of a signal that a program draws: rounded to the workstation's own values of 0 to 2^bits − 1, and
 * from there to the codes of its range. What {@link nearestSent} gives arrives as it is.
 */
export const signalThatArrives = (drawn: Triple, codes: SignalCodes): Triple =>
  nearestSent(quantizeSignal(drawn, codes.bits), codes)

/** Readings by what the display was sent of each patch. */
export const asArrived = <T extends PatchReading>(readings: readonly T[], codes: SignalCodes): T[] =>
  readings.map((reading) => ({ ...reading, rgb: signalThatArrives(reading.rgb, codes) }))
