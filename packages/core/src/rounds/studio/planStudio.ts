import { dayOf, explainShortages, planRounds, reliefsOf, type Plan, type PlanProblem, type Relief } from '../plan'
import { loadOf, type RoundsLoad } from './load'
import { reasonsOf, type VisitReasons } from './reasons'
import { studioProblem } from './studioProblem'
import type { RoundsFacts } from './studioFacts'

/** What more of would help, in the studio's own numbers. */
export type RoundsRelief =
  | { readonly kind: 'hours' | 'person' | 'windows' | 'certificate' }
  | { readonly kind: 'instrument'; readonly likeId: number }

/** A visit with its times, ms since 1970. */
export interface RoundsPlanned extends VisitReasons {
  readonly displayId: number
  readonly personId: number | null
  readonly instrumentId: number
  readonly wakeAt: number
  readonly at: number
  readonly readyAt: number
  readonly takeDownAt: number
  readonly endsAt: number
  /** Weighted days of lateness that the plan itself adds. */
  readonly late: number
  /** What alone would have made it less late; empty where it is not. */
  readonly reliefs: readonly RoundsRelief[]
}

export interface RoundsUnplanned {
  readonly displayId: number
  readonly why: 'no room' | 'no instrument fits' | 'no time'
  readonly reliefs: readonly RoundsRelief[]
}

export interface RoundsPlan {
  readonly planned: readonly RoundsPlanned[]
  readonly unplanned: readonly RoundsUnplanned[]
  /** How many of those who were told something are told something else. */
  readonly moved: number
  /** Minutes of walking. */
  readonly walk: number
  readonly load: RoundsLoad
}

const minute = 60_000

const reliefIn = (facts: RoundsFacts, relief: Relief): RoundsRelief =>
  relief.kind === 'instrument'
    ? { kind: 'instrument', likeId: facts.instruments[relief.like].id }
    : { kind: relief.kind }

/** Rounds for a studio, with why each visit is when it is, and what is missing for what is late or left out. */
export function planStudio(facts: RoundsFacts): RoundsPlan {
  const made = studioProblem(facts)
  const { problem, zero, visits } = made
  const plan: Plan = visits.length
    ? planRounds(problem)
    : { visits: [], unplanned: [], cost: { late: 0, moved: 0, walk: 0, uneven: 0 } }
  const shortages = new Map(explainShortages(problem, plan).map((s) => [s.visit, s]))
  const reasons = reasonsOf(problem, plan)
  const at = (minutes: number) => zero + minutes * minute
  const reliefs = (visit: number) => (shortages.get(visit)?.reliefs ?? []).map((r) => reliefIn(facts, r))
  return {
    planned: plan.visits.map((v) => ({
      displayId: visits[v.visit].displayId,
      personId: v.person === null ? null : facts.people[v.person].id,
      instrumentId: facts.instruments[v.instrument].id,
      wakeAt: at(v.wakeAt),
      at: at(v.at),
      readyAt: at(v.readyAt),
      takeDownAt: at(v.takeDownAt),
      endsAt: at(v.endsAt),
      late: Math.max(0, (shortages.get(v.visit)?.late ?? 0) - problem.visits[v.visit].costs[0]),
      reliefs: reliefs(v.visit),
      ...reasons.get(v.visit)!,
    })),
    unplanned: [
      ...plan.unplanned.map((v) => ({
        displayId: visits[v].displayId,
        why: 'no room' as const,
        reliefs: reliefs(v),
      })),
      ...made.impossible.map(({ visit, why }) => ({ displayId: visit.displayId, why, reliefs: [] })),
    ],
    moved: plan.cost.moved,
    walk: plan.cost.walk,
    load: loadOf(problem, plan, facts),
  }
}

/** What one thing more would come to. */
export interface WhatIf {
  /** Null: as it is. */
  readonly relief: RoundsRelief | null
  /** Visits that the plan holds, and those of them that it makes late. */
  readonly planned: number
  readonly late: number
  /** Weighted days of lateness that the plan itself adds. */
  readonly lateness: number
}

/** Planning again takes its time for each of them. */
const whatIfEffort = 0.3

/** The plan as it is, and with one more of everything that could be short; the most helpful first. */
export function whatIf(facts: RoundsFacts): WhatIf[] {
  const { problem } = studioProblem(facts)
  if (!problem.visits.length) return [{ relief: null, planned: 0, late: 0, lateness: 0 }]
  const asItIs = { relief: null, ...outcome(problem) }
  const eased = reliefsOf(problem, [...problem.visits.keys()])
    .map(({ relief, eased: one }) => ({ relief: reliefIn(facts, relief), ...outcome(one) }))
    .sort((a, b) => a.lateness - b.lateness || b.planned - a.planned)
  return [asItIs, ...eased]
}

function outcome(problem: PlanProblem): Omit<WhatIf, 'relief'> {
  const plan = planRounds(problem, { effort: whatIfEffort })
  const least = problem.visits.reduce((sum, v) => sum + v.costs[0], 0)
  return {
    planned: plan.visits.length,
    late: plan.visits.filter(({ visit, readyAt }) => {
      const { costs } = problem.visits[visit]
      return costs[dayOf(problem.dayBounds, readyAt)] > costs[0] + 1e-9
    }).length,
    lateness: Math.max(0, plan.cost.late - least),
  }
}
