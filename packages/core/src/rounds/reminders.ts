import { clockIn, dayWords, daysAfter, localDate, type LocalDate } from './studio/localDays'

/** A visit as its desk is reminded of it. */
export interface RemindedVisit {
  readonly id: number
  readonly display: string
  /** ms since 1970. */
  readonly at: number
  readonly minutes: number
  /** Whoever works there has said what suits. */
  readonly answered: boolean
}

/** A reminder that was sent to a desk. */
export interface SentReminder {
  readonly date: LocalDate
  readonly visits: readonly number[]
}

/** Days before a visit on which its desk is told of it first, and how often it is told at most. */
const leadDays = 3
const mostReminders = 3

export interface DeskReminder {
  /** 0 asks, 1 says, 2 asks to leave it free. */
  readonly step: number
  readonly visits: readonly RemindedVisit[]
}

/**
 * What a desk is told today of the visits before it: nothing where it was told today, where all of it was answered, or where
 * it was told often enough; and plainer each time. `open`: the studio works today.
 */
export function deskReminder(
  visits: readonly RemindedVisit[],
  sent: readonly SentReminder[],
  { now, zone, open }: { readonly now: number; readonly zone: string; readonly open: boolean },
): DeskReminder | null {
  const today = localDate(now, zone)
  if (!open || sent.some((s) => s.date === today)) return null
  const last = daysAfter(today, leadDays)
  const told = (id: number) => sent.filter((s) => s.visits.includes(id)).length
  const ahead = visits.filter(
    (v) => !v.answered && v.at > now && localDate(v.at, zone) <= last && told(v.id) < mostReminders,
  )
  if (!ahead.length) return null
  return { step: Math.max(...ahead.map((v) => told(v.id))), visits: [...ahead].sort((a, b) => a.at - b.at) }
}

/** Visits that nobody at the desk answered, although it was told of them as often as it is told. */
export function ignoredVisits<V extends Pick<RemindedVisit, 'id' | 'answered'>>(
  visits: readonly V[],
  sent: readonly Pick<SentReminder, 'visits'>[],
): V[] {
  const told = new Map<number, number>()
  for (const id of sent.flatMap((s) => s.visits)) told.set(id, (told.get(id) ?? 0) + 1)
  return visits.filter((v) => !v.answered && (told.get(v.id) ?? 0) >= mostReminders)
}

/** A reminder in words, a sentence for each visit. */
export function reminderText({ step, visits }: DeskReminder, zone: string): string {
  const sentences = visits.map(({ display, at, minutes }) => {
    const when = `${dayWords(localDate(at, zone))} at ${clockIn(at, zone)}`
    const long = `${minutes} ${minutes === 1 ? 'minute' : 'minutes'}`
    if (step === 0) return `${display} is to be looked at on ${when}, for ${long}.`
    if (step === 1) return `${display} will be looked at on ${when}, for ${long}.`
    return `Somebody comes to ${display} on ${when} and needs it for ${long}.`
  })
  const ends = [
    'Does that suit? Say so on the page of your desk.',
    'If another time suits better, choose it on the page of your desk.',
    visits.length === 1 ? 'Please leave it free then.' : 'Please leave them free then.',
  ]
  return [...sentences, ends[Math.min(step, ends.length - 1)]].join(' ')
}
