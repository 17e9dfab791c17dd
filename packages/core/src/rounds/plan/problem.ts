/** A stretch of time, in minutes since the plan's zero; the end is outside. */
export interface Stretch {
  readonly from: number
  readonly to: number
}

/** Somebody who goes to displays. */
export interface PlanPerson {
  /** Hours of work: in order, apart, none longer than the day it begins in. */
  readonly shifts: readonly Stretch[]
  /** Where each of their days begins and ends: a place. */
  readonly place: number
  /** So many instruments at most are with them on one day. */
  readonly carries: number
}

export interface PlanInstrument {
  /** Where it lies while nobody has it. */
  readonly place: number
  /** The minute from which its certificate no longer holds; Infinity where it has none to lose. */
  readonly validUntil: number
  /** Whoever has it with them always, or null: then it is fetched from where it lies, and brought back. */
  readonly carrier: number | null
  /** It hangs at one display and is used there without anybody. */
  readonly hangs: boolean
}

/** Who makes a visit with what, and from when. */
export interface Appointment {
  /** Null where the instrument hangs there and nobody comes. */
  readonly person: number | null
  readonly instrument: number
  /** The minute at which seating begins. */
  readonly at: number
}

/** One run to be made at one display: somebody seats an instrument, the run goes, somebody takes the instrument down. */
export interface PlanVisit {
  readonly place: number
  /** When the workstation may be used, in order and apart; a visit lies within one of them as a whole. */
  readonly windows: readonly Stretch[]
  /** Minutes of hands before and after the run. */
  readonly seat: number
  readonly takeDown: number
  /** Somebody stays while it runs. */
  readonly attended: boolean
  /** Minutes for which the display is on before it is seated. */
  readonly warm: number
  /** Instruments that fit, with the minutes of a run by each. */
  readonly options: readonly { readonly instrument: number; readonly run: number }[]
  /** Its instrument may hang over night, and is taken down when the same person comes to work again. */
  readonly overnight: boolean
  /**
   * What it costs when the run ends on each day of the plan, in weighted days of lateness, never falling; the last one
   * holds when it is not made within the plan at all.
   */
  readonly costs: readonly number[]
  /** Visits with the same number are better made on one day: what they read is held against each other. */
  readonly set?: number
  /** It stays where it is. */
  readonly pinned?: Appointment
  /** What people were told: moved only where that is worth it. */
  readonly told?: Appointment
}

export interface PlanProblem {
  /** Where days begin, in minutes since the plan's zero, and where the last one ends: one more than there are days. */
  readonly dayBounds: readonly number[]
  /** Minutes from place to place: row by row, as many as places², none on the diagonal. */
  readonly walk: readonly number[]
  readonly places: number
  readonly people: readonly PlanPerson[]
  readonly instruments: readonly PlanInstrument[]
  readonly visits: readonly PlanVisit[]
}

/** A visit with its times, in minutes since the plan's zero. */
export interface PlannedVisit extends Appointment {
  readonly visit: number
  /** When the display is woken. */
  readonly wakeAt: number
  readonly readyAt: number
  readonly takeDownAt: number
  readonly endsAt: number
}

/** What a plan comes to, the weightiest first. */
export interface PlanCost {
  /** Weighted days of lateness. */
  readonly late: number
  /** How many of those who were told something are told something else. */
  readonly moved: number
  /** Minutes of walking. */
  readonly walk: number
  /** Root mean square, over people, of the share of their hours with hands at work, beside its mean. */
  readonly uneven: number
}

export interface Plan {
  /** In order of time. */
  readonly visits: readonly PlannedVisit[]
  readonly unplanned: readonly number[]
  readonly cost: PlanCost
}

/** Minutes by which what people were told may shift without being told anew. */
const toldSlack = 30

/** The day of an instant: an index, held within the plan. */
export function dayOf(dayBounds: readonly number[], at: number): number {
  let [low, high] = [0, dayBounds.length - 2]
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (dayBounds[middle] <= at) low = middle
    else high = middle - 1
  }
  return low
}

/** Whether an appointment is still what was told. */
export const isAsTold = (told: Appointment, now: Appointment): boolean =>
  told.person === now.person && told.instrument === now.instrument && Math.abs(told.at - now.at) <= toldSlack
