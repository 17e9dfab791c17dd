import { dayOf } from './problem'
import type { Tours } from './tours'
import type { Candidate } from './tourWalk'

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
    // What is pinned stays; what was told finds its place around it.
    const isPinned = ({ visit }: Candidate) => tours.tables.problem.visits[visit].pinned !== undefined
    for (const one of [...placed.filter(isPinned), ...placed.filter((c) => !isPinned(c))]) seatAsKnown(tours, one.visit)
  }
}

/** Puts a visit into its tour, as late as it can, with whom and what it was pinned or told to be made. */
export function seatAsKnown(tours: Tours, visit: number): void {
  const known = asKnown(tours, visit)
  if (!known) return
  const { shift } = known
  for (let position = tours.visits[shift].length; position >= 0; position--) {
    const candidate = { ...known.candidate, position }
    if (!mayPlace(tours, shift, candidate)) return
    if (tours.admits(shift, candidate)) return tours.insert(shift, candidate)
  }
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
