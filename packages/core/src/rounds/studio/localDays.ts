import { DateTime, IANAZone } from 'luxon'

/** A time of day, as 09:30; 24:00 is where the day ends. */
export type TimeOfDay = string
/** A day in a zone, as 2026-11-27. */
export type LocalDate = string

/** Part of a day: from a time of day to a later one. */
export interface DaySpan {
  readonly from: TimeOfDay
  readonly to: TimeOfDay
}

/** Whether a name is one of the zones that are known, as Europe/Oslo. */
export const isZone = (name: string): boolean => IANAZone.isValidZone(name)

/** The day of an instant (ms since 1970) in a zone. */
export const localDate = (at: number, zone: string): LocalDate => DateTime.fromMillis(at, { zone }).toISODate()!

/** Answers that are remembered of each question: those of a year for a large studio. */
const mostRemembered = 20_000

/** The same, remembered: a week of a large studio asks for the same few days of the same few people thousands of times. */
function remembered<A extends readonly (string | number)[], R>(of: (...args: A) => R): (...args: A) => R {
  const known = new Map<string, R>()
  return (...args) => {
    const key = args.join('\n')
    const found = known.get(key)
    if (found !== undefined) return found
    if (known.size >= mostRemembered) known.clear()
    const made = of(...args)
    known.set(key, made)
    return made
  }
}

/** So many days after a day. */
export const daysAfter = remembered((date: LocalDate, days: number): LocalDate =>
  DateTime.fromISO(date, { zone: 'utc' }).plus({ days }).toISODate()!,
)

/** Monday 0 to Sunday 6. */
export const weekdayOf = remembered((date: LocalDate): number => DateTime.fromISO(date, { zone: 'utc' }).weekday - 1)

/** Whether a text is a day that there is. */
export const isLocalDate = (text: string): boolean =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) && DateTime.fromISO(text, { zone: 'utc' }).isValid

/** The first instant of a day, ms since 1970. */
export const dayStart = remembered((date: LocalDate, zone: string): number =>
  DateTime.fromISO(date, { zone }).startOf('day').toMillis(),
)

/**
 * The instant of a time of day, ms since 1970. Where clocks go forward past it, as much later as they go; where they go
 * back over it, the first of the two.
 */
export const atTime = remembered((date: LocalDate, time: TimeOfDay, zone: string): number =>
  time === '24:00' ? dayStart(daysAfter(date, 1), zone) : DateTime.fromISO(`${date}T${time}`, { zone }).toMillis(),
)

/** A moment in a zone, as people say it: 27 Nov, 10:15. */
export const momentIn = (at: number, zone: string): string =>
  DateTime.fromMillis(at, { zone, locale: 'en' }).toFormat('d LLL, HH:mm')
/** The time of day of an instant in a zone: 10:15. */
export const clockIn = (at: number, zone: string): TimeOfDay => DateTime.fromMillis(at, { zone }).toFormat('HH:mm')
/** A day as people say it: Fri 27 Nov. */
export const dayWords = (date: LocalDate): string =>
  DateTime.fromISO(date, { zone: 'utc', locale: 'en' }).toFormat('ccc d LLL')
