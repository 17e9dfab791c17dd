import type { Plan, PlanProblem } from '../plan'
import { walkMinutes } from './walkMinutes'
import type { RoundsFacts } from './studioFacts'
import { joined } from './useTimes'

/** How much of what there is a plan takes. */
export interface RoundsLoad {
  /** By person: minutes with hands at work and on the way, of the minutes that they work. */
  readonly people: readonly { readonly id: number; readonly busy: number; readonly of: number }[]
  /** By instrument: minutes at a display, of those at which somebody works. */
  readonly instruments: readonly { readonly id: number; readonly busy: number; readonly of: number }[]
}

/** What a plan takes of everybody's hours and of every instrument's, minutes. */
export function loadOf(problem: PlanProblem, plan: Plan, facts: RoundsFacts): RoundsLoad {
  const whole = (shifts: readonly { from: number; to: number }[]) => shifts.reduce((sum, s) => sum + s.to - s.from, 0)
  const anybody = whole(joined(problem.people.flatMap((p) => p.shifts)))
  return {
    people: facts.people.map(({ id }, person) => {
      const own = plan.visits.filter((v) => v.person === person)
      const hands = own.reduce((sum, v) => {
        const { seat, takeDown, attended } = problem.visits[v.visit]
        return sum + (attended ? v.endsAt - v.at : seat + takeDown)
      }, 0)
      return { id, busy: hands + walkMinutes(problem, own, person), of: whole(problem.people[person].shifts) }
    }),
    instruments: facts.instruments.map(({ id }, instrument) => ({
      id,
      busy: plan.visits
        .filter((v) => v.instrument === instrument)
        .reduce((sum, v) => {
          const { seat, takeDown, options } = problem.visits[v.visit]
          return sum + seat + takeDown + options.find((o) => o.instrument === instrument)!.run
        }, 0),
      of: anybody,
    })),
  }
}
