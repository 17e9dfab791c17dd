export type {
  Appointment,
  Plan,
  PlanCost,
  PlanInstrument,
  PlannedVisit,
  PlanPerson,
  PlanProblem,
  PlanVisit,
  Stretch,
} from './problem'
export { dayOf, isAsTold } from './problem'
export { planRounds } from './planRounds'
export { explainShortages, reliefsOf, type Relief, type Shortage } from './explain'
export { planFaults } from './planFaults'
export { planBound, type PlanBound, type Resource } from './bound'
