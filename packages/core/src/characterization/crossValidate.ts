import type { PatchReading } from '../color/patchReading'
import { percentile } from '../aims/percentile'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import { readingOf } from './additiveModel'
import { foretell } from './characterize'
import { isNeeded } from './someReadings'

/** How well a characterization predicts colours it has not seen. */
export interface CrossValidation {
  readonly folds: number
  readonly averageDeltaE: number
  readonly percentile95DeltaE: number
  readonly worstDeltaE: number
}

/**
 * The error of {@link foretell} on readings that it was not given, by leaving out one fold after another (ΔE2000
 * under the measured white). Greys and full primaries stay in every fit. Null when too few others are left to say.
 */
export function crossValidate(readings: readonly PatchReading[], folds = 5): CrossValidation | null {
  const kept = readings.filter(isNeeded)
  const others = readings.filter((p) => !isNeeded(p))
  if (others.length < 2 * folds) return null
  const white = readingOf(readings, [1, 1, 1])!
  const errors: number[] = []
  for (let fold = 0; fold < folds; fold++) {
    const left = others.filter((_, i) => i % folds === fold)
    const found = foretell(
      [...kept, ...others.filter((_, i) => i % folds !== fold)],
      left.map((p) => p.rgb),
    )
    left.forEach((p, i) => errors.push(deltaE2000(convertXyzToLab(p.xyz, white), found[i])))
  }
  return {
    folds,
    averageDeltaE: errors.reduce((a, b) => a + b, 0) / errors.length,
    percentile95DeltaE: percentile(errors, 0.95),
    worstDeltaE: Math.max(...errors),
  }
}
