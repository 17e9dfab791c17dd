export { chanceOutside, chancePast, leavesLimits } from './chance'
export { type Forecast, forecastAsOf } from './forecast'
export { type InstrumentStanding, instrumentStandings } from './outlyingInstruments'
export {
  figureAt,
  forecastLimits,
  forecastRule,
  type InstrumentShift,
  instrumentShifts,
  slotDrift,
  type SlotDrift,
  soonDays,
  type Validated,
} from './slotTrends'
export type { Trend } from './theilSen'
export { figureKey, signedKey, trackedFigures, type TrackedFigures } from './trackedFigures'
