import type { JudgedVerdict, Verdict } from '../aims/limits'
import { day } from '../basics/day'

/** Days past its due line after which a validation no longer counts. */
export const graceDays = 7

/** The last time a display was judged. */
export interface LastJudged {
  readonly verdict: JudgedVerdict
  /** ms since 1970, UTC. */
  readonly at: number
}

/** When a display falls due by the calendar: ms since 1970, or null when it was never judged (it is due at once). */
export const dueLine = (last: LastJudged | null, everyDays: number): number | null => last && last.at + everyDays * day

/**
 * How a display stands in time: not yet due, due within seven days, overdue; a display never judged is overdue, one that
 * rests is never due.
 */
export const dueStateNames = ['overdue', 'this week', 'later', 'rests'] as const
export type DueState = (typeof dueStateNames)[number]

export function dueState(due: number | null, now: number, rests = false): DueState {
  if (rests) return 'rests'
  if (due === null || due <= now) return 'overdue'
  return due - now <= 7 * day ? 'this week' : 'later'
}

/** What is said of a display now: its last judgement, unless there is none or it is older than its due line and grace. */
export function verdictNow(last: LastJudged | null, everyDays: number, now: number): Verdict {
  if (!last) return 'unproven'
  return now > last.at + (everyDays + graceDays) * day ? 'lapsed' : last.verdict
}
