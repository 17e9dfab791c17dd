import dayjs from 'dayjs'

/** A day for lists: 24 Nov, with its year when it is another. */
export const formatDay = (at: number, now = Date.now()): string =>
  dayjs(at).format(dayjs(at).year() === dayjs(now).year() ? 'D MMM' : 'D MMM YYYY')

/** Day and time: 24 Nov, 14:05. */
export const formatMoment = (at: number): string => dayjs(at).format('D MMM, HH:mm')

/** How long ago, in words: today, yesterday, 5 days ago. */
export function formatAgo(at: number, now = Date.now()): string {
  const days = dayjs(now).startOf('day').diff(dayjs(at).startOf('day'), 'day')
  return days <= 0 ? 'today' : days === 1 ? 'yesterday' : `${days} days ago`
}

/** A due line for lists: due now, 2 days over, or the day. */
export function formatDue(dueAt: number | null, now = Date.now()): string {
  if (dueAt === null) return 'due now'
  const days = dayjs(dueAt).startOf('day').diff(dayjs(now).startOf('day'), 'day')
  if (days < 0) return `${-days} ${days === -1 ? 'day' : 'days'} over`
  return days === 0 ? 'due today' : formatDay(dueAt, now)
}

/** A display's due line for lists; one that rests has none. */
export const formatDueLine = (
  { dueAt, rests }: { readonly dueAt: number | null; readonly rests: object | null },
  now = Date.now(),
): string => (rests ? 'rests' : formatDue(dueAt, now))

/** Which of calendar and forecast a due line is by, and what the other says: by forecast, calendar 12 Dec. */
export function formatDueBy(
  {
    dueAt,
    calendarAt,
    forecastAt,
    rests,
    mattersAt,
    mattersName,
  }: {
    readonly dueAt: number | null
    readonly calendarAt: number | null
    readonly forecastAt: number | null
    readonly rests: { readonly kind: string; readonly why: string; readonly until: string | null } | null
    readonly mattersAt: number | null
    readonly mattersName: string | null
  },
  now = Date.now(),
): string {
  if (rests)
    return `${rests.kind}${rests.until ? ` until ${formatDay(dayjs(rests.until).valueOf(), now)}` : ''}: ${rests.why}`
  if (mattersAt !== null && mattersAt === dueAt) return `for ${mattersName}, calendar ${formatDay(calendarAt!, now)}`
  if (calendarAt === null) return ''
  if (forecastAt !== null && forecastAt < calendarAt) return `by forecast, calendar ${formatDay(calendarAt, now)}`
  if (forecastAt === null) return 'by calendar'
  const isFar = forecastAt - now > 300 * 86_400_000
  return `by calendar, forecast ${dayjs(forecastAt).format(isFar ? 'YYYY' : 'D MMM')}`
}

/** Minutes and seconds: 4:02. */
export const formatDuration = (ms: number): string => {
  const seconds = Math.round(ms / 1000)
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}

/** Time left in words: under a minute, ≈ 6 min. */
export const formatLeft = (seconds: number): string =>
  seconds < 45 ? '< 1 min' : `≈ ${Math.max(1, Math.round(seconds / 60))} min`
