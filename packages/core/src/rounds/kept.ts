import type { JudgedVerdict } from '../aims/limits'
import { day } from '../basics/day'
import { graceDays } from './dueLine'

/** What is said of a display on one day. within: proven, near an edge or not. */
export const keptStates = ['within', 'outside', 'lapsed', 'unproven'] as const
export type KeptState = (typeof keptStates)[number]
export type KeptDays = Record<KeptState, number>

export const noDays = (): KeptDays => ({ within: 0, outside: 0, lapsed: 0, unproven: 0 })

/**
 * What is said of a display on each of some days, by its last judgement when the day ended: days between `bounds` (ms since
 * 1970, in order, one more than there are days). Judgements in order of time; a later one that was withdrawn is not among
 * them.
 */
export function keptDays(
  judged: readonly { readonly at: number; readonly verdict: JudgedVerdict }[],
  everyDays: number,
  bounds: readonly number[],
): KeptState[] {
  let next = 0
  return bounds.slice(1).map((end) => {
    while (next < judged.length && judged[next].at <= end) next++
    const last = judged[next - 1]
    if (!last) return 'unproven'
    if (end > last.at + (everyDays + graceDays) * day) return 'lapsed'
    return last.verdict === 'outside' ? 'outside' : 'within'
  })
}

/** The share of days that were proven within, 0–1; null for no days at all. */
export function keptShare(days: KeptDays): number | null {
  const all = keptStates.reduce((sum, s) => sum + days[s], 0)
  return all ? days.within / all : null
}
