import { uniformFrom } from '../../basics/random'
import { apartWeight, costOf, daysApart, priority, weigh } from './costs'
import { bestPlace } from './insert'
import type { Tours } from './tours'

/** How a visit stood before something was tried. */
interface Former {
  readonly shift: number
  readonly visits: readonly number[]
  readonly instruments: readonly number[]
  readonly nights: readonly number[]
}

/** So many minutes apart, displays lie near each other. */
const near = 2
/** At most so many visits leave their tours at once, and from so many tours. */
const stringLength = 4
const mostTours = 3
/** The share of steps in which tours are emptied, so that their instruments can go to somebody else. */
const wholeTours = 0.1
/** The share of places that are passed over when visits come back, so that the same choice is not always met again. */
const passedOver = 0.02
/** How much worse a plan may become on the way, as a share of what a visit weighs, when the search begins and ends. */
const [loose, strict] = [1, 1e-3]

/**
 * Betters tours by ruin and recreation: strings of visits that lie near each other leave their tours and come back to where
 * they are cheapest. After J. Christiaens, G. Vanden Berghe, Transportation Science 54 (2), 2020; what it may worsen on the
 * way falls with the steps, after G. Dueck, J. Comput. Phys. 104, 1993. The same tours, steps and seed give the same end.
 */
export function improve(tours: Tours, { steps, seed }: { steps: number; seed: number }): void {
  const { problem } = tours.tables
  const uniform = uniformFrom(seed)
  const below = (count: number) => Math.min(count - 1, Math.floor(uniform() * count))
  const free = planable(tours)
  if (!free.length) return
  const whole = () => weigh(costOf(tours)) + apartWeight * daysApart(tours)
  let current = whole()
  let best = current
  let bestTours = snapshot(tours)
  const orders = ordersOf(tours, uniform)
  for (let step = 0; step < steps; step++) {
    const touched = new Map<number, Former>()
    const out = new Set<number>()
    let isWalked = true
    const take = (visit: number) => {
      remember(tours, touched, tours.shiftOf[visit])
      isWalked = tours.remove(visit) && isWalked
      out.add(visit)
    }
    const seedVisit = pick(tours, free, below, uniform)
    if (tours.shiftOf[seedVisit] < 0) out.add(seedVisit)
    const wanted = 1 + below(mostTours)
    const isWhole = uniform() < wholeTours
    for (const shift of toursNear(tours, seedVisit, wanted, below)) {
      const movable = tours.visits[shift].filter((v) => !problem.visits[v].pinned)
      if (!movable.length) continue
      const length = isWhole ? movable.length : 1 + below(Math.min(stringLength, movable.length))
      const meets = movable.indexOf(seedVisit)
      const from =
        meets < 0
          ? below(movable.length - length + 1)
          : Math.max(0, Math.min(movable.length - length, meets - below(length)))
      for (const visit of movable.slice(from, from + length)) take(visit)
    }
    // Those that were left out get their chance too.
    for (const visit of leftOut(tours, free, out, below)) out.add(visit)
    if (isWalked)
      for (const visit of orders(out, seedVisit)) {
        const place = bestPlace(tours, visit, () => uniform() < passedOver)
        if (!place) continue
        remember(tours, touched, place.shift)
        tours.insert(place.shift, place.candidate)
      }
    const next = isWalked ? whole() : Infinity
    const slack = Math.max(1, best / free.length) * loose * (strict / loose) ** (step / steps)
    if (next < current + slack * uniform()) {
      current = next
      if (next < best - 1e-9) {
        best = next
        bestTours = snapshot(tours)
      }
    } else restore(tours, touched)
  }
  restoreAll(tours, bestTours)
}

/** Visits that somebody has to be found for. */
function planable(tours: Tours): number[] {
  const { problem, alone } = tours.tables
  return problem.visits.flatMap((v, n) => (v.pinned || alone[n] ? [] : [n]))
}

/** Whether a visit costs more than it would at its best. */
function isLate(tours: Tours, visit: number): boolean {
  const { days, costs, firstDay } = tours.tables
  const shift = tours.shiftOf[visit]
  const own = visit * (days + 1)
  return costs[own + (shift < 0 ? days : shift % days)] > costs[own + firstDay[visit]]
}

/** A visit to begin at: most of the time one that is late or left out, where one is found soon. */
function pick(tours: Tours, free: readonly number[], below: (count: number) => number, uniform: () => number): number {
  if (uniform() < 0.8)
    for (let tried = 0; tried < 200; tried++) {
      const visit = free[below(free.length)]
      if (isLate(tours, visit)) return visit
    }
  return free[below(free.length)]
}

/** Tours to take visits from: that of a visit, and others in which it would cost less, or that pass near it. */
function toursNear(tours: Tours, visit: number, count: number, below: (count: number) => number): number[] {
  const { days, hours, costs, walk, place, places, problem, firstDay } = tours.tables
  const own = tours.shiftOf[visit]
  const found = own >= 0 ? [own] : []
  const row = visit * (days + 1)
  const now = costs[row + (own < 0 ? days : own % days)]
  const late = isLate(tours, visit)
  let better = firstDay[visit] + 1
  while (late && better < days && costs[row + better] < now) better++
  for (let tried = 0; tried < 60 && found.length < count; tried++) {
    const day = late ? firstDay[visit] + below(better - firstDay[visit]) : below(days)
    const shift = below(problem.people.length) * days + day
    if (!hours[shift] || !tours.visits[shift].length || found.includes(shift)) continue
    if (late && !suits(tours, shift, visit)) continue
    if (late || tried > 20 || tours.visits[shift].some((v) => walk[place[v] * places + place[visit]] <= near))
      found.push(shift)
  }
  return found
}

/** Whether a tour could take a visit in if there were room: an instrument that fits is there, in hours that suit it. */
function suits(tours: Tours, shift: number, visit: number): boolean {
  const { tables } = tours
  const { days, begins, ends, hoursFrom, opens, closes, windowOfDay, windowsFrom, run, problem } = tables
  const count = problem.instruments.length
  if (!tours.holding.held[shift].some((k) => run[visit * count + k] >= 0)) return false
  const [from, to] = [begins[hoursFrom[shift]], ends[hoursFrom[shift + 1] - 1]]
  for (let w = windowOfDay[visit * days + (shift % days)]; w < windowsFrom[visit + 1] && opens[w] < to; w++)
    if (closes[w] > from) return true
  return false
}

function leftOut(
  tours: Tours,
  free: readonly number[],
  out: ReadonlySet<number>,
  below: (count: number) => number,
): number[] {
  const found: number[] = []
  for (let tried = 0; tried < 8 && found.length < 2; tried++) {
    const visit = free[below(free.length)]
    if (tours.shiftOf[visit] < 0 && !out.has(visit)) found.push(visit)
  }
  return found
}

/** Orders in which visits come back: the dearest first, the tightest first, or by chance. */
function ordersOf(tours: Tours, uniform: () => number) {
  const { problem } = tours.tables
  const dear = problem.visits.map((v) => priority(v.costs))
  const tight = problem.visits.map((v) => v.windows.reduce((sum, w) => sum + w.to - w.from, 0) * v.options.length)
  const long = problem.visits.map((v) => v.seat + v.takeDown + (v.attended ? (v.options[0]?.run ?? 0) : 0))
  return (out: ReadonlySet<number>, seed: number): number[] => {
    const list = [...out].map((visit) => ({ visit, by: uniform() }))
    const kind = uniform()
    if (kind < 0.35) for (const l of list) l.by = -dear[l.visit]
    else if (kind < 0.5) for (const l of list) l.by = tight[l.visit]
    else if (kind < 0.65) for (const l of list) l.by = -long[l.visit]
    else if (kind < 0.8) for (const l of list) l.by = -dear[l.visit] / (1 + long[l.visit])
    // Room was made for the one that it began with.
    if (uniform() < 0.6) for (const l of list) if (l.visit === seed) l.by = -Infinity
    return list.sort((a, b) => a.by - b.by || a.visit - b.visit).map((l) => l.visit)
  }
}

function remember(tours: Tours, touched: Map<number, Former>, shift: number) {
  if (!touched.has(shift)) touched.set(shift, former(tours, shift))
}

const former = (tours: Tours, shift: number): Former => ({
  shift,
  visits: [...tours.visits[shift]],
  instruments: [...tours.instruments[shift]],
  nights: tours.visits[shift].map((v) => tours.night[v]),
})

/** Puts the tours back that were touched. */
function restore(tours: Tours, touched: ReadonlyMap<number, Former>) {
  for (const shift of touched.keys()) for (const visit of [...tours.visits[shift]]) tours.remove(visit)
  const inOrder = [...touched.values()].sort((a, b) => a.shift - b.shift)
  for (const { shift, visits, instruments, nights } of inOrder)
    for (const [position, visit] of visits.entries())
      tours.insert(shift, { visit, instrument: instruments[position], position, night: nights[position] === 1 })
}

const snapshot = (tours: Tours): Former[] =>
  tours.visits.flatMap((visits, shift) => (visits.length ? [former(tours, shift)] : []))

function restoreAll(tours: Tours, all: readonly Former[]) {
  const touched = new Map(
    tours.visits.map((_, shift) => [shift, { shift, visits: [], instruments: [], nights: [] } as Former]),
  )
  for (const one of all) touched.set(one.shift, one)
  restore(tours, touched)
}
