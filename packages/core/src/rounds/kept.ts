import type { JudgedVerdict } from '../aims/limits'
import { day } from '../basics/day'
import { graceDays } from './dueLine'

/** What is said of a display on one day. within: proven, near an edge or not. out of step: so, but with another profile in force. */
export const keptStates = ['within', 'outside', 'lapsed', 'unproven', 'out of step'] as const
export type KeptState = (typeof keptStates)[number]
export type KeptDays = Record<KeptState, number>

export const noDays = (): KeptDays => ({ within: 0, outside: 0, lapsed: 0, unproven: 0, 'out of step': 0 })

/** A profile that was agreed on for a display, by its SHA-256; null for none. Times: ms since 1970. */
export interface AgreedThen {
  readonly from: number
  /** Since when it was read back, as far as that is still known. */
  readonly readAt: number | null
  /** It was let go of, and nothing came in its place. */
  readonly withdrawn: boolean
  readonly hash: string | null
}

/** What was found bound to a display from an instant on. */
export interface FoundThen {
  readonly since: number
  readonly path: string | null
  readonly hash: string | null
}

const isAsAgreed = (agreed: AgreedThen, found: FoundThen) =>
  agreed.hash === null ? found.path === null : found.path !== null && found.hash === agreed.hash

/**
 * Whether something else than was agreed on was in force at an instant: what had been read back before and was so no more.
 * Both in order of time. What was never read back is on its way, and not out of step.
 */
export function strayAt(agreed: readonly AgreedThen[], found: readonly FoundThen[]): (at: number) => boolean {
  return (at) => {
    const last = agreed.findLast((a) => a.from <= at)
    const there = found.findLast((f) => f.since <= at)
    if (!last || last.withdrawn || !there || isAsAgreed(last, there)) return false
    return (
      (last.readAt !== null && last.readAt <= at) ||
      found.some((f) => f.since >= last.from && f.since <= at && isAsAgreed(last, f))
    )
  }
}

/**
 * What is said of a display on each of some days, by its last judgement when the day ended: days between `bounds` (ms since
 * 1970, in order, one more than there are days). Judgements in order of time; a later one that was withdrawn is not among
 * them. `isStray`: whether another profile than was agreed on was in force at an instant.
 */
export function keptDays(
  judged: readonly { readonly at: number; readonly verdict: JudgedVerdict }[],
  everyDays: number,
  bounds: readonly number[],
  isStray: (at: number) => boolean = () => false,
): KeptState[] {
  let next = 0
  return bounds.slice(1).map((end) => {
    while (next < judged.length && judged[next].at <= end) next++
    const last = judged[next - 1]
    if (!last) return 'unproven'
    if (end > last.at + (everyDays + graceDays) * day) return 'lapsed'
    if (last.verdict === 'outside') return 'outside'
    if (last.verdict === 'untold') return 'unproven'
    return isStray(end) ? 'out of step' : 'within'
  })
}

/** The share of days that were proven within, 0–1; null for no days at all. */
export function keptShare(days: KeptDays): number | null {
  const all = keptStates.reduce((sum, s) => sum + days[s], 0)
  return all ? days.within / all : null
}
