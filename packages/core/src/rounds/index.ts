export { dueLine, dueState, type DueState, dueStateNames, graceDays, type LastJudged, verdictNow } from './dueLine'
export { isWithinNight } from './nightWindow'
