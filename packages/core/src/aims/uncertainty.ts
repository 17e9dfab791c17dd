import type { XYZ } from '../color/chromaticity'
import { normalFrom, uniformFrom } from '../basics/random'
import type { ResolvedAim } from './aim'
import { limitedMetrics } from './limitedMetrics'
import { formulaOf, type Limits } from './limits'
import { computeMetrics } from './metrics'
import type { PatchReading } from '../color/patchReading'

/** Standard deviations of one reading by noise alone, as shares: of its luminance, and of X and Z beside it. */
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

/** Times that readings are taken again in thought. */
const resamples = 24
/** Standard deviations within which 95 of 100 repetitions fall. */
const twoSided95 = 1.96

/**
 * Within how much each rule's figure repeats, 19 times of 20, when every reading has the instrument's noise: the readings
 * are shaken by it again and again and judged anew. Null for a figure that they do not tell. Deterministic by `seed`.
 */
export function figureUncertainties(
  readings: readonly PatchReading[],
  aim: ResolvedAim,
  limits: Limits,
  noise: ReadingNoise,
  seed = 1,
): (number | null)[] {
  const normal = normalFrom(uniformFrom(seed))
  const formula = formulaOf(limits)
  const shaken = Array.from({ length: resamples }, () =>
    computeMetrics(
      readings.map((p): PatchReading => {
        const y = 1 + noise.luminance * normal()
        const [x, z] = [y * (1 + noise.x * normal()), y * (1 + noise.z * normal())]
        return { ...p, xyz: [p.xyz[0] * x, p.xyz[1] * y, p.xyz[2] * z] }
      }),
      aim,
      { temperatures: false },
    ),
  )
  return limits.rules.map(({ metric, levels }) => {
    const values = shaken.map((m) => limitedMetrics[metric].of(m, { formula, levels })?.value ?? null)
    const told = values.filter((v): v is number => v !== null && Number.isFinite(v))
    if (told.length < values.length) return null
    const mean = told.reduce((a, b) => a + b, 0) / told.length
    return twoSided95 * Math.sqrt(told.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (told.length - 1))
  })
}
