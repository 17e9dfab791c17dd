import { planBound } from './bound'
import { costOf } from './costs'
import { hungVisits } from './hungVisits'
import { improve, priority } from './improve'
import { bestPlace } from './insert'
import { dayOf, type Plan, type PlanProblem } from './problem'
import { planTables } from './tables'
import { Tours } from './tours'
import type { Candidate } from './tourWalk'

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

/**
 * Puts visits back to where they were pinned or told to be, in order of time. A tour comes back as a whole where it can be
 * walked: its beginning alone may not be, because nobody would take an instrument down in time.
 */
export function seatAllAsKnown(tours: Tours, visits: readonly number[]): void {
  const byShift = new Map<number, Candidate[]>()
  for (const visit of visits) {
    const known = asKnown(tours, visit)
    if (!known) continue
    const own = byShift.get(known.shift) ?? []
    byShift.set(known.shift, [...own, { ...known.candidate, position: own.length }])
  }
  const inOrder = [...byShift].sort(([a], [b]) => (a % tours.tables.days) - (b % tours.tables.days) || a - b)
  for (const [shift, candidates] of inOrder) {
    const placed = candidates.filter((candidate) => {
      const may = mayPlace(tours, shift, candidate)
      if (may) tours.insert(shift, { ...candidate, position: tours.visits[shift].length })
      return may
    })
    if (tours.settle(shift)) continue
    for (const { visit } of placed) tours.remove(visit)
    for (const { visit } of placed) seatAsKnown(tours, visit)
  }
}

/** Puts a visit behind what its tour has already, with whom and what it was pinned or told to be made. */
export function seatAsKnown(tours: Tours, visit: number): void {
  const known = asKnown(tours, visit)
  if (!known) return
  const candidate = { ...known.candidate, position: tours.visits[known.shift].length }
  if (mayPlace(tours, known.shift, candidate) && tours.admits(known.shift, candidate))
    tours.insert(known.shift, candidate)
}

const mayPlace = (tours: Tours, shift: number, { instrument, night }: Candidate) =>
  tours.holding.mayHold(shift, instrument) && (!night || tours.mayHang(shift, instrument))

/** A visit as it was pinned or told, where there still is such a shift and instrument. */
function asKnown({ tables }: Tours, visit: number): { shift: number; candidate: Candidate } | null {
  const { problem, days } = tables
  const { pinned, told, overnight, options, seat, takeDown } = problem.visits[visit]
  const { person, instrument, at } = (pinned ?? told)!
  const option = options.find((o) => o.instrument === instrument)
  if (person === null || !problem.people[person] || !option) return null
  if (at < problem.dayBounds[0] || at >= problem.dayBounds[days]) return null
  const shift = person * days + dayOf(problem.dayBounds, at)
  if (tables.hours[shift] === 0) return null
  const leaves = tables.ends[tables.hoursFrom[shift + 1] - 1]
  return {
    shift,
    candidate: { visit, instrument, position: 0, night: overnight && at + seat + option.run + takeDown > leaves },
  }
}

/** So many visits at most are few. */
const few = 120

/** Few visits are tried out thoroughly; many take longer at each step. */
const stepsFor = (visits: number) => (visits === 0 ? 0 : Math.round(Math.min(10_000, 400 + 4_000_000 / visits)))

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
