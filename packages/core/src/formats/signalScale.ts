import type { Triple } from '../color/matrix3'
import { FormatError } from './formatError'

/** What full signal is written as: a share, percent, or code values of 8 or 10 bits. */
export const signalScales = [1, 100, 255, 1023] as const
export type SignalScale = (typeof signalScales)[number]

/**
 * The smallest scale that holds every value, which is right whenever a full signal is among them. Throws FormatError for
 * values that none holds.
 */
export function inferScale(values: readonly Triple[], lineOf: (index: number) => number | undefined): SignalScale {
  let [most, at] = [0, 0]
  values.forEach((rgb, i) => {
    const [least, largest] = [Math.min(...rgb), Math.max(...rgb)]
    if (least < 0) throw new FormatError(`RGB must not be below 0; ${least} is.`, lineOf(i))
    if (largest > most) [most, at] = [largest, i]
  })
  const scale = signalScales.find((s) => most <= s)
  if (!scale) throw new FormatError(`RGB must be 1023 or less; ${most} is above.`, lineOf(at))
  return scale
}

/** Signals 0–1 from values on a scale; throws FormatError for a value beyond it. */
export function signalsOn(
  scale: SignalScale,
  values: readonly Triple[],
  lineOf: (index: number) => number | undefined,
): Triple[] {
  return values.map((rgb, i) => {
    const wrong = rgb.find((v) => v < 0 || v > scale)
    if (wrong !== undefined) throw new FormatError(`RGB must lie within 0–${scale}; ${wrong} does not.`, lineOf(i))
    return [rgb[0] / scale, rgb[1] / scale, rgb[2] / scale]
  })
}
