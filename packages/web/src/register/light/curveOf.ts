import type { LightDay } from '@bichroma/contract'

/** A point of a room's light over a day; without a light where nobody knows it. */
export interface LightPoint {
  readonly at: number
  readonly lux: number | null
  readonly kelvin: number | null
}

const hour = 3_600_000

/**
 * A day's curve: its readings, or the hours where only those are kept, with a gap where nothing was read for longer than
 * `silenceMs`.
 */
export function curveOf({ readings, hours }: Pick<LightDay, 'readings' | 'hours'>, silenceMs: number): LightPoint[] {
  const points: LightPoint[] = readings.length
    ? readings.map(({ at, illuminanceLux, kelvin }) => ({ at, lux: illuminanceLux, kelvin }))
    : hours.map(({ at, lux, kelvin }) => ({ at: at + hour / 2, lux, kelvin }))
  const gap = readings.length ? silenceMs : 1.5 * hour
  return points.flatMap((p, i) => {
    const before = points[i - 1]
    return before && p.at - before.at > gap ? [{ at: before.at + 1, lux: null, kelvin: null }, p] : [p]
  })
}
