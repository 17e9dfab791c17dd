import { atTime, daysAfter, weekdayOf, type DaySpan, type LocalDate } from './localDays'

/** When a workstation may be used for a visit, in the words of those who sit there. */
export const useTimeNames = ['before', 'desk', 'lunch', 'after', 'night'] as const
export type UseTime = (typeof useTimeNames)[number]

export const useTimeLabels: Readonly<Record<UseTime, string>> = {
  before: 'before work',
  desk: 'during work',
  lunch: 'at lunch',
  after: 'after work',
  night: 'at night and on closed days',
}

/** When a studio works. Weeks begin on Monday. */
export interface StudioHours {
  /** IANA name of the zone that all times of day are in. */
  readonly zone: string
  /** Work at the desks by weekday, seven of them; null where nobody works. */
  readonly desk: readonly (DaySpan | null)[]
  readonly lunch: DaySpan | null
  readonly closed: readonly { readonly date: LocalDate; readonly name: string }[]
}

/** A stretch of time, ms since 1970. */
export interface Span {
  readonly from: number
  readonly to: number
}

const hour = 3_600_000
/** What hangs over night is hung in the last half hour of work, and taken down in the first. */
const handsAtNight = 0.5 * hour
/** Hours before and after work that count as such. */
const [hoursBefore, hoursAfter] = [2, 3]

/** Work at the desks on a day; null where it is closed. */
export const deskOn = (hours: StudioHours, date: LocalDate): DaySpan | null =>
  hours.closed.some((c) => c.date === date) ? null : (hours.desk[weekdayOf(date)] ?? null)

/** Spans in order and apart: those that touch are one. */
export function joined(spans: readonly Span[]): Span[] {
  const found: { from: number; to: number }[] = []
  for (const { from, to } of [...spans].sort((a, b) => a.from - b.from)) {
    const last = found[found.length - 1]
    if (last && from <= last.to) last.to = Math.max(last.to, to)
    else if (to > from) found.push({ from, to })
  }
  return found
}

/** The parts of spans (in order and apart) that none of some others covers. */
export function without(spans: readonly Span[], others: readonly Span[]): Span[] {
  let left: Span[] = [...spans]
  for (const o of others)
    left = left.flatMap((s) =>
      o.to <= s.from || o.from >= s.to
        ? [s]
        : [
            { from: s.from, to: o.from },
            { from: o.to, to: s.to },
          ].filter((p) => p.to > p.from),
    )
  return left
}

/** When a workstation may be used on some days from `first`, in order and apart; a night belongs to the day it begins on. */
export function useSpans(
  times: readonly UseTime[],
  hours: StudioHours,
  { first, days }: { readonly first: LocalDate; readonly days: number },
): Span[] {
  const wanted = new Set(times)
  const { zone, lunch } = hours
  const spans: Span[] = []
  // The night before the first day reaches into it.
  for (let d = -1; d < days; d++) {
    const date = daysAfter(first, d)
    const next = daysAfter(date, 1)
    const [today, tomorrow] = [deskOn(hours, date), deskOn(hours, next)]
    const at = (span: DaySpan, end: keyof DaySpan) => atTime(date, span[end], zone)
    const dayEnd = atTime(date, '24:00', zone)
    if (wanted.has('night'))
      spans.push({
        from: today ? at(today, 'to') - handsAtNight : atTime(date, '00:00', zone),
        to: tomorrow ? atTime(next, tomorrow.from, zone) + handsAtNight : dayEnd,
      })
    if (!today) continue
    const desk = { from: at(today, 'from'), to: at(today, 'to') }
    const noon = lunch ? [{ from: at(lunch, 'from'), to: at(lunch, 'to') }] : []
    if (wanted.has('before')) spans.push({ from: desk.from - hoursBefore * hour, to: desk.from })
    if (wanted.has('desk')) spans.push(...without([desk], noon))
    if (wanted.has('lunch')) spans.push(...noon)
    if (wanted.has('after')) spans.push({ from: desk.to, to: Math.min(dayEnd, desk.to + hoursAfter * hour) })
  }
  const from = atTime(first, '00:00', zone)
  return joined(spans.map((s) => ({ from: Math.max(s.from, from), to: s.to })).filter((s) => s.to > s.from))
}

/** Days on which somebody is away, both included. */
export interface DaysOff {
  readonly from: LocalDate
  readonly to: LocalDate
}

/** When somebody works on some days: by their own week, or by the studio's desks; lunch, closed days and days off left out. */
export function workSpans(
  week: readonly (DaySpan | null)[] | null,
  off: readonly DaysOff[],
  hours: StudioHours,
  { first, days }: { readonly first: LocalDate; readonly days: number },
): Span[] {
  return Array.from({ length: days }, (_, d) => daysAfter(first, d)).flatMap((date) => {
    const desk = deskOn(hours, date)
    const own = week ? week[weekdayOf(date)] : desk
    const isClosed = hours.closed.some((c) => c.date === date)
    if (!own || isClosed || off.some((o) => date >= o.from && date <= o.to)) return []
    const at = (span: DaySpan): Span => ({
      from: atTime(date, span.from, hours.zone),
      to: atTime(date, span.to, hours.zone),
    })
    return without([at(own)], hours.lunch ? [at(hours.lunch)] : [])
  })
}
