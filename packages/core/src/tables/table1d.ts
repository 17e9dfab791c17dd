import type { Triple } from '../color/matrix3'

/** A table for each channel: outputs (0–1 and beyond) at even places of 0–1. */
export interface Table1D {
  readonly channels: readonly [Float64Array, Float64Array, Float64Array]
}

/**
 * A run of values at even places of 0–1, straight between them; beyond the ends the end holds. The run may lie within a
 * longer array.
 */
export function lookUp1d(values: ArrayLike<number>, x: number, start = 0, count = values.length): number {
  const at = Math.min(1, Math.max(0, x)) * (count - 1)
  const low = start + Math.min(count - 2, Math.floor(at))
  return values[low] + (values[low + 1] - values[low]) * (at - (low - start))
}

/** The place 0–1 at which a rising run reaches a value, straight between its entries: inverse of {@link lookUp1d}. */
export function placeOnRising(values: ArrayLike<number>, y: number, start = 0, count = values.length): number {
  let low = start
  let high = start + count - 1
  if (y <= values[low]) return 0
  if (y >= values[high]) return 1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (values[middle] <= y) low = middle
    else high = middle
  }
  return (low - start + (y - values[low]) / (values[high] - values[low])) / (count - 1)
}

export const applyTable1d = ({ channels }: Table1D, rgb: Triple): Triple => [
  lookUp1d(channels[0], rgb[0]),
  lookUp1d(channels[1], rgb[1]),
  lookUp1d(channels[2], rgb[2]),
]
