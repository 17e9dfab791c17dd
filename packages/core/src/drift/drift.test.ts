import { normalFrom, uniformFrom } from '../basics/random'
import { day } from '../basics/day'
import { told } from '../test/told'
import { forecastCrossing } from './forecast'
import { normalQuantile, theilSenTrend, trendAt, type Observation } from './theilSen'

const start = Date.UTC(2026, 0, 1)
const monthly = (n: number, of: (month: number) => number): Observation[] =>
  Array.from({ length: n }, (_, i) => ({ at: start + i * 30 * day, value: of(i) }))

test('quantiles of the normal distribution are those printed', () => {
  for (const [p, z] of [
    [0.5, 0],
    [0.8, 0.8416],
    [0.9, 1.2816],
    [0.975, 1.96],
    [0.025, -1.96],
  ])
    expect(Math.abs(normalQuantile(p) - z)).toBeLessThan(5e-4)
})

describe('the trend', () => {
  test('of a straight line is the line', () => {
    const trend = theilSenTrend(monthly(8, (i) => 1 + 0.3 * i))!
    expect(trend.slope).toBeCloseTo(0.01, 12)
    expect(trendAt(trend, start + 300 * day)).toBeCloseTo(4, 9)
    expect(trend.spread).toBeCloseTo(0, 12)
  })

  test('is not moved by wild values, which a least-squares line follows', () => {
    const history = monthly(12, (i) => (i === 3 || i === 9 ? 20 : 1 + 0.1 * i))
    expect(theilSenTrend(history)!.slope).toBeCloseTo(0.1 / 30, 4)
  })

  test('is that of Sen’s own example: 1968, table 2 (t 1 2 3 4 10 12 18, Y 9 15 19 20 45 55 78), slope 4', () => {
    const [t, y] = [
      [1, 2, 3, 4, 10, 12, 18],
      [9, 15, 19, 20, 45, 55, 78],
    ]
    const trend = theilSenTrend(
      t.map((d, i) => ({ at: start + d * day, value: y[i] })),
      0.93,
    )!
    expect(trend.slope).toBeCloseTo(4, 9)
    // Its bounds are slopes of pairs too, on either side.
    expect(trend.slopeLow).toBeLessThan(4)
    expect(trend.slopeHigh).toBeGreaterThan(4)
  })

  test('looks at each stretch between calibrations by itself, and stands at the height of the newest', () => {
    // Falls by 1 a month, is set back to 100 after the fifth, and noise-free: a line through all would rise.
    const history = monthly(8, (i) => (i < 5 ? 100 - i : 100 - (i - 5))).map((o, i) => ({
      ...o,
      segment: i < 5 ? 1 : 2,
    }))
    const trend = theilSenTrend(history)!
    expect(trend.slope).toBeCloseTo(-1 / 30, 9)
    expect(trendAt(trend, history[7].at)).toBeCloseTo(98, 9)
    // Just calibrated: one check tells the height, the former stretch the slope.
    const fresh = theilSenTrend(history.slice(0, 6))!
    expect(fresh.slope).toBeCloseTo(-1 / 30, 9)
    expect(trendAt(fresh, history[5].at)).toBeCloseTo(100, 9)
  })

  test('counts no check that stands alone between two calibrations', () => {
    const alone = monthly(6, (i) => i).map((o, i) => ({ ...o, segment: i }))
    expect(theilSenTrend(alone)).toBeNull()
  })

  test('is not told from three checks, or four at one instant', () => {
    expect(theilSenTrend(monthly(3, (i) => i))).toBeNull()
    expect(theilSenTrend([1, 2, 3, 4].map((value) => ({ at: start, value })))).toBeNull()
  })
})

describe('the forecast', () => {
  const now = start + 330 * day
  test('of a straight line is the day on which it crosses', () => {
    const forecast = forecastCrossing(
      monthly(12, (i) => 1 + 0.1 * i),
      { edge: 3, now },
    )
    if (forecast.kind !== 'crosses') throw new Error(forecast.kind)
    expect(Math.abs(forecast.at - (start + 600 * day))).toBeLessThan(day)
    expect(forecast.sentence).toMatch(
      /^About 2\d Aug 2027; with 80 % confidence between 2\d Aug 2027 and 2\d Aug 2027\.$/,
    )
  })

  test('of a falling figure looks downwards', () => {
    const forecast = forecastCrossing(
      monthly(12, (i) => 120 - i),
      { edge: 100, falling: true, now },
    )
    expect(forecast).toMatchObject({ kind: 'crosses' })
  })

  test('promises nothing from a short history, says what is past, and what does not move', () => {
    expect(
      forecastCrossing(
        monthly(3, (i) => i),
        { edge: 5, now },
      ).sentence,
    ).toBe('Not enough history: 3 of the 4 checks that a trend needs.')
    expect(
      forecastCrossing(
        monthly(12, (i) => i),
        { edge: 5, now },
      ).kind,
    ).toBe('past')
    expect(
      forecastCrossing(
        monthly(12, (i) => 1 - 0.01 * i),
        { edge: 3, now },
      ).kind,
    ).toBe('steady')
  })

  test('the true date lies inside the 80 % interval in 70–90 of 100 simulated displays with noisy monthly checks', () => {
    const uniform = uniformFrom(41)
    const noise = normalFrom(uniform)
    let [inside, asked] = [0, 0]
    while (asked < 400) {
      const rate = 0.04 + 0.08 * uniform()
      const truth = (month: number) => 0.5 + rate * month
      const forecast = forecastCrossing(
        monthly(12, (i) => truth(i) + 0.08 * noise()),
        { edge: 2.2, now },
      )
      if (forecast.kind !== 'crosses') continue
      asked++
      const crossing = start + ((2.2 - 0.5) / rate) * 30 * day
      if (crossing >= forecast.earliest && crossing <= (forecast.latest ?? Infinity)) inside++
    }
    told(
      `share of 400 forecasts whose 80 % interval holds the true date, off 80, percent points`,
      Math.abs((100 * inside) / asked - 80),
    )
    expect(inside / asked).toBeGreaterThan(0.7)
    expect(inside / asked).toBeLessThan(0.9)
  })
})
