import { day } from '../basics/day'
import { limitedMetrics } from '../aims/limitedMetrics'
import { formulaOf, type LimitRule, type Limits } from '../aims/limits'
import type { DifferenceFormula } from '../color/differences'
import { chanceOfDistance } from './distance'
import { deviationAt, furthestDays } from './forecast'
import { bend, straight, type SlotDrift } from './slotTrends'
import { normalProbability, trendAt, type Trend } from './theilSen'
import { figureKey, signedKey, whiteKeys } from './trackedFigures'

/** The chance, 0–1, that a trend's line is above a value at an instant; a line that is certain is above it or is not. */
function chanceAbove(trend: Trend, value: number, at: number, bent = 0): number {
  const off = trendAt(trend, at) - value
  const deviation = deviationAt(trend, at, bent)
  if (deviation === 0) return off > 0 ? 1 : 0
  return normalProbability(off / deviation)
}

/** The chance, 0–1, that a rule's figure is past its hard edge at an instant; null where its history is too short. */
export function chancePast(
  { trends, aimWhite }: SlotDrift,
  rule: LimitRule,
  formula: DifferenceFormula,
  at: number,
): number | null {
  if (rule.metric === 'whiteDeltaUv') {
    const [x, z] = [trends[whiteKeys.x], trends[whiteKeys.z]]
    return x && z ? chanceOfDistance(x, z, { aimWhite, edge: rule.hard, at }) : null
  }
  const key = figureKey(rule, formula)
  const trend = trends[key]
  if (!trend) return null
  if (key === signedKey)
    return Math.min(
      1,
      1 - chanceAbove(trend, straight(key, -rule.hard), at) + chanceAbove(trend, straight(key, rule.hard), at),
    )
  const above = chanceAbove(trend, rule.hard, at, bend)
  return limitedMetrics[rule.metric].atLeast ? 1 - above : above
}

/**
 * The chance, 0–1, that a slot is outside its limits at an instant: that any rule that decides is past its hard edge. Rules
 * are taken as independent; one panel's figures move together, so this is rather too much than too little, and never below
 * the chance of the likeliest. Null where no rule has history enough.
 */
export function chanceOutside(drift: SlotDrift, limits: Limits, at: number): number | null {
  const formula = formulaOf(limits)
  const chances = limits.rules
    .filter((rule) => (rule.weight ?? 'decides') === 'decides')
    .map((rule) => chancePast(drift, rule, formula, at))
    .filter((chance) => chance !== null)
  return chances.length ? 1 - chances.reduce((stays, chance) => stays * (1 - chance), 1) : null
}

/** Days between two instants at which the chance is looked at, at first; further ahead they lie further apart. */
const firstStep = 2
const growth = 1.15

/**
 * The first instant, not before `from`, at which the chance of being outside exceeds what is accepted (0–1), to half a
 * day. Null when that is not so within five years, or nobody knows.
 */
export function leavesLimits(
  drift: SlotDrift,
  limits: Limits,
  { from, accepted }: { readonly from: number; readonly accepted: number },
): number | null {
  const exceeds = (at: number) => (chanceOutside(drift, limits, at) ?? 0) > accepted
  if (exceeds(from)) return from
  let low = 0
  for (let step = firstStep; low < furthestDays; step *= growth) {
    let high = Math.min(furthestDays, low + step)
    if (exceeds(from + high * day)) {
      while (high - low > 0.5) {
        const middle = (low + high) / 2
        if (exceeds(from + middle * day)) high = middle
        else low = middle
      }
      return from + high * day
    }
    low = high
  }
  return null
}
