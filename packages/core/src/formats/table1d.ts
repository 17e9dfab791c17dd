import type { Triple } from '../color/matrix3'

/** A table for each channel: outputs (0–1 and beyond) at even places of 0–1. */
export interface Table1D {
  readonly channels: readonly [Float64Array, Float64Array, Float64Array]
}

/** One channel of a table at a place 0–1, straight between its entries; beyond the ends the end holds. */
export function lookUp1d(values: Float64Array, x: number): number {
  const at = Math.min(1, Math.max(0, x)) * (values.length - 1)
  const low = Math.min(values.length - 2, Math.floor(at))
  return values[low] + (values[low + 1] - values[low]) * (at - low)
}

export const applyTable1d = ({ channels }: Table1D, rgb: Triple): Triple => [
  lookUp1d(channels[0], rgb[0]),
  lookUp1d(channels[1], rgb[1]),
  lookUp1d(channels[2], rgb[2]),
]
