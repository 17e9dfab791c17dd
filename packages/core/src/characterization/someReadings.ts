import { uniformFrom } from '../basics/random'
import type { PatchReading } from '../color/patchReading'

/** Readings without which nothing can be fitted: greys, and the corners of the cube. */
export const isNeeded = ({ rgb: [r, g, b] }: PatchReading): boolean =>
  (r === g && g === b) || [r, g, b].every((v) => v === 0 || v === 1)

const isCorner = ({ rgb }: PatchReading) => rgb.every((v) => v === 0 || v === 1)

/** So many of all, evenly. */
export const evenlyOf = <T>(all: readonly T[], most: number): readonly T[] =>
  all.length <= most ? all : Array.from({ length: most }, (_, i) => all[Math.floor(((i + 0.5) * all.length) / most)])

/** Share of some readings that greys may take. */
const mostGreys = 0.6

/**
 * About so many of the readings or fewer: the corners, the greys or of many some evenly, and of the others some from anywhere,
 * for those of a grid stand in rows. The same for the same readings.
 */
export function someReadings(readings: readonly PatchReading[], most: number): readonly PatchReading[] {
  if (readings.length <= most) return readings
  const corners = readings.filter(isCorner)
  const greys = readings.filter((p) => isNeeded(p) && !isCorner(p)).sort((a, b) => a.rgb[0] - b.rgb[0])
  const kept = [...evenlyOf(corners, most), ...evenlyOf(greys, Math.floor(mostGreys * most))]
  const uniform = uniformFrom(1)
  const others = readings.filter((p) => !isNeeded(p)).map((reading) => ({ reading, place: uniform() }))
  others.sort((a, b) => a.place - b.place)
  return [...kept, ...others.slice(0, Math.max(0, most - kept.length)).map(({ reading }) => reading)]
}
