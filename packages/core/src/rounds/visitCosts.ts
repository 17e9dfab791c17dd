import { day } from '../basics/day'

/** So much dearer is a day of lateness when a day that matters is missed by it. */
const matteringDay = 5

export interface VisitCosts {
  /** ms since 1970, UTC. */
  readonly due: number
  /** What a day outside its limits costs, beside other displays: 1 is usual. */
  readonly weight: number
  /** What the studio accepts, 0–1: the chance that an unknown display is taken to have at its due line. */
  readonly accepted: number
  /** The chance of being outside at an instant, 0–1; null where nobody knows. */
  readonly chanceAt: (at: number) => number | null
  /** It is due for a day that matters. */
  readonly matters: boolean
  /** Where the days of the plan begin and the last one ends: ms since 1970, UTC. */
  readonly dayBounds: readonly number[]
}

/** Days past the end of a plan after which what was left out of it is taken to be done. */
const daysAfter = 7
/** Where nobody knows, the chance grows by what is accepted in so many days. */
const unknownDays = 7

/**
 * What it costs when a visit is made on each day of a plan, and at last when it is not made in it: the days outside that
 * are to be expected from its due line until then, weighted. Never falls.
 */
export function visitCosts({ due, weight, accepted, chanceAt, matters, dayBounds }: VisitCosts): number[] {
  const days = dayBounds.length - 1
  /** Expected days outside on one day: its chance by its middle, for the part of it that is past the due line. */
  const on = (from: number, to: number) => {
    const late = Math.max(0, to - Math.max(from, due)) / day
    if (late === 0) return 0
    const middle = (Math.max(from, due) + to) / 2
    const unknown = accepted * (1 + (middle - due) / day / unknownDays)
    return late * Math.min(1, Math.max(accepted, chanceAt(middle) ?? unknown))
  }
  const dear = weight * (matters ? matteringDay : 1)
  // What is late when the plan begins has been so since its due line.
  let sum = due < dayBounds[0] ? on(due, dayBounds[0]) : 0
  const costs = dayBounds.slice(0, -1).map((from, d) => {
    const before = sum
    sum += on(from, dayBounds[d + 1])
    return dear * before
  })
  const end = dayBounds[days]
  return [...costs, dear * (sum + on(end, end + daysAfter * day))]
}

/**
 * Whether a display is checked first and calibrated if that fails, or calibrated at once: whichever takes less time, as
 * far as the chance of failing (0–1) knows. Minutes are those of the two runs.
 */
export function checksFirst(chance: number, check: number, full: number): boolean {
  return check + chance * full <= full
}
