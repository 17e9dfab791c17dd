export { dueLine, dueState, type DueState, dueStateNames, graceDays, type LastJudged, verdictNow } from './dueLine'
