import type { Rules } from './policy'

/** Times within an hour that a profile is put back before Bichroma leaves it alone. */
export const mostPutBacks = 3
const hour = 3_600_000

/** Whether a profile that was replaced is put back: told only, put back, or left alone because something keeps replacing it. */
export function putBackNow(
  rule: Rules['whenOther'],
  /** When it was put back since it was agreed to, ms since 1970. */
  times: readonly number[],
  now: number,
): 'tell' | 'put back' | 'leave alone' {
  if (rule === 'tell') return 'tell'
  if (rule === 'put back once') return times.length ? 'leave alone' : 'put back'
  return times.filter((at) => now - at < hour).length >= mostPutBacks ? 'leave alone' : 'put back'
}
