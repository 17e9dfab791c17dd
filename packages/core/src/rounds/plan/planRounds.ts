import { planBound } from './bound'
import { costOf, priority } from './costs'
import { hungVisits } from './hungVisits'
import { improve } from './improve'
import { bestPlace } from './insert'
import type { Plan, PlanProblem } from './problem'
import { seatAllAsKnown } from './seatAsKnown'
import { planTables } from './tables'
import { Tours } from './tours'

export interface PlanOptions {
  /** The same problem, seed and effort give the same plan. */
  readonly seed?: number
  /** How long to better it: 1 is meant for a week of a large studio within two seconds. */
  readonly effort?: number
}

/**
 * Rounds for what falls due: who goes to which display when and with which instrument. As little weighted lateness as
 * possible, then as little that was told otherwise, then as little walking, then even load. Visits that are pinned stay, or
 * are told as not planned when they cannot be kept. Throws on a problem whose numbers do not fit each other.
 */
export function planRounds(problem: PlanProblem, { seed = 1, effort = 1 }: PlanOptions = {}): Plan {
  checkShape(problem)
  const tours = new Tours(planTables(problem))
  const { visits } = problem
  const numbers = visits.map((_, v) => v).filter((v) => !tours.tables.alone[v])
  const put = (v: number) => {
    const place = bestPlace(tours, v)
    if (place) tours.insert(place.shift, place.candidate)
  }
  const at = (v: number) => visits[v].pinned?.at ?? visits[v].told?.at ?? Infinity
  const byTime = (a: number, b: number) => at(a) - at(b) || a - b
  // A bound's prices know which days are sought after: who is best off on the first is seen to first.
  const { days: wished } = planBound(problem, 100)
  const days = problem.dayBounds.length - 1
  const first = (v: number) => (wished[v] < 0 ? days : wished[v])
  const dear = visits.map((v) => priority(v.costs))
  // As it was first, so that what nothing speaks against stays; what no longer holds finds another place after.
  const known = numbers.filter((v) => visits[v].pinned ?? visits[v].told).sort(byTime)
  seatAllAsKnown(tours, known)
  known.filter((v) => tours.shiftOf[v] < 0).forEach(put)
  numbers
    .filter((v) => !visits[v].pinned && !visits[v].told)
    .sort((a, b) => first(a) - first(b) || dear[b] - dear[a] || a - b)
    .forEach(put)
  const movable = numbers.filter((v) => !visits[v].pinned).length
  // A few visits get caught where one step leads nowhere: the search begins anew from the best that it found.
  const heats = movable <= few ? 4 : 1
  const steps = Math.round((effort * stepsFor(movable)) / heats)
  for (let heat = 0; heat < heats; heat++) improve(tours, { steps, seed: seed + heat })
  for (const shift of tours.visits.keys()) tours.settle(shift)
  const hung = hungVisits(problem)
  const planned = [...numbers.filter((v) => tours.shiftOf[v] >= 0).map((v) => tours.planned(v)), ...hung.planned]
  return {
    visits: planned.sort((a, b) => a.at - b.at || a.visit - b.visit),
    unplanned: [...numbers.filter((v) => tours.shiftOf[v] < 0), ...hung.unplanned].sort((a, b) => a - b),
    cost: withHung(costOf(tours), hung),
  }
}

/** So many visits at most are few. */
const few = 120

/** Few visits are tried out thoroughly, of a handful every choice comes soon; many take longer at each step. */
const stepsFor = (visits: number) =>
  visits === 0 ? 0 : Math.round(Math.min(10_000, 400 + 80 * visits ** 2, 400 + 4_000_000 / visits))

const withHung = (cost: Plan['cost'], hung: { late: number; moved: number }) => ({
  ...cost,
  late: cost.late + hung.late,
  moved: cost.moved + hung.moved,
})

function checkShape({ places, walk, people, instruments, visits, dayBounds }: PlanProblem) {
  const days = dayBounds.length - 1
  const isPlace = (place: number) => place >= 0 && place < places
  if (days < 1) throw new RangeError('A plan needs a day at least.')
  if (walk.length !== places * places) throw new RangeError('Walking takes a figure for every two places.')
  if (![...people, ...instruments, ...visits].every((one) => isPlace(one.place)))
    throw new RangeError('Somebody or something is at a place that there is not.')
  for (const [n, v] of visits.entries()) {
    if (v.costs.length !== days + 1) throw new RangeError(`Visit ${n} needs a cost for each day, and one for none.`)
    if (v.costs.some((c, d) => d > 0 && c < v.costs[d - 1])) throw new RangeError(`The costs of visit ${n} fall.`)
    if (!v.options.length) throw new RangeError(`No instrument fits visit ${n}.`)
    if (v.overnight && v.attended) throw new RangeError(`Nobody stays with visit ${n} over night.`)
  }
}
