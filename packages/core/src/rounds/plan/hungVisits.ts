import { priority } from './costs'
import { dayOf, isAsTold, type PlannedVisit, type PlanProblem } from './problem'

/**
 * Visits at displays whose instrument hangs there: nobody comes, so only the instrument and the workstation's windows
 * matter. The dearest to put off goes first, each as early as its window lets it.
 */
export function hungVisits(problem: PlanProblem) {
  const { visits, instruments, dayBounds } = problem
  const days = dayBounds.length - 1
  const own = visits.flatMap((visit, v) => {
    const option = visit.options.find((o) => instruments[o.instrument].hangs)
    return option ? [{ v, visit, ...option }] : []
  })
  own.sort(
    (a, b) =>
      Number(Boolean(b.visit.pinned)) - Number(Boolean(a.visit.pinned)) ||
      priority(b.visit.costs) - priority(a.visit.costs) ||
      a.v - b.v,
  )
  const taken = new Map<number, { from: number; to: number }[]>()
  const planned: PlannedVisit[] = []
  const unplanned: number[] = []
  let [late, moved] = [0, 0]
  for (const { v, visit, instrument, run } of own) {
    const busy = taken.get(instrument) ?? []
    taken.set(instrument, busy)
    const whole = visit.seat + run + visit.takeDown
    const at = soonest(visit.windows, busy, visit.warm, whole, visit.pinned?.at)
    const isKept =
      at !== null && at + visit.seat + run <= instruments[instrument].validUntil && at + whole <= dayBounds[days]
    if (!isKept) {
      unplanned.push(v)
      late += visit.costs[days]
      if (visit.told) moved++
      continue
    }
    busy.push({ from: at, to: at + whole })
    busy.sort((a, b) => a.from - b.from)
    const readyAt = at + visit.seat + run
    late += visit.costs[dayOf(dayBounds, readyAt)]
    if (visit.told && !isAsTold(visit.told, { person: null, instrument, at })) moved++
    planned.push({
      visit: v,
      person: null,
      instrument,
      at,
      wakeAt: at - visit.warm,
      readyAt,
      takeDownAt: readyAt,
      endsAt: at + whole,
    })
  }
  return { planned, unplanned, late, moved }
}

/** The first instant at which so many minutes lie within a window and beside what is taken; or the pinned one, if it does. */
function soonest(
  windows: readonly { from: number; to: number }[],
  busy: readonly { from: number; to: number }[],
  from: number,
  minutes: number,
  pinned?: number,
): number | null {
  for (const window of windows) {
    let at = Math.max(window.from, from, pinned ?? -Infinity)
    for (const b of busy) if (at < b.to && at + minutes > b.from) at = b.to
    if (at + minutes <= window.to) return pinned === undefined || at === pinned ? at : null
  }
  return null
}
