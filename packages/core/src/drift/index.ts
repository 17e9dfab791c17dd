export { chanceOutside, chancePast, leavesLimits } from './chance'
export { type Forecast, forecastAsOf } from './forecast'
export { type InstrumentChange, instrumentChanges, type LightPoint, type LightSeries } from './instrumentChange'
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
export { normalQuantile, type Trend } from './theilSen'
export { figureKey, signedKey, trackedFigures, type TrackedFigures, whiteKeys } from './trackedFigures'
