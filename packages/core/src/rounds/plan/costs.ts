import { dayOf, type PlanCost } from './problem'
import type { Tours } from './tours'

/** So many weighted days of lateness weigh as one who was told something else. */
const movedInDays = 0.25
/** So many minutes of walking weigh as a weighted day: lateness comes first, walking tells apart what is equally late. */
const walkPerDay = 10_000
/** Minutes of walking that a day between two visits of one set weighs as: a walk through the house. */
export const apartWeight = 30
/** Minutes of walking that a wholly uneven load weighs as. */
const unevenInMinutes = 60

/** What a plan's cost weighs, in minutes of walking. */
export const weigh = ({ late, moved, walk, uneven }: PlanCost): number =>
  walkPerDay * (late + movedInDays * moved) + walk + unevenInMinutes * uneven

/** What one who is told something else weighs, in minutes of walking. */
export const movedWeight = walkPerDay * movedInDays
export const lateWeight = walkPerDay

/** How dear it is to put a visit off: what its cost grows by over the plan. */
export const priority = (costs: readonly number[]): number =>
  costs.reduce((sum, cost) => sum + cost, 0) - costs[0] * costs.length

/** The day on which a placed visit's run ends. */
function dayDone(tours: Tours, visit: number): number {
  const { days, problem } = tours.tables
  return tours.night[visit] ? dayOf(problem.dayBounds, tours.last.readyAt[visit]) : tours.shiftOf[visit] % days
}

/** What tours come to as a whole, worked out from nothing. */
export function costOf(tours: Tours): PlanCost {
  const { tables } = tours
  const { days, problem, costs } = tables
  let late = 0
  let moved = 0
  for (let v = 0; v < problem.visits.length; v++) {
    if (tables.alone[v]) continue
    if (tours.shiftOf[v] >= 0) late += costs[v * (days + 1) + dayDone(tours, v)]
    else {
      late += costs[v * (days + 1) + days]
      if (problem.visits[v].told) moved++
    }
  }
  for (const n of tours.movedOf) moved += n
  return { late, moved, walk: tours.walked.reduce((sum, w) => sum + w, 0), uneven: unevenness(tours) }
}

/** How far people's shares of hands in their hours are from each other: their standard deviation. */
function unevenness(tours: Tours): number {
  const { days, hours, problem } = tours.tables
  const shares: number[] = []
  for (let p = 0; p < problem.people.length; p++) {
    let [busy, whole] = [0, 0]
    for (let s = p * days; s < (p + 1) * days; s++) {
      busy += tours.hands[s]
      whole += hours[s]
    }
    if (whole) shares.push(busy / whole)
  }
  if (!shares.length) return 0
  const mean = shares.reduce((sum, s) => sum + s, 0) / shares.length
  return Math.sqrt(shares.reduce((sum, s) => sum + (s - mean) ** 2, 0) / shares.length)
}

/** Days between the first and the last of each set's visits, all sets together. */
export function daysApart(tours: Tours): number {
  let sum = 0
  for (const set of tours.tables.sets) {
    let [first, last] = [Infinity, -Infinity]
    for (const v of set)
      if (tours.shiftOf[v] >= 0) {
        const day = tours.shiftOf[v] % tours.tables.days
        first = Math.min(first, day)
        last = Math.max(last, day)
      }
    if (last > first) sum += last - first
  }
  return sum
}

/** Days from one to the nearest of those on which others of a visit's set are made; 0 where there are none. */
export function apartOn(tours: Tours, visit: number, day: number): number {
  const peers = tours.tables.peers.get(visit)
  if (!peers) return 0
  let nearest = Infinity
  for (const v of peers)
    if (tours.shiftOf[v] >= 0) nearest = Math.min(nearest, Math.abs((tours.shiftOf[v] % tours.tables.days) - day))
  return nearest === Infinity ? 0 : nearest
}
