import { checkPlans } from '../runs/checkPlans'
import { aimTargets, resolveAim } from '../aims/aim'
import { computeMetrics } from '../aims/metrics'
import type { Limits } from '../aims/limits'
import { day } from '../basics/day'
import { normalFrom, uniformFrom } from '../basics/random'
import { forecastAsOf, type Forecast } from './forecast'
import { instrumentStandings } from './outlyingInstruments'
import { figureAt, forecastLimits, instrumentShifts, slotDrift, type SlotDrift, type Validated } from './slotTrends'
import { trendAbout } from '../test/trendAbout'
import { figureKey, signedKey, trackedFigures, whiteKeys } from './trackedFigures'

const start = Date.UTC(2025, 10, 1)
const month = 30 * day
const limits: Limits = {
  rules: [
    { metric: 'luminanceOff', near: 5, hard: 10 },
    { metric: 'whiteDeltaUv', near: 0.004, hard: 0.008 },
    { metric: 'averageDeltaE', near: 1, hard: 2, weight: 'told' },
  ],
}
const aim = resolveAim(
  {
    white: { kind: 'standard', name: 'D65' },
    luminance: 100,
    toneResponse: { kind: 'power', exponent: 2.2 },
    primaries: { kind: 'standard', name: 'sRGB' },
  },
  { white: { x: 0.31, y: 0.33 }, primaries: null as never, black: [0, 0, 0] },
)
const target = aimTargets(aim)
const aimWhite = { x: 0.3127, y: 0.329 }

/** Figures of a display whose X, Y and Z are these shares of the aim's. */
const figuresOf = (shares: readonly [number, number, number], by: Limits = limits) =>
  trackedFigures(
    computeMetrics(
      checkPlans.few.patches.map(({ name, rgb }) => ({
        name,
        rgb,
        xyz: target(rgb).map((v, k) => v * shares[k]) as unknown as [number, number, number],
      })),
      aim,
      { temperatures: false },
    ),
    by,
  )

/** Twelve months in which light is lost by 1 % a month, and blue by so much more. */
const ageing = (blueMore = 0): Validated[] =>
  Array.from({ length: 12 }, (_, i) => {
    const all = Math.exp(-0.01 * i)
    return {
      at: start + i * month,
      segment: 1,
      instrumentId: 1,
      figures: figuresOf([all, all, all * Math.exp(-blueMore * i)]),
    }
  })
const now = start + 11 * month

test('what a validation is remembered by: luminance keeps its sign, levels and formulas their keys', () => {
  const figures = figuresOf([0.97, 0.97, 0.97], {
    formula: 'deitp',
    rules: [{ metric: 'toneError', near: 1, hard: 2, levels: { from: 0, to: 0.3 } }],
  })
  expect(figures[signedKey]).toBeCloseTo(-3, 9)
  expect(figures[whiteKeys.luminance]).toBeCloseTo(97, 9)
  expect(Object.keys(figures)).toEqual(
    expect.arrayContaining(['averageDeltaE:de2000', 'averageDeltaE:deitp', 'toneError', 'toneError@0-0.3', 'coverage']),
  )
  expect(figureKey({ metric: 'whiteDeltaUv' }, 'deitp')).toBe('whiteDeltaUv')
  // A black without light has no contrast that could be trended.
  expect(figures).not.toHaveProperty('contrast')
})

test('light that is lost by so many per cent a month crosses its edge when arithmetic says', () => {
  const [{ rule, forecast }] = forecastLimits(slotDrift(ageing(), aimWhite), limits, now)
  expect(rule.metric).toBe('luminanceOff')
  // 10 % down after ln(1/0.9)/0.01 = 10.54 months: 11 months after the start it is past.
  expect(forecast.kind).toBe('past')
  const wider: Limits = { rules: [{ metric: 'luminanceOff', near: 10, hard: 15 }] }
  const [later] = forecastLimits(slotDrift(ageing(), aimWhite), wider, now)
  if (later.forecast.kind !== 'crosses') throw new Error(later.forecast.kind)
  expect(Math.abs(later.forecast.at - (start + (Math.log(1 / 0.85) / 0.01) * month))).toBeLessThan(2 * day)
})

test('a white that drifts towards its aim first is not taken for one that gets worse', () => {
  // Starts 3 % too blue, loses 0.4 % of blue a month: at the aim after 7 months, as far on the other side after 14.
  const history = ageing().map((v, i): Validated => ({ ...v, figures: figuresOf([1, 1, 1.03 * Math.exp(-0.004 * i)]) }))
  const drift = slotDrift(history, aimWhite)
  const edge = history[0].figures.whiteDeltaUv
  const [{ forecast }] = forecastLimits(drift, { rules: [{ metric: 'whiteDeltaUv', near: edge, hard: edge }] }, now)
  if (forecast.kind !== 'crosses') throw new Error(forecast.kind)
  expect((forecast.at - start) / month).toBeGreaterThan(13.5)
  expect((forecast.at - start) / month).toBeLessThan(16)
})

test('rules that do not decide promise nothing, and a line drawn for people runs through what was read', () => {
  const drift = slotDrift(ageing(), aimWhite)
  expect(forecastLimits(drift, limits, now).map((f) => f.rule.metric)).not.toContain('averageDeltaE')
  const { value, low, high } = figureAt(signedKey, drift.trends[signedKey], start + 3 * month)
  expect(value).toBeCloseTo(100 * (Math.exp(-0.03) - 1), 6)
  expect(low).toBeLessThanOrEqual(value)
  expect(high).toBeGreaterThanOrEqual(value)
})

test('a forecast read later: its date moves to today, and is past once its interval is', () => {
  const made: Forecast = {
    kind: 'crosses',
    at: now + 10 * day,
    earliest: now + 2 * day,
    latest: now + 30 * day,
    sentence: '',
  }
  expect(forecastAsOf(made, now)).toBe(made)
  expect(forecastAsOf(made, now + 20 * day)).toMatchObject({ at: now + 20 * day, earliest: now + 20 * day })
  expect(forecastAsOf(made, now + 31 * day).kind).toBe('past')
  expect(forecastAsOf({ ...made, latest: null }, now + 900 * day).kind).toBe('crosses')
})

/** A trend without doubt of a figure that is `height` now and goes on by `slope` a day. */
const sure = (height: number, slope: number, heightOff = 0) => trendAbout(now)({ height, slope, heightOff })
const driftOf = (trends: SlotDrift['trends'], validations = 12): SlotDrift => ({ trends, aimWhite, validations })

test('rules stand in the order in which they break: past ones, by their day, those that hold still, those nobody knows', () => {
  const rules = (['contrast', 'averageDeltaE', 'coverage', 'whiteDeltaUv', 'worstDeltaE'] as const).map((metric) => ({
    metric,
    near: 1,
    hard: 2,
  }))
  const drift = driftOf({
    contrast: sure(900, 0),
    'averageDeltaE:de2000': sure(1, 0.02),
    coverage: sure(1, 0),
    'worstDeltaE:de2000': sure(1, 0.05),
  })
  const told = forecastLimits(drift, { rules }, now).map(({ rule, forecast }) => [rule.metric, forecast.kind])
  expect(told).toEqual([
    ['coverage', 'past'],
    ['worstDeltaE', 'crosses'],
    ['averageDeltaE', 'crosses'],
    ['contrast', 'steady'],
    ['whiteDeltaUv', 'not enough history'],
  ])
})

test('light leaves its limits by the edge that it comes to first, upwards or downwards', () => {
  const rule: Limits = { rules: [{ metric: 'luminanceOff', near: 5, hard: 10 }] }
  /** Of light that is so many per cent from its aim, and changes by a thousandth of itself a day. */
  const days = (off: number, sign: number) => {
    const [{ forecast }] = forecastLimits(
      driftOf({ [signedKey]: sure(100 * Math.log(1 + off / 100), sign * 0.1) }),
      rule,
      now,
    )
    if (forecast.kind !== 'crosses') throw new Error(forecast.kind)
    return (forecast.at - now) / day
  }
  expect(days(0, 1)).toBeCloseTo(1000 * Math.log(1.1), 3)
  expect(days(0, -1)).toBeCloseTo(-1000 * Math.log(0.9), 3)
  expect(days(6, 1)).toBeCloseTo(1000 * Math.log(1.1 / 1.06), 3)
  expect(days(6, -1)).toBeCloseTo(1000 * Math.log(1.06 / 0.9), 3)
})

test('a figure whose history is too short says how many of its checks there are, and never that there are enough', () => {
  const rules: Limits = { rules: [{ metric: 'whiteDeltaUv', near: 1, hard: 2 }] }
  const told = (validations: number, trends: SlotDrift['trends'] = {}) =>
    forecastLimits(driftOf(trends, validations), rules, now)[0].forecast
  expect(told(2)).toMatchObject({ kind: 'not enough history', observations: 2 })
  // It was checked often enough, but with calibrations in between.
  expect(told(9)).toMatchObject({ kind: 'not enough history', observations: 3 })
  // One of the two lights alone says nothing of a white.
  expect(told(9, { [whiteKeys.x]: sure(0, 0.001) }).kind).toBe('not enough history')
  expect(told(9, { [whiteKeys.z]: sure(0, 0.001) }).kind).toBe('not enough history')
})

test('the band of a figure spans its value: of light by shares, of others as they are, bending as they grow', () => {
  const light = figureAt(signedKey, sure(0, -0.1, 1), now + 100 * day)
  expect(light.value).toBeCloseTo(100 * (Math.exp(-0.1) - 1), 9)
  expect(light.low).toBeCloseTo(100 * (Math.exp(-0.1 - 0.0128155) - 1), 2)
  expect(light.high).toBeCloseTo(100 * (Math.exp(-0.1 + 0.0128155) - 1), 2)
  const grows = figureAt('averageDeltaE:de2000', sure(1, 0.01), now + 100 * day)
  expect(grows.value).toBeCloseTo(2, 9)
  expect(grows.low).toBeCloseTo(2 - 1.28155 * 0.05, 3)
  expect(grows.high).toBeCloseTo(2 + 1.28155 * 0.05, 3)
})

describe('instruments beside each other', () => {
  /** Displays read in turn by four instruments, of which number 3 reads 2 % too bright and 1.5 % too blue. */
  const shiftsOf = (bias: number) => {
    const normal = normalFrom(uniformFrom(8))
    return Array.from({ length: 12 }, (_, d) => {
      const history = Array.from({ length: 12 }, (_, i): Validated => {
        const instrumentId = 1 + ((i + d) % 4)
        const wrong = instrumentId === 3 ? bias : 0
        const all = Math.exp(-0.004 * i) * (1 + wrong * 0.02) * (1 + 0.002 * normal())
        return {
          at: start + i * month,
          segment: i < 6 ? 1 : 2,
          instrumentId,
          figures: figuresOf([all, all, all * (1 + wrong * 0.015)]),
        }
      })
      return instrumentShifts(history, slotDrift(history, aimWhite))
    }).flat()
  }

  test('one that reads differently stands out with its figures; the others do not', () => {
    const standings = instrumentStandings(shiftsOf(1))
    expect(standings[0]).toMatchObject({ instrumentId: 3, stands: true, slots: 12, readings: 36 })
    expect(standings[0].luminance).toBeCloseTo(2, 0)
    expect(standings[0].z).toBeCloseTo(1.5, 0)
    expect(standings.filter((s) => s.stands)).toHaveLength(1)
  })

  test('where none does, none stands out; where one alone has read, nothing is said', () => {
    expect(instrumentStandings(shiftsOf(0)).every((s) => !s.stands)).toBe(true)
    const alone = ageing()
    expect(instrumentShifts(alone, slotDrift(alone, aimWhite))).toEqual([])
  })

  test('two differ by the half each, around the middle of every stretch by itself: what a calibration sets is nobody’s', () => {
    const history = Array.from({ length: 12 }, (_, i): Validated => ({
      at: start + i * month,
      segment: i < 6 ? 1 : 2,
      instrumentId: 1 + (i % 2),
      // The second reads 4 % more light, and half a per cent more X; the slot was set 30 % brighter in between.
      figures: {
        [whiteKeys.luminance]: (i < 6 ? 100 : 130) + (i % 2 ? 4 : 0),
        [whiteKeys.x]: i % 2 ? 0.005 : 0,
        [whiteKeys.z]: 0.01,
      },
    }))
    const drift = driftOf({
      [whiteKeys.luminance]: sure(132, 0),
      [whiteKeys.x]: sure(0, 0),
      [whiteKeys.z]: sure(0.01, 0),
    })
    const [first, second] = instrumentShifts(history, drift)
    expect([first.instrumentId, first.readings, second.instrumentId, second.readings]).toEqual([1, 6, 2, 6])
    expect(second.luminance).toBeCloseTo(2 / 132, 9)
    expect(first.luminance).toBeCloseTo(-2 / 132, 9)
    expect([first.x, second.x]).toEqual([expect.closeTo(-0.0025, 9), expect.closeTo(0.0025, 9)])
    expect([first.z, second.z]).toEqual([0, 0])
    expect(instrumentShifts(history, driftOf({ [whiteKeys.luminance]: sure(132, 0) }))).toEqual([])
  })
})
