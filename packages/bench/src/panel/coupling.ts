import type { Triple } from '@bichroma/core/color'

/** Exponent of a typical panel, by which a share of light becomes a shift of drive. */
const typicalExponent = 2.2

/**
 * Drives as they arrive at the subpixels: a neighbour's voltage reaches a subpixel through the drive lines, most in the
 * middle of the range. `crosstalk` is the share of its light that a channel at half drive loses beside dark neighbours.
 */
export function coupleDrives(drive: Triple, crosstalk: number): Triple {
  const reach = crosstalk / typicalExponent
  const coupled = (own: number, a: number, b: number) => {
    const pull = (a + b) / 2 - own
    const grip = 0.6 + 5.6 * own * (1 - own)
    return Math.min(1, Math.max(0, own + (reach * grip * pull) / 2))
  }
  const [r, g, b] = drive
  return [coupled(r, g, b), coupled(g, r, b), coupled(b, r, g)]
}

/** What is left of the light when the supply sags under the sum of the channels' light. */
export const supplyFactor = (light: Triple, load: number): number => 1 - (load * (light[0] + light[1] + light[2])) / 3
