import { day } from '../basics/day'
import { normalFrom, uniformFrom } from '../basics/random'
import type { Limits } from '../aims/limits'
import { chanceOutside, chancePast, leavesLimits } from './chance'
import { forecastLimits, slotDrift, type SlotDrift, type Validated } from './slotTrends'
import { trendAbout } from '../test/trendAbout'
import { normalProbability, normalQuantile } from './theilSen'
import { figureKey, signedKey, whiteKeys } from './trackedFigures'

const start = Date.UTC(2025, 0, 1)
const aimWhite = { x: 0.3127, y: 0.329 }
const averageKey = figureKey({ metric: 'averageDeltaE' }, 'de2000')
const average: Limits = { rules: [{ metric: 'averageDeltaE', near: 1, hard: 2 }] }

/** A slot that was checked every thirty days, by its figures. */
function slot(checks: number, figures: (days: number) => Record<string, number>): SlotDrift {
  const history = Array.from({ length: checks }, (_, n): Validated => ({
    at: start + 30 * n * day,
    segment: 1,
    instrumentId: 1,
    figures: figures(30 * n) as Validated['figures'],
  }))
  return slotDrift(history, aimWhite)
}

test('probabilities of the normal distribution are those printed, and the inverse of its quantiles', () => {
  // Abramowitz, Stegun, table 26.1.
  for (const [z, p] of [
    [0, 0.5],
    [1, 0.8413447],
    [1.96, 0.9750021],
    [-2.5, 0.0062097],
  ])
    expect(Math.abs(normalProbability(z) - p)).toBeLessThan(1e-6)
  for (const p of [0.05, 0.3, 0.7, 0.99]) expect(normalProbability(normalQuantile(p))).toBeCloseTo(p, 3)
})

describe('the chance of being outside', () => {
  it('is a half where the trend meets the edge, and grows with time', () => {
    const uniform = normalFrom(uniformFrom(3))
    const drift = slot(12, (days) => ({ [averageKey]: 0.4 + 0.004 * days + 0.05 * uniform() }))
    const [{ forecast }] = forecastLimits(drift, average, start + 330 * day)
    if (forecast.kind !== 'crosses') throw new Error('It is to cross.')
    expect(chanceOutside(drift, average, forecast.at)).toBeCloseTo(0.5, 3)
    const chances = [0, 20, 40, 60, 90].map((d) => chanceOutside(drift, average, start + (330 + d) * day)!)
    for (let i = 1; i < chances.length; i++) expect(chances[i]).toBeGreaterThanOrEqual(chances[i - 1])
  })

  it('tells how often panels really are outside: over 3,000 that age and are read with noise', () => {
    const uniform = uniformFrom(11)
    const normal = normalFrom(uniform)
    const bins = [0.02, 0.15, 0.35, 0.65, 0.85, 0.98]
    const told = bins.map(() => ({ count: 0, chance: 0, outside: 0 }))
    for (let panel = 0; panel < 3000; panel++) {
      const [height, rate] = [0.5 + 0.3 * uniform(), 0.001 + 0.004 * uniform()]
      const drift = slot(8, (days) => ({ [averageKey]: height + rate * days + 0.08 * normal() }))
      const days = 210 + 250 * uniform()
      const chance = chanceOutside(drift, average, start + days * day)!
      const bin = bins.findIndex((b, i) => chance >= b && chance < (bins[i + 1] ?? 1.1))
      if (bin < 0) continue
      told[bin].count++
      told[bin].chance += chance
      told[bin].outside += height + rate * days > 2 ? 1 : 0
    }
    for (const { count, chance, outside } of told.slice(0, -1)) {
      expect(count).toBeGreaterThan(40)
      expect(Math.abs(outside / count - chance / count)).toBeLessThan(0.12)
    }
  })

  it('knows both edges of a luminance, and the side of a figure that must not fall', () => {
    const limits: Limits = { rules: [{ metric: 'luminanceOff', near: 5, hard: 10 }] }
    const dims = slot(8, (days) => ({ [signedKey]: 4 - 0.05 * days }))
    expect(chanceOutside(dims, limits, start + 100 * day)).toBeLessThan(0.01)
    expect(chanceOutside(dims, limits, start + 400 * day)).toBeGreaterThan(0.99)
    const contrast: Limits = { rules: [{ metric: 'contrast', near: 900, hard: 800 }] }
    const falls = slot(8, (days) => ({ [figureKey({ metric: 'contrast' }, 'de2000')]: 1000 - days }))
    expect(chancePast(falls, contrast.rules[0], 'de2000', start + 150 * day)).toBeLessThan(0.01)
    expect(chancePast(falls, contrast.rules[0], 'de2000', start + 260 * day)).toBeGreaterThan(0.99)
  })

  it('sees a white that drifts past its aim come nearer before it goes away', () => {
    const limits: Limits = { rules: [{ metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 }] }
    const drift = slot(8, (days) => ({ [whiteKeys.x]: -0.03 + 0.0001 * days, [whiteKeys.z]: 0 }))
    const [soon, middle, late] = [0, 300, 700].map((d) => chanceOutside(drift, limits, start + d * day)!)
    expect(middle).toBeLessThan(soon)
    expect(middle).toBeLessThan(late)
  })

  it('of a white is a half where half of the lines have passed the edge by the forecast', () => {
    const limits: Limits = { rules: [{ metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 }] }
    const normal = normalFrom(uniformFrom(9))
    const drift = slot(10, (days) => ({
      [whiteKeys.x]: 0.00002 * days + 0.0003 * normal(),
      [whiteKeys.z]: -0.00004 * days + 0.0003 * normal(),
    }))
    const [{ forecast }] = forecastLimits(drift, limits, start + 270 * day)
    if (forecast.kind !== 'crosses') throw new Error('It is to cross.')
    expect(Math.abs(chanceOutside(drift, limits, forecast.at)! - 0.5)).toBeLessThan(0.03)
    expect(chanceOutside(drift, limits, forecast.earliest)).toBeLessThan(0.15)
    if (forecast.latest !== null) expect(chanceOutside(drift, limits, forecast.latest)).toBeGreaterThan(0.85)
  })

  it('is not less than that of its likeliest rule, counts rules that decide alone, and is unknown without history', () => {
    const drift = slot(8, (days) => ({ [averageKey]: 0.5 + 0.005 * days, [signedKey]: -0.03 * days }))
    const both: Limits = { rules: [...average.rules, { metric: 'luminanceOff', near: 5, hard: 9 }] }
    const at = start + 290 * day
    const single = both.rules.map((rule) => chancePast(drift, rule, 'de2000', at)!)
    expect(chanceOutside(drift, both, at)).toBeGreaterThanOrEqual(Math.max(...single) - 1e-12)
    const told: Limits = { rules: [{ ...average.rules[0], weight: 'told' }] }
    expect(chanceOutside(drift, told, at)).toBeNull()
    expect(
      chanceOutside(
        slot(2, () => ({ [averageKey]: 1 })),
        average,
        at,
      ),
    ).toBeNull()
  })
})

describe('the chance of a trend without doubt', () => {
  const sure = (height: number, slope: number, heightOff = 0) => trendAbout(start)({ height, slope, heightOff })
  const of = (trends: SlotDrift['trends']): SlotDrift => ({ trends, aimWhite, validations: 12 })

  it('is one beyond the edge and none before it or on it', () => {
    const chance = (height: number) =>
      chancePast(of({ [averageKey]: sure(height, 0) }), average.rules[0], 'de2000', start)
    expect([1.9, 2, 2.1].map(chance)).toEqual([0, 0, 1])
  })

  it('of light adds up both of its edges, as the normal distribution has them', () => {
    const rule = { metric: 'luminanceOff', near: 5, hard: 10 } as const
    // In the middle between the logarithms of 0.9 and 1.1, which lie 20.067 apart, with a deviation of half of that.
    const half = (100 * Math.log(1.1 / 0.9)) / 2
    const middle = sure(100 * Math.log(1.1) - half, 0, half)
    expect(chancePast(of({ [signedKey]: middle }), rule, 'de2000', start)).toBeCloseTo(2 * (1 - 0.8413447), 5)
  })

  it('of a white needs both of its lights', () => {
    const rule = { metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 } as const
    const [x, z] = [sure(0.1, 0), sure(0.1, 0)]
    expect(chancePast(of({ [whiteKeys.x]: x, [whiteKeys.z]: z }), rule, 'de2000', start)).toBe(1)
    expect(chancePast(of({ [whiteKeys.x]: x }), rule, 'de2000', start)).toBeNull()
    expect(chancePast(of({ [whiteKeys.z]: z }), rule, 'de2000', start)).toBeNull()
  })

  it('leaves on its day, to half a day, up to five years from now', () => {
    for (const days of [0.8, 3, 100, 1000, 1820]) {
      const at = leavesLimits(of({ [averageKey]: sure(2 - days * 1e-4, 1e-4) }), average, {
        from: start,
        accepted: 0.5,
      })!
      expect(Math.abs((at - start) / day - days)).toBeLessThan(0.51)
    }
    const beyond = of({ [averageKey]: sure(2 - 0.2, 1e-4) })
    expect(leavesLimits(beyond, average, { from: start, accepted: 0.5 })).toBeNull()
  })

  it('is not outside as long as it is what is accepted', () => {
    const even = of({ [averageKey]: sure(1, 0) })
    expect(chanceOutside(even, average, start)).toBe(0)
    expect(leavesLimits(even, average, { from: start, accepted: 0 })).toBeNull()
  })
})

describe('when a slot leaves its limits', () => {
  const normal = normalFrom(uniformFrom(5))
  const drift = slot(12, (days) => ({ [averageKey]: 0.4 + 0.003 * days + 0.05 * normal() }))
  const now = start + 340 * day

  it('is where the chance exceeds what is accepted, sooner for who accepts less', () => {
    const at = leavesLimits(drift, average, { from: now, accepted: 0.1 })!
    expect(chanceOutside(drift, average, at)).toBeGreaterThan(0.1)
    expect(chanceOutside(drift, average, at - day)).toBeLessThanOrEqual(0.1)
    expect(leavesLimits(drift, average, { from: now, accepted: 0.01 })).toBeLessThan(at)
    expect(leavesLimits(drift, average, { from: now, accepted: 0.5 })).toBeGreaterThan(at)
  })

  it('is at once for what is outside already, and never for what holds still or nobody knows', () => {
    expect(leavesLimits(drift, average, { from: start + 900 * day, accepted: 0.1 })).toBe(start + 900 * day)
    const still = slot(8, () => ({ [averageKey]: 0.5 }))
    expect(leavesLimits(still, average, { from: now, accepted: 0.1 })).toBeNull()
    expect(
      leavesLimits(
        slot(2, () => ({ [averageKey]: 1 })),
        average,
        { from: now, accepted: 0.1 },
      ),
    ).toBeNull()
  })
})
