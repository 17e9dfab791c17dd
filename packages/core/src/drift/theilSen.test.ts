import { day } from '../basics/day'
import { uniformFrom } from '../basics/random'
import { fewestObservations, normalProbability, theilSenTrend, type Observation } from './theilSen'

const start = Date.UTC(2026, 0, 1)
const on = (days: readonly number[], values: readonly number[], segment?: number): Observation[] =>
  days.map((d, i) => ({ at: start + d * day, value: values[i], ...(segment === undefined ? {} : { segment }) }))

/** Slopes of all pairs, ascending. */
function pairSlopes(days: readonly number[], values: readonly number[]): number[] {
  const slopes = days.flatMap((d, i) => days.slice(0, i).map((e, j) => (values[i] - values[j]) / (d - e)))
  return slopes.sort((a, b) => a - b)
}

test('the bounds of a slope are pairs’ slopes by the ranks M1 and M2 + 1 of R. O. Gilbert, 1987, 16.4.2', () => {
  // Sen’s example; its S has the variance 7·6·19/18.
  const [t, y] = [
    [1, 2, 3, 4, 10, 12, 18],
    [9, 15, 19, 20, 45, 55, 78],
  ]
  const c = 1.8119 * Math.sqrt((7 * 6 * 19) / 18)
  const slopes = pairSlopes(t, y)
  const trend = theilSenTrend(on(t, y), 0.93)!
  expect(trend.slopeLow).toBeCloseTo(slopes[Math.round((21 - c) / 2) - 1], 9)
  expect(trend.slopeHigh).toBeCloseTo(slopes[Math.round((21 + c) / 2 + 1) - 1], 9)
})

test('bounds that would lie beyond the last pair are the last pair', () => {
  const trend = theilSenTrend(on([0, 1, 2, 3], [0, 1, 4, 9]), 0.999)!
  expect([trend.slopeLow, trend.slopeHigh]).toEqual([1, 5])
})

test('a trend does not depend on the order in which observations are given, nor of their days’ beginning', () => {
  const random = uniformFrom(4)
  for (let round = 0; round < 20; round++) {
    const all = Array.from({ length: 12 }, (_, i) => ({
      at: start + Math.floor(400 * random()) * day,
      value: random(),
      segment: i < 5 ? 1 : 2,
    })).sort((a, b) => a.segment - b.segment || a.at - b.at)
    // A calibration comes after all that was read before it.
    const inTurn = all.map((o) => ({ ...o, at: o.at + o.segment * 500 * day }))
    const shuffled = [...inTurn].sort(() => random() - 0.5)
    expect(theilSenTrend(shuffled)).toEqual(theilSenTrend(inTurn))
    const later = theilSenTrend(inTurn.map((o) => ({ ...o, at: o.at + 77 * day })))!
    const trend = theilSenTrend(inTurn)!
    expect({ ...later, pivot: later.pivot - 77 * day }).toEqual(trend)
  }
})

test('four checks at different instants are a history; what was read at one instant makes no slope', () => {
  expect(fewestObservations).toBe(4)
  expect(theilSenTrend(on([0, 1, 2, 3], [0, 1, 2, 3]))).toMatchObject({ slope: 1, observations: 4 })
  expect(theilSenTrend(on([0, 1, 2, 2], [0, 1, 2, 3]))).toBeNull()
  const twice = theilSenTrend(on([0, 1, 2, 3, 3], [0, 1, 2, 3, 3]))!
  expect(twice).toMatchObject({ slope: 1, observations: 4 })
})

test('the spread is 1.4826 of the median distance, for what a slope and a height of each stretch have taken out', () => {
  // Around 5 without a slope: distances 1 and 0, their median 1, once 8 and once 2·5 observations.
  const flat = [6, 4, 4, 6, 6, 4, 4, 6]
  const one = theilSenTrend(on([0, 1, 2, 3, 4, 5, 6, 7], flat))!
  expect([one.slope, one.height]).toEqual([0, 5])
  expect(one.spread).toBeCloseTo(1.4826 * Math.sqrt(8 / 6), 9)
  expect(one.heightDeviation).toBeCloseTo((Math.sqrt(Math.PI / 2) * one.spread) / Math.sqrt(8), 9)
  const half = [6, 4, 4, 6]
  const two = theilSenTrend([...on([0, 1, 2, 3], half, 1), ...on([10, 11, 12, 13], half, 2)])!
  expect(two.spread).toBeCloseTo(1.4826 * Math.sqrt(8 / 5), 9)
  // The height rests on the newest stretch alone.
  expect(two.pivot).toBe(start + 11.5 * day)
  expect(two.heightDeviation).toBeCloseTo((Math.sqrt(Math.PI / 2) * two.spread) / 2, 9)
})

test('a height by two checks is their mean and by one itself: neither is less certain for being a median', () => {
  const noisy = on([0, 1, 2, 3, 4, 5], [6, 4, 4, 6, 6, 4], 1)
  const one = theilSenTrend([...noisy, ...on([20], [8], 2)])!
  expect(one.height).toBe(8)
  expect(one.heightDeviation).toBeCloseTo(one.spread, 9)
  const two = theilSenTrend([...noisy, ...on([20, 21], [8, 9], 2)])!
  expect(two.heightDeviation).toBeCloseTo(two.spread / Math.SQRT2, 9)
  const three = theilSenTrend([...noisy, ...on([20, 21, 22], [8, 9, 8], 2)])!
  expect(three.heightDeviation).toBeCloseTo((Math.sqrt(Math.PI / 2) * three.spread) / Math.sqrt(3), 9)
})

test('a deviate of nothing is a half, and both sides of it add up to one', () => {
  expect(normalProbability(0)).toBeCloseTo(0.5, 7)
  for (const z of [0.2, 1, 3]) expect(normalProbability(z) + normalProbability(-z)).toBeCloseTo(1, 12)
})
