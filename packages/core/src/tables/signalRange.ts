/** Whether code values fill the whole range or leave head- and footroom, as video does. */
export type SignalRange = 'full' | 'limited'

/** Code values of black and white as shares of the largest code of `bits` bits. ITU-R BT.709-6 §4.6, BT.2100-2 table 9. */
export function rangeEnds(range: SignalRange, bits: number): { black: number; white: number } {
  if (range === 'full') return { black: 0, white: 1 }
  const top = 2 ** bits - 1
  const unit = 2 ** (bits - 8)
  return { black: (16 * unit) / top, white: (235 * unit) / top }
}

/** Signal (0–1 between black and white, beyond them outside) of a code value 0–1. */
export function signalOfCode(code: number, range: SignalRange, bits: number): number {
  const { black, white } = rangeEnds(range, bits)
  return (code - black) / (white - black)
}

/** Code value 0–1 of a signal. Inverse of {@link signalOfCode}. */
export function codeOfSignal(signal: number, range: SignalRange, bits: number): number {
  const { black, white } = rangeEnds(range, bits)
  return black + signal * (white - black)
}
