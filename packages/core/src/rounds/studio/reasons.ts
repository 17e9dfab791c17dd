import { dayOf, isAsTold, type Plan, type PlannedVisit, type PlanProblem } from '../plan'

/**
 * Why a visit is made when it is. pinned: somebody put it there. told: somebody was told so. late: nothing sooner was free. together: others are made in
 * the same room on the same tour. due: it falls due, and this is free.
 */
export type TimeReason = 'pinned' | 'told' | 'late' | 'together' | 'due'
/** only: no other fits. there: whoever comes has it with them for others. free: of those that fit, it is free then. */
export type InstrumentReason = 'only' | 'there' | 'free'

export interface VisitReasons {
  readonly whyThen: TimeReason
  readonly whyInstrument: InstrumentReason
  /** Others that are made in the same room on the same tour, and others with the same instrument on it. */
  readonly besides: number
  readonly sharing: number
}

/** Why each planned visit is when it is, and why with that instrument: read off the plan, by the visit's number. */
export function reasonsOf(problem: PlanProblem, plan: Plan): Map<number, VisitReasons> {
  const tourOf = (v: PlannedVisit) => `${v.person} ${dayOf(problem.dayBounds, v.at)}`
  const tours = new Map<string, PlannedVisit[]>()
  for (const v of plan.visits) tours.set(tourOf(v), [...(tours.get(tourOf(v)) ?? []), v])
  return new Map(
    plan.visits.map((v) => {
      const { pinned, told, costs, options, place } = problem.visits[v.visit]
      const others = tours.get(tourOf(v))!.filter((o) => o !== v)
      const besides = others.filter((o) => problem.visits[o.visit].place === place).length
      const sharing = others.filter((o) => o.instrument === v.instrument).length
      const isLate = costs[dayOf(problem.dayBounds, v.readyAt)] > costs[0] + 1e-9
      const whyThen = pinned
        ? 'pinned'
        : told && isAsTold(told, v)
          ? 'told'
          : isLate
            ? 'late'
            : besides
              ? 'together'
              : 'due'
      const whyInstrument = options.length === 1 ? 'only' : sharing ? 'there' : 'free'
      return [v.visit, { whyThen, whyInstrument, besides, sharing }]
    }),
  )
}
