import type { Triple } from '@bichroma/core/color'
import { codeOfSignal, signalOfCode, type SignalRange } from '@bichroma/core/tables'

/**
 * A signal as the display takes it: the workstation writes codes in its range, the cable carries so many bits, the display
 * reads them in its own. Where the two ranges differ, shadows and lights are cut off or never reached.
 */
export function overTheCable(signal: Triple, sent: SignalRange, taken: SignalRange, bits: number): Triple {
  const top = 2 ** bits - 1
  return signal.map((v) => {
    const code = Math.round(codeOfSignal(Math.min(1, Math.max(0, v)), sent, bits) * top) / top
    return Math.min(1, Math.max(0, signalOfCode(code, taken, bits)))
  }) as unknown as Triple
}

/** Gains (shares of full) and offsets (shares of full drive) on three channels. */
export const withGains = (v: Triple, gains: Triple, offsets: Triple): Triple =>
  v.map((value, c) => Math.min(1, Math.max(0, value * gains[c] + offsets[c]))) as unknown as Triple
