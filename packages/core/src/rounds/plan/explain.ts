import { bestPlace } from './insert'
import { dayOf, type Plan, type PlanProblem, type Stretch } from './problem'
import { seatAllAsKnown, seatAsKnown } from './seatAsKnown'
import { planTables } from './tables'
import { Tours } from './tours'

/** What more of would let a visit be made sooner, or at all. Instruments by a number in the problem: one more like it. */
export type Relief =
  | { readonly kind: 'hours' }
  | { readonly kind: 'person' }
  | { readonly kind: 'instrument'; readonly like: number }
  | { readonly kind: 'windows' }
  | { readonly kind: 'certificate' }

/** A visit that is late or left out, with whatever alone would mend that. */
export interface Shortage {
  readonly visit: number
  readonly isPlanned: boolean
  /** Weighted days that it costs. */
  readonly late: number
  /** Empty when no single thing would help. */
  readonly reliefs: readonly Relief[]
}

/** So many are looked into at most, the dearest first; of a plan of many visits fewer, for each takes longer. */
const mostExplained = (visits: number) => Math.round(Math.max(40, Math.min(200, 200_000 / visits)))
/** Minutes of work that are tried on top of each day. */
const moreMinutes = 120

/**
 * What is missing for each visit that a plan makes late or not at all: one thing after another is added to the studio (an
 * instrument of each sort, a person, two hours a day, the workstation at any time, certificates), and where the visit then
 * finds a cheaper place beside everything else that is planned, that would have freed it.
 */
export function explainShortages(problem: PlanProblem, plan: Plan): Shortage[] {
  const { visits, instruments } = problem
  const days = problem.dayBounds.length - 1
  const dayAt = (at: number) => dayOf(problem.dayBounds, at)
  const planned = new Map(plan.visits.map((v) => [v.visit, v]))
  const short = visits
    .flatMap((v, visit) => {
      if (v.options.some((o) => instruments[o.instrument].hangs)) return []
      const one = planned.get(visit)
      const late = v.costs[one ? dayAt(one.readyAt) : days]
      // What is late already when the plan begins is not held up by it.
      return late > v.costs[0] + 1e-9 ? [{ visit, isPlanned: one !== undefined, late }] : []
    })
    .sort((a, b) => b.late - a.late || a.visit - b.visit)
    .slice(0, mostExplained(visits.length))
  if (!short.length) return []
  const reliefs = reliefsOf(
    problem,
    short.map((s) => s.visit),
  ).map(({ relief, eased }) => ({
    relief,
    eased,
    tours: toursAsPlanned(eased, plan),
  }))
  return short.map(({ visit, isPlanned, late }) => ({
    visit,
    isPlanned,
    late,
    reliefs: reliefs
      .filter(({ tours, eased }) => {
        const { costs } = eased.visits[visit]
        const shift = tours.shiftOf[visit]
        if (shift >= 0) tours.remove(visit)
        const place = bestPlace(tours, visit)
        const cost = place
          ? costs[place.candidate.night ? dayAt(tours.last.readyAt[visit]) : place.shift % days]
          : costs[days]
        if (shift >= 0) seatAsKnown(tours, visit)
        return cost < late - 1e-9
      })
      .map(({ relief }) => relief),
  }))
}

/** The same studio with one thing more, for everything that could be short of some visits. */
export function reliefsOf(problem: PlanProblem, short: readonly number[]): { relief: Relief; eased: PlanProblem }[] {
  const { people, instruments, visits, dayBounds } = problem
  const always: Stretch[] = [{ from: dayBounds[0], to: dayBounds[dayBounds.length - 1] }]
  const found: { relief: Relief; eased: PlanProblem }[] = []
  const sorts = new Map<string, number>()
  for (const v of short)
    for (const { instrument } of visits[v].options) {
      const key = visits.map((other) => Number(other.options.some((o) => o.instrument === instrument))).join('')
      if (!sorts.has(key)) sorts.set(key, instrument)
    }
  for (const like of sorts.values())
    found.push({
      relief: { kind: 'instrument', like },
      eased: {
        ...problem,
        instruments: [...instruments, { ...instruments[like], carrier: null }],
        visits: visits.map((v) => {
          const option = v.options.find((o) => o.instrument === like)
          return option ? { ...v, options: [...v.options, { ...option, instrument: instruments.length }] } : v
        }),
      },
    })
  if (people.length) {
    found.push({ relief: { kind: 'person' }, eased: { ...problem, people: [...people, people[0]] } })
    found.push({
      relief: { kind: 'hours' },
      eased: {
        ...problem,
        people: people.map((p) => ({ ...p, shifts: longer(p.shifts, dayBounds) })),
      },
    })
  }
  found.push({
    relief: { kind: 'windows' },
    eased: { ...problem, visits: visits.map((v) => ({ ...v, windows: always })) },
  })
  if (instruments.some((i) => i.validUntil < always[0].to))
    found.push({
      relief: { kind: 'certificate' },
      eased: { ...problem, instruments: instruments.map((i) => ({ ...i, validUntil: Infinity })) },
    })
  return found
}

/** Shifts with more minutes at the end of each day, as far as the day goes. */
function longer(shifts: readonly Stretch[], dayBounds: readonly number[]): Stretch[] {
  return shifts.map((shift, n) => {
    const next = shifts[n + 1]
    const end = dayBounds.find((b) => b > shift.from) ?? shift.to
    const isLast = !next || next.from >= end
    return isLast ? { from: shift.from, to: Math.min(end, shift.to + moreMinutes) } : shift
  })
}

/** Tours as a plan has them, in a studio that has at least as much. */
function toursAsPlanned(problem: PlanProblem, plan: Plan): Tours {
  const known = new Map(plan.visits.map((v) => [v.visit, { person: v.person, instrument: v.instrument, at: v.at }]))
  const visits = problem.visits.map((v, n) => {
    const told = known.get(n)
    return told ? { ...v, told } : v
  })
  const tours = new Tours(planTables({ ...problem, visits }))
  seatAllAsKnown(
    tours,
    plan.visits.filter((v) => v.person !== null).map((v) => v.visit),
  )
  return tours
}
