import { hungVisits } from '../rounds/plan/hungVisits'
import { dayOf, type Plan, type PlannedVisit, type PlanProblem } from '../rounds/plan/problem'

/**
 * How it goes without planning: whoever is free goes to the display that is most overdue among those that can be read now,
 * with the nearest instrument that fits, and stays until it is done. For comparison.
 */
export function overdueFirst(problem: PlanProblem, dueOf: (visit: number) => number): Plan {
  const { people, instruments, visits, dayBounds } = problem
  const days = dayBounds.length - 1
  const walk = (a: number, b: number) => problem.walk[a * problem.places + b]
  const hung = hungVisits(problem)
  const alone = new Set([...hung.planned.map((p) => p.visit), ...hung.unplanned])
  const left = [...visits.keys()].filter((v) => !alone.has(v)).sort((a, b) => dueOf(a) - dueOf(b) || a - b)
  const at = instruments.map((i) => ({ place: i.place, freeFrom: 0, day: -1, person: -1 }))
  const planned: PlannedVisit[] = []
  let walked = 0
  const free = people.flatMap((p, person) => p.shifts.map((s) => ({ person, shift: s, now: s.from, here: p.place })))
  const queue = free.sort((a, b) => a.now - b.now || a.person - b.person)
  while (queue.length) {
    const who = queue.shift()!
    const home = people[who.person].place
    const today = dayOf(dayBounds, who.now)
    let done = false
    for (const [n, v] of left.entries()) {
      const visit = visits[v]
      const reach = visit.options
        .filter(({ instrument: k }) => {
          const { carrier, hangs } = instruments[k]
          return (
            !hangs &&
            (carrier === null || carrier === who.person) &&
            (at[k].day !== today || at[k].person === who.person)
          )
        })
        .map(({ instrument: k, run }) => {
          const way = walk(who.here, at[k].place) + walk(at[k].place, visit.place)
          const arrives = Math.max(who.now + way, visit.warm)
          const ends = arrives + visit.seat + run + visit.takeDown
          return { k, run, way, arrives, ends }
        })
        .filter(
          ({ k, arrives, ends }) =>
            at[k].freeFrom <= who.now &&
            ends - visit.takeDown <= instruments[k].validUntil &&
            ends + walk(visit.place, home) <= who.shift.to &&
            visit.windows.some((w) => w.from <= arrives && w.to >= ends),
        )
        .sort((a, b) => a.way - b.way || a.k - b.k)
      if (!reach.length) continue
      const { k, run, way, arrives, ends } = reach[0]
      walked += way
      const readyAt = arrives + visit.seat + run
      planned.push({
        visit: v,
        person: who.person,
        instrument: k,
        at: arrives,
        wakeAt: arrives - visit.warm,
        readyAt,
        takeDownAt: readyAt,
        endsAt: ends,
      })
      at[k] = { place: visit.place, freeFrom: ends, day: today, person: who.person }
      left.splice(n, 1)
      queue.push({ ...who, now: ends, here: visit.place })
      done = true
      break
    }
    // Nothing can be read now: look again in a quarter of an hour.
    if (!done && who.now + 15 < who.shift.to) queue.push({ ...who, now: who.now + 15 })
    queue.sort((a, b) => a.now - b.now || a.person - b.person)
  }
  const late =
    hung.late +
    planned.reduce((sum, p) => sum + visits[p.visit].costs[dayOf(dayBounds, p.readyAt)], 0) +
    left.reduce((sum, v) => sum + visits[v].costs[days], 0)
  return {
    visits: [...planned, ...hung.planned],
    unplanned: [...left, ...hung.unplanned],
    cost: { late, moved: 0, walk: walked, uneven: 0 },
  }
}
