import { IANAZone } from 'luxon'

const hour = 3_600_000
const day = 24 * hour

/** What a clock in a zone says: Monday 0 to Sunday 6, the full hour, and the day, in days since 1970 there. */
export interface ClockTime {
  readonly weekday: number
  readonly hour: number
  readonly day: number
}

/** A day as it is written, 2026-11-27. */
export const dateOfDay = (n: number): string => new Date(n * day).toISOString().slice(0, 10)

/**
 * A clock in a zone for many instants (ms since 1970): its distance from UTC is asked once a day, and by the hour only on
 * days on which clocks change. Throws RangeError for a zone that nobody knows.
 */
export function zoneClock(zone: string): (at: number) => ClockTime {
  const known = IANAZone.create(zone)
  if (!known.isValid) throw new RangeError(`There is no zone ${zone}.`)
  const offset = (at: number) => known.offset(at) * 60_000
  const ofDay = new Map<number, number | null>()
  const offsetAt = (at: number) => {
    const n = Math.floor(at / day)
    let found = ofDay.get(n)
    if (found === undefined) {
      const begins = offset(n * day)
      found = begins === offset((n + 1) * day) ? begins : null
      ofDay.set(n, found)
    }
    return found ?? offset(at)
  }
  return (at) => {
    const local = at + offsetAt(at)
    const n = Math.floor(local / day)
    return {
      // 1 January 1970 was a Thursday.
      weekday: (((n + 3) % 7) + 7) % 7,
      hour: Math.floor((local - n * day) / hour),
      day: n,
    }
  }
}
