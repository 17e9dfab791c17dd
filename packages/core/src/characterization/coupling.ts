import type { Triple } from '../color/matrix3'

/** Numbers of a coupling: for each channel and each of its two neighbours a share, and what comes on top in the middle. */
export const couplingParts = 12

export const noCoupling = new Float64Array(couplingParts)

/**
 * Drives (0–1) as they arrive at the channels: each is pulled towards its neighbours by a share of how far they are from it,
 * a share that may be larger in the middle of its own range. Equal drives stay as they are. Written into `out`; may lie a
 * little outside 0–1.
 */
export function coupleInto(coupling: Float64Array, r: number, g: number, b: number, out: Float64Array): void {
  const middleR = 4 * r * (1 - r)
  const middleG = 4 * g * (1 - g)
  const middleB = 4 * b * (1 - b)
  const [gr, br, bg] = [g - r, b - r, b - g]
  out[0] = r + (coupling[0] + coupling[1] * middleR) * gr + (coupling[2] + coupling[3] * middleR) * br
  out[1] = g + (coupling[4] + coupling[5] * middleG) * bg - (coupling[6] + coupling[7] * middleG) * gr
  out[2] = b - (coupling[8] + coupling[9] * middleB) * br - (coupling[10] + coupling[11] * middleB) * bg
}

/**
 * What the light of all channels is multiplied by, of channels (linear light 0–1) that pull at one supply; 1 at white. The
 * three numbers of `sag` begin at `at`.
 */
export const supplyOf = (sag: Float64Array | Triple, r: number, g: number, b: number, at = 0): number =>
  1 + sag[at] * (1 - r) + sag[at + 1] * (1 - g) + sag[at + 2] * (1 - b)
