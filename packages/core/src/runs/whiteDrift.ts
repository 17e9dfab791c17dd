import { convertXyzToUv, deltaUv, type XYZ } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'

/** Change of white that no reading's noise makes: luminance as a share, and Δu′v′. */
const beyondNoise = { luminance: 0.003, uv: 0.0006 }

/** Two looks at white (cd/m²) around a block of readings, and the white that the run began with. */
export interface WhiteLooks {
  readonly first: XYZ
  readonly before: XYZ
  readonly after: XYZ
}

const isDrift = (from: XYZ, to: XYZ) =>
  Math.abs(to[1] / from[1] - 1) > beyondNoise.luminance ||
  deltaUv(convertXyzToUv(from), convertXyzToUv(to)) > beyondNoise.uv

/**
 * Readings (cd/m²) of a block as they would be had white stayed what it was at first: white is taken to move straight
 * from one look to the next, and each reading is scaled by what white had become, X, Y and Z apart. Where white moved by
 * no more than noise does, the readings stay as they are, for a look's own noise would only be added to them.
 */
export function withoutDrift<T extends { readonly xyz: XYZ }>(
  readings: readonly T[],
  { first, before, after }: WhiteLooks,
): T[] {
  if (!isDrift(first, before) && !isDrift(first, after)) return [...readings]
  return readings.map((reading, i) => {
    const t = (i + 1) / (readings.length + 1)
    const xyz = reading.xyz.map((v, k) => (v * first[k]) / (before[k] + (after[k] - before[k]) * t)) as unknown as XYZ
    return { ...reading, xyz }
  })
}

/** Looks from which repeatability can be told. */
const fewestLooks = 4

/**
 * How far two readings of the same white are apart by noise alone, ΔE2000: the median of successive looks (cd/m²), so
 * that a slow drift and one odd look do not count. Null from too few looks.
 */
export function repeatabilityOf(looks: readonly XYZ[]): number | null {
  if (looks.length < fewestLooks) return null
  const apart = looks
    .slice(1)
    .map((xyz, i) => deltaE2000(convertXyzToLab(looks[i], looks[0]), convertXyzToLab(xyz, looks[0])))
    .sort((a, b) => a - b)
  return apart[apart.length >> 1]
}
