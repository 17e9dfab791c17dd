import type { Chromaticity } from '../color/chromaticity'
import type { DifferenceFormula } from '../color/differences'
import { formulaOf, type LimitRule, type Limits } from '../aims/limits'
import { limitedMetrics } from '../aims/limitedMetrics'
import { boundedExp } from './boundedExp'
import { forecastDistance } from './distance'
import { bandAt, forecastFromTrend, notEnoughHistory, type Forecast } from './forecast'
import { fewestObservations, median, theilSenTrend, trendAt, type Trend } from './theilSen'
import { figureKey, signedKey, whiteKeys, type TrackedFigures } from './trackedFigures'

/** One validation as trends see it. */
export interface Validated {
  /** ms since 1970, UTC. */
  readonly at: number
  /** Counts calibrations: validations between two of them share it. */
  readonly segment: number
  readonly instrumentId: number
  readonly figures: TrackedFigures
}

/** What the history of a slot comes to; plain data, so that it can be kept. */
export interface SlotDrift {
  /** Trends by the key of their figure. */
  readonly trends: Readonly<Record<string, Trend>>
  readonly aimWhite: Chromaticity
  readonly validations: number
}

/**
 * What a figure is trended as. Light is lost by so many per cent of what is left (luminance off aim, %), so its logarithm
 * runs straight and the figure does not.
 */
interface Straightening {
  readonly to: (value: number) => number
  readonly from: (straight: number) => number
}
const straightened: Readonly<Record<string, Straightening>> = {
  [signedKey]: {
    to: (off) => 100 * Math.log(Math.max(1e-3, 1 + off / 100)),
    from: (logarithm) => 100 * (boundedExp(logarithm / 100) - 1),
  },
}
/** Colour differences and the like bend as they grow: by so much may their rate ahead differ from what it was. */
export const bend = 0.05
/** A figure as its trend has it. */
export const straight = (key: string, value: number) => straightened[key]?.to(value) ?? value

/** The trend of every figure that has history enough for one. */
export function slotDrift(history: readonly Validated[], aimWhite: Chromaticity): SlotDrift {
  const trends: Record<string, Trend> = {}
  const keys = new Set(history.flatMap((v) => Object.keys(v.figures)))
  for (const key of keys) {
    const trend = theilSenTrend(
      history
        .filter((v) => key in v.figures)
        .map((v) => ({ at: v.at, value: straight(key, v.figures[key]), segment: v.segment })),
    )
    if (trend) trends[key] = trend
  }
  return { trends, aimWhite, validations: history.length }
}

/** A figure on its trend at an instant, with the band in which the line lies. */
export function figureAt(key: string, trend: Trend, at: number): { value: number; low: number; high: number } {
  const isStraight = key in straightened
  const from = (v: number) => straightened[key]?.from(v) ?? v
  const [middle, reach] = [trendAt(trend, at), bandAt(trend, at, isStraight ? 0 : bend)]
  return { value: from(middle), low: from(middle - reach), high: from(middle + reach) }
}

/** A rule's forecast towards its hard edge, where the display leaves its limits. */
export interface RuleForecast {
  readonly rule: LimitRule
  readonly forecast: Forecast
}

const soonest = (a: Forecast, b: Forecast) => (forecastOrder(b) < forecastOrder(a) ? b : a)

/** Slots that will leave their limits within so many days leave them soon. */
export const soonDays = 60

/** Sorts forecasts: past first, then by date, then those that do not move, then those that nobody knows. */
function forecastOrder(forecast: Forecast): number {
  if (forecast.kind === 'past') return -Infinity
  if (forecast.kind === 'crosses') return forecast.at
  return forecast.kind === 'steady' ? 1e16 : 1e17
}

/** When a rule's figure will pass an edge, by what the slot's history comes to. */
export function forecastRule(
  { trends, aimWhite, validations }: SlotDrift,
  rule: LimitRule,
  formula: DifferenceFormula,
  { edge, now }: { readonly edge: number; readonly now: number },
): Forecast {
  const none = notEnoughHistory(Math.min(validations, fewestObservations - 1))
  if (rule.metric === 'whiteDeltaUv') {
    const [x, z] = [trends[whiteKeys.x], trends[whiteKeys.z]]
    return x && z ? forecastDistance(x, z, { aimWhite, edge, now }) : none
  }
  const key = figureKey(rule, formula)
  const trend = trends[key]
  if (!trend) return none
  if (key === signedKey)
    return soonest(
      forecastFromTrend(trend, { edge: straight(key, -edge), falling: true, now }),
      forecastFromTrend(trend, { edge: straight(key, edge), now }),
    )
  return forecastFromTrend(trend, { edge, falling: limitedMetrics[rule.metric].atLeast ?? false, now, bend })
}

/** Forecasts of all rules that decide, the soonest first. */
export function forecastLimits(drift: SlotDrift, limits: Limits, now: number): RuleForecast[] {
  const formula = formulaOf(limits)
  return limits.rules
    .filter((rule) => (rule.weight ?? 'decides') === 'decides')
    .map((rule) => ({ rule, forecast: forecastRule(drift, rule, formula, { edge: rule.hard, now }) }))
    .sort((a, b) => forecastOrder(a.forecast) - forecastOrder(b.forecast))
}

/**
 * How one instrument's readings of a slot stand to the slot's trend: medians, of luminance and of X/Y and Z/Y as shares.
 */
export interface InstrumentShift {
  readonly instrumentId: number
  readonly readings: number
  readonly luminance: number
  readonly x: number
  readonly z: number
}

/** Shifts of the instruments that read a slot, where there were two or more of them; one alone has nothing to differ from. */
export function instrumentShifts(history: readonly Validated[], { trends }: SlotDrift): InstrumentShift[] {
  const { luminance, x, z } = whiteKeys
  const instruments = [...new Set(history.map((h) => h.instrumentId))]
  const [ofLuminance, ofX, ofZ] = [trends[luminance], trends[x], trends[z]]
  if (instruments.length < 2 || !ofLuminance || !ofX || !ofZ) return []
  /** What is left of a figure beside its slope, around the middle of each stretch. */
  const rests = (trend: Trend, key: string) => {
    const levelled = history.map((h) => ({ ...h, rest: h.figures[key] - trendAt(trend, h.at) }))
    const middles = new Map(
      [...new Set(history.map((h) => h.segment))].map((segment) => [
        segment,
        median(levelled.filter((l) => l.segment === segment).map((l) => l.rest)),
      ]),
    )
    return levelled.map((l) => ({ instrumentId: l.instrumentId, rest: l.rest - middles.get(l.segment)! }))
  }
  const [l, dx, dz] = [rests(ofLuminance, luminance), rests(ofX, x), rests(ofZ, z)]
  return instruments.map((instrumentId) => {
    const of = (all: typeof l) => median(all.filter((r) => r.instrumentId === instrumentId).map((r) => r.rest))
    return {
      instrumentId,
      readings: history.filter((h) => h.instrumentId === instrumentId).length,
      luminance: of(l) / ofLuminance.height,
      x: of(dx),
      z: of(dz),
    }
  })
}
