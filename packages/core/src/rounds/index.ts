export { dueLine, dueState, type DueState, dueStateNames, graceDays, type LastJudged, verdictNow } from './dueLine'
export { isWithinNight } from './nightWindow'
export {
  type Appointment,
  explainShortages,
  isAsTold,
  type Plan,
  planBound,
  type PlanBound,
  type PlanCost,
  planFaults,
  type PlanInstrument,
  type PlannedVisit,
  type PlanPerson,
  type PlanProblem,
  planRounds,
  type PlanVisit,
  type Relief,
  type Resource,
  type Shortage,
  type Stretch,
} from './plan'
export {
  type Due,
  type DueBy,
  dueOf,
  type DueRule,
  type DueRules,
  dueRulesOf,
  type DueScope,
  dueScopes,
  forecastLine,
  type MatteringDay,
  type Rest,
  usualAccepted,
  usualDays,
} from './due'
export { checksFirst, visitCosts } from './visitCosts'
