import type { XYZ } from '../../color/chromaticity'

/** Standard deviations of one reading of white by noise alone, as shares: of its luminance, and of X and Z beside it. */
export interface ReadingNoise {
  readonly luminance: number
  readonly x: number
  readonly z: number
}

/** Two readings (cd/m²) of the same light, one soon after the other. */
export type Repeat = readonly [XYZ, XYZ]

/** Repeats from which noise is told. */
const fewestRepeats = 8
/** A normal deviate is nearer to 0 than this in half of all cases; its inverse makes a deviation of a median. */
const normalMedian = 0.67449

const spread = (differences: readonly number[]) => {
  const sorted = differences.map(Math.abs).sort((a, b) => a - b)
  const middle = sorted.length >> 1
  const median = sorted.length % 2 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
  return median / normalMedian / Math.SQRT2
}

/**
 * An instrument's noise from readings that it took twice: by the median of the differences, so that a display that moved
 * in between once does not count. Null from fewer than eight repeats of light.
 */
export function noiseOfRepeats(repeats: readonly Repeat[]): ReadingNoise | null {
  const lit = repeats.filter(([a, b]) => Math.min(...a, ...b) > 0)
  if (lit.length < fewestRepeats) return null
  const share = (of: (xyz: XYZ) => number) => spread(lit.map(([a, b]) => Math.log(of(b) / of(a))))
  return { luminance: share(([, y]) => y), x: share(([x, y]) => x / y), z: share(([, y, z]) => z / y) }
}

/** What is taken for an instrument that has not looked at white often enough yet. */
const usualNoise: ReadingNoise = { luminance: 0.002, x: 0.0012, z: 0.002 }
/** Share of the variance at white that falls with the light itself; the rest is counted photons, whose share rises as light falls. */
const steady = 0.5
/** What a dark reading repeats to at best, cd/m². */
const floor = 0.001

/** How readings (cd/m²) repeat by their luminance, once it is known how white does; null: as such instruments usually do. */
export const noiseByLevel =
  (noise: ReadingNoise | null, whiteLuminance: number) =>
  (luminance: number): ReadingNoise => {
    const of = noise ?? usualNoise
    const level = Math.max(luminance, 1e-4)
    const rise = Math.sqrt(steady + (1 - steady) * Math.max(1, whiteLuminance / level))
    const dark = floor / level
    return {
      luminance: Math.hypot(of.luminance * rise, dark),
      x: Math.hypot(of.x * rise, dark),
      z: Math.hypot(of.z * rise, dark),
    }
  }
