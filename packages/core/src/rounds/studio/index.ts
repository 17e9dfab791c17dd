export {
  atTime,
  clockIn,
  dayWords,
  daysAfter,
  momentIn,
  type DaySpan,
  dayStart,
  isLocalDate,
  isZone,
  localDate,
  type LocalDate,
} from './localDays'
export {
  type DaysOff,
  deskOn,
  type Span,
  type StudioHours,
  type UseTime,
  useSpans,
  useTimeLabels,
  useTimeNames,
  workSpans,
} from './useTimes'
export { type RoundsFacts, type RoundsVisit, walkBetween, type WalkMinutes } from './studioFacts'
export { graceMs } from './studioProblem'
export {
  planStudio,
  type RoundsPlan,
  type RoundsPlanned,
  type RoundsRelief,
  type RoundsUnplanned,
  type WhatIf,
  whatIf,
} from './planStudio'
export type { RoundsLoad } from './load'
export type { InstrumentReason, TimeReason } from './reasons'
export {
  type Bar,
  barSentences,
  type Breaks,
  type VisitMove,
  whatBreaks,
  type WeekHouse,
  type WeekVisit,
} from './whatBreaks'
export { weekHouse } from './weekHouse'
