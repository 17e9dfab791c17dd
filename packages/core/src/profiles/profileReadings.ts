import type { PatchReading } from '../color/patchReading'
import { subtract, type Triple } from '../color/matrix3'
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

/** The place (0–1) at which a rising table of shares has a value; the first of a flat stretch. */
function placeIn(table: ArrayLike<number>, value: number): number {
  const top = table.length - 1
  if (value <= table[0]) return 0
  for (let i = 1; i <= top; i++)
    if (table[i] >= value) return (i - 1 + (value - table[i - 1]) / (table[i] - table[i - 1])) / top
  return 1
}

/**
 * Readings of drives as readings of the signals that a table per channel (shares 0–1) turns into them. Drives that no
 * signal reaches are left out.
 */
export function signalsOfDrives(
  readings: readonly PatchReading[],
  curves: readonly [ArrayLike<number>, ArrayLike<number>, ArrayLike<number>],
): PatchReading[] {
  const reached = (drive: number, c: number) =>
    drive >= curves[c][0] - 1e-6 && drive <= curves[c][curves[c].length - 1] + 1e-6
  return readings
    .filter(({ rgb }) => rgb.every(reached))
    .map((p) => ({ ...p, rgb: p.rgb.map((drive, c) => placeIn(curves[c], drive)) as unknown as Triple }))
}
