import { dayOf, type PlannedVisit, type PlanProblem } from '../plan'

/** Minutes that somebody is on the way between what they do with hands: from their place and back, day by day. */
export function walkMinutes(problem: PlanProblem, visits: readonly PlannedVisit[], person: number): number {
  const { walk, places, people, dayBounds } = problem
  const acts = visits
    .flatMap((v) => {
      const { place, attended } = problem.visits[v.visit]
      return attended ? [{ at: v.at, place }] : [v.at, v.takeDownAt].map((at) => ({ at, place }))
    })
    .sort((a, b) => a.at - b.at)
  const home = people[person].place
  let [minutes, here, day] = [0, home, -1]
  for (const { at, place } of acts) {
    const today = dayOf(dayBounds, at)
    if (today !== day) {
      minutes += walk[here * places + home]
      here = home
      day = today
    }
    minutes += walk[here * places + place]
    here = place
  }
  return minutes + walk[here * places + home]
}
