import type { PatchReading } from '../color/patchReading'
import { subtract } from '../color/matrix3'
import { makePlan } from '../runs/plan/patchPlan'
import { once } from '../basics/once'
import { white, type Patch } from '../runs/patches'
import { readingOf } from '../characterization/additiveModel'

/** What a profile reads for itself, besides what Prove has read: white first, greys, and colours all over. */
export const ownProfilePatches = once((): readonly Patch[] => [
  white,
  ...makePlan([
    { part: 'even-greys', count: 17 },
    { part: 'hues', count: 1 },
    { part: 'fill', count: 60 },
  ]).filter(({ rgb }) => rgb.some((v) => v !== 1)),
])

/** Readings with the display's black taken away, never below nothing: for a profile that counts from black. */
export function withoutBlack(readings: readonly PatchReading[]): PatchReading[] {
  const black = readingOf(readings, [0, 0, 0])
  if (!black) return [...readings]
  return readings.map((p) => {
    const [x, y, z] = subtract(p.xyz, black)
    return { ...p, xyz: [Math.max(0, x), Math.max(0, y), Math.max(0, z)] }
  })
}
