/** Constants of the perceptual quantizer. SMPTE ST 2084, ITU-R BT.2100-2 table 4. */
const m1 = 2610 / 16384
const m2 = (2523 / 4096) * 128
const c1 = 3424 / 4096
const c2 = (2413 / 4096) * 32
const c3 = (2392 / 4096) * 32

/** The luminance of full signal, cd/m². */
const pqPeak = 10000

/** Luminance in cd/m² of a PQ signal 0–1 (clamped). ITU-R BT.2100-2 table 4. */
export function decodePq(signal: number): number {
  const e = Math.min(1, Math.max(0, signal)) ** (1 / m2)
  return pqPeak * (Math.max(0, e - c1) / (c2 - c3 * e)) ** (1 / m1)
}

/**
 * PQ signal 0–1 of a luminance in cd/m², 0–10,000 (clamped). Exact inverse of {@link decodePq} there; the formula's
 * signal of no light, 7e-7, is taken as 0.
 */
export function encodePq(luminance: number): number {
  if (!(luminance > 0)) return 0
  const y = Math.min(1, Math.max(0, luminance / pqPeak)) ** m1
  return ((c1 + c2 * y) / (1 + c3 * y)) ** m2
}
