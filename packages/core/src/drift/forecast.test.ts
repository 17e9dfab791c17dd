import { day } from '../basics/day'
import { bandAt, deviationAt, forecastAsOf, forecastFromTrend, furthestDays, type Forecast } from './forecast'
import { trendAbout } from '../test/trendAbout'
import { normalQuantile, trendAt, type Trend } from './theilSen'

const pivot = Date.UTC(2026, 2, 1)
const z = normalQuantile(0.9)

/** A trend at 1 that rises by 0.01 a day, unless told otherwise. */
const trend = (change = {}) => trendAbout(pivot)({ slope: 0.01, height: 1, ...change })
const after = (days: number) => pivot + days * day

function crossing(forecast: Forecast) {
  if (forecast.kind !== 'crosses') throw new Error(forecast.kind)
  return forecast
}

test('the band of a trend grows from its height’s uncertainty by its slope’s, which a bend widens', () => {
  const uncertain = trend({ off: 0.002, heightOff: 0.3 })
  expect(deviationAt(uncertain, pivot)).toBeCloseTo(0.3, 9)
  expect(deviationAt(uncertain, after(200))).toBeCloseTo(0.5, 9)
  expect(bandAt(uncertain, after(-200))).toBeCloseTo(1.28155 * 0.5, 3)
  expect(deviationAt(trend({ heightOff: 0.3 }), after(800), 0.05)).toBeCloseTo(0.5, 9)
})

test('the ends of a forecast are where the sides of the band meet the edge', () => {
  for (const bend of [0, 0.05])
    for (const falling of [false, true]) {
      const uncertain = falling
        ? trend({ slope: -0.01, off: 0.002, heightOff: 0.1 })
        : trend({ off: 0.002, heightOff: 0.1 })
      const edge = falling ? -1 : 3
      const { at, earliest, latest } = crossing(forecastFromTrend(uncertain, { edge, falling, now: after(20), bend }))
      expect(at).toBeCloseTo(after(200), 0)
      const sides = [earliest, latest!].map((t) => Math.abs(edge - trendAt(uncertain, t)) / bandAt(uncertain, t, bend))
      expect(sides[0]).toBeCloseTo(1, 6)
      expect(sides[1]).toBeCloseTo(1, 6)
      expect([earliest < at, latest! > at]).toEqual([true, true])
    }
})

test('no end lies before now, and one beyond five years, or one that never comes, is not told', () => {
  const now = after(195)
  const { earliest } = crossing(forecastFromTrend(trend({ off: 0.002, heightOff: 0.1 }), { edge: 3, now }))
  expect(earliest).toBe(now)
  // Its slow side falls: it never gets there. Its fast one does after 92.6 days: 2 − 0.926 = 1.2816·√(0.1² + 0.833²).
  const never = crossing(forecastFromTrend(trend({ off: 0.009, heightOff: 0.1 }), { edge: 3, now: pivot }))
  expect(never.latest).toBeNull()
  expect(never.sentence).toBe('About 17 Sep 2026; with 80 % confidence not before 1 Jun 2026.')
  // Its slow side is there after more than five years, and so slow one at last.
  const late = trend({ off: 0.0073, heightOff: 0 })
  expect(2 / (0.01 - z * 0.0073)).toBeGreaterThan(furthestDays)
  expect(crossing(forecastFromTrend(late, { edge: 3, now: pivot })).latest).toBeNull()
})

test('past is what has crossed for certain, or is beyond the edge and does not come back', () => {
  const now = pivot
  const kind = (t: Trend, edge: number, falling = false) => forecastFromTrend(t, { edge, falling, now }).kind
  expect(kind(trend({ heightOff: 0.1 }), 0.8)).toBe('past')
  // Beyond, but not for certain, and rising further: now.
  const doubtful = crossing(forecastFromTrend(trend({ heightOff: 0.1 }), { edge: 0.95, now }))
  expect([doubtful.at, doubtful.earliest]).toEqual([now, now])
  expect(doubtful.latest).toBeCloseTo(after((0.95 + z * 0.1 - 1) / 0.01), -3)
  // Beyond, and it holds still or comes back: nobody waits for it.
  expect(kind(trend({ slope: 0, heightOff: 0.1 }), 0.95)).toBe('past')
  expect(kind(trend({ slope: -0.01, heightOff: 0.1 }), 0.95)).toBe('past')
  // At the edge exactly, without any doubt.
  expect(kind(trend(), 1)).toBe('past')
  expect(kind(trend({ slope: -0.01 }), 1, true)).toBe('past')
  expect(kind(trend({ slope: 0 }), 1)).toBe('past')
})

test('steady is what holds still, goes away from the edge, or takes more than five years', () => {
  const of = (slope: number, edge: number) => forecastFromTrend(trend({ slope }), { edge, now: pivot }).kind
  expect(of(0, 2)).toBe('steady')
  expect(of(-0.01, 2)).toBe('steady')
  expect(of(1 / (furthestDays + 1), 2)).toBe('steady')
  expect(of(1 / (furthestDays - 1), 2)).toBe('crosses')
  expect(furthestDays).toBe(1825)
})

test('a forecast read on the very day of its bounds still holds', () => {
  const made = { kind: 'crosses', at: after(10), earliest: after(5), latest: after(20), sentence: '' } as const
  expect(forecastAsOf(made, after(5))).toBe(made)
  expect(forecastAsOf(made, after(20))).toMatchObject({ kind: 'crosses', at: after(20), latest: after(20) })
  const steady = forecastFromTrend(trend({ slope: 0 }), { edge: 2, now: pivot })
  expect(forecastAsOf(steady, after(9000))).toBe(steady)
  expect(steady).toEqual({
    kind: 'steady',
    sentence: 'The figure does not move towards the edge within five years.',
  })
  expect(forecastAsOf(made, after(21))).toEqual({
    kind: 'past',
    sentence: 'By its trend the figure has crossed the edge already.',
  })
})
