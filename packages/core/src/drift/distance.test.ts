import type { Chromaticity } from '../color/chromaticity'
import { convertXyzToUv } from '../color/chromaticity'
import { day } from '../basics/day'
import { normalFrom, uniformFrom } from '../basics/random'
import { chanceOfDistance, forecastDistance } from './distance'
import { furthestDays } from './forecast'
import { trendAbout } from '../test/trendAbout'
import { theilSenTrend, type Trend } from './theilSen'

const aimWhite: Chromaticity = { x: 0.3127, y: 0.329 }

test('whites read within minutes, or at once, and far apart are foretold too, however steep their trends', () => {
  const random = uniformFrom(3)
  const start = Date.UTC(2026, 5, 1)
  let steep = 0
  for (let round = 0; round < 300; round++) {
    const step = 10 ** (random() * 9)
    const at = Array.from({ length: 4 + Math.floor(random() * 4) }, (_, i) => start + Math.round(i * step))
    const trend = () => theilSenTrend(at.map((a) => ({ at: a, value: (random() - 0.5) * 2 })))
    const [x, z] = [trend(), trend()]
    if (!x || !z) continue
    const now = at[at.length - 1] + Math.round(random() ** 3 * 400) * day
    const forecast = forecastDistance(x, z, { aimWhite, edge: 0.004, now })
    const chance = chanceOfDistance(x, z, { aimWhite, edge: 0.004, at: now })
    expect(chance).toBeGreaterThanOrEqual(0)
    if (Math.abs(x.slope) > 1000) steep++
    if (forecast.kind === 'crosses')
      expect([forecast.at >= now, forecast.earliest <= forecast.at]).toEqual([true, true])
    // Nearly every line is beyond the edge, or none is: both ways of looking say so.
    if (forecast.kind === 'past') expect(chance).toBeGreaterThan(0.8)
    const kept = [x, z].map((t) => t.height + (t.slope * (now - t.pivot)) / day)
    if (kept.every((v) => Math.abs(v) < 5)) continue
    // Its middle line has left every white that there is.
    expect([round, forecast.kind]).not.toEqual([round, 'steady'])
  }
  expect(steep).toBeGreaterThan(50)
})

const pivot = Date.UTC(2026, 0, 1)
/** Trends of the logarithm of a light's share. */
const trendOf = trendAbout(pivot)

/** Δu′v′ to D65 after so many days, for lines at such heights and slopes; by the definition of u′ and v′ alone. */
function distanceAfter(days: number, x: [number, number], z: [number, number]): number {
  const white = [0.3127 / 0.329, 1, (1 - 0.3127 - 0.329) / 0.329] as const
  const now = [white[0] * Math.exp(x[0] + x[1] * days), 1, white[2] * Math.exp(z[0] + z[1] * days)] as const
  const [a, b] = [white, now].map((xyz) => convertXyzToUv(xyz))
  return Math.hypot(a.u - b.u, a.v - b.v)
}

test('a white whose trend leaves no doubt crosses on the one day on which it is an edge away from its aim', () => {
  const random = uniformFrom(21)
  for (let round = 0; round < 100; round++) {
    const [x, z] = [1, 1].map(() => ({ height: (random() - 0.5) * 0.004, slope: (random() - 0.5) * 4e-5 }))
    const [edge, now] = [0.002 + 0.004 * random(), pivot + Math.round(100 * random()) * day]
    const at = (t: number) => distanceAfter((t - pivot) / day, [x.height, x.slope], [z.height, z.slope])
    const [trendX, trendZ] = [trendOf(x), trendOf(z)]
    const forecast = forecastDistance(trendX, trendZ, { aimWhite, edge, now })
    if (forecast.kind === 'steady') {
      expect(at(now + furthestDays * day)).toBeLessThan(edge * 1.001)
      continue
    }
    if (forecast.kind !== 'crosses') throw new Error(forecast.kind)
    expect(Math.abs(at(forecast.at) - edge)).toBeLessThan(1e-6)
    expect([forecast.earliest, forecast.latest]).toEqual([forecast.at, forecast.at])
    // It is the first such day.
    for (let part = 0; part < 1; part += 0.02)
      expect(at(now + part * (forecast.at - now))).toBeLessThanOrEqual(edge + 1e-6)
    const chance = (t: number) => chanceOfDistance(trendX, trendZ, { aimWhite, edge, at: t })
    expect([chance(forecast.at - 2 * day), chance(forecast.at + 2 * day)]).toEqual([0, 1])
  }
})

test('its date and interval are those of lines drawn anew, by the thousand', () => {
  const stories = [
    { x: { slope: 3e-5, off: 8e-6, heightOff: 3e-4 }, z: { slope: -6e-5, off: 1e-5, heightOff: 4e-4 } },
    { x: { height: 0.002, slope: -2e-5, off: 3e-6 }, z: { height: 0.004, slope: 5e-5, off: 2e-5, heightOff: 1e-3 } },
  ]
  const normal = normalFrom(uniformFrom(31))
  for (const { x, z } of stories) {
    const edge = 0.004
    const days = Array.from({ length: 1500 }, () => {
      const line = ({ height = 0, slope = 0, off = 0, heightOff = 0 }): [number, number] => [
        height + heightOff * normal(),
        slope + off * normal(),
      ]
      const [lineX, lineZ] = [line(x), line(z)]
      for (let d = 0; d < furthestDays; d += 2) if (distanceAfter(d, lineX, lineZ) >= edge) return d
      return Infinity
    }).sort((a, b) => a - b)
    const forecast = forecastDistance(trendOf(x), trendOf(z), { aimWhite, edge, now: pivot })
    if (forecast.kind !== 'crosses') throw new Error(forecast.kind)
    const share = (t: number) => days.filter((d) => d <= (t - pivot) / day).length / days.length
    // 120 lines tell a share of a half to 0.046, one of a tenth to 0.027.
    expect(Math.abs(share(forecast.at) - 0.5)).toBeLessThan(0.12)
    expect(Math.abs(share(forecast.earliest) - 0.1)).toBeLessThan(0.07)
    expect(Math.abs(share(forecast.latest!) - 0.9)).toBeLessThan(0.07)
    for (const t of [200, 400, 700])
      expect(
        Math.abs(
          chanceOfDistance(trendOf(x), trendOf(z), { aimWhite, edge, at: pivot + t * day }) - share(pivot + t * day),
        ),
      ).toBeLessThan(0.13)
  }
})

test('a white that has left is past when nearly every line says so, and the end of one that may never leave is not told', () => {
  const edge = 0.004
  const kind = (x: Trend, z: Trend) => forecastDistance(x, z, { aimWhite, edge, now: pivot }).kind
  const still = trendOf({})
  expect(kind(trendOf({ height: 0.03 }), still)).toBe('past')
  // More than half of its lines have left, not nine of ten.
  const doubtful = forecastDistance(trendOf({ height: 0.022, heightOff: 0.003 }), trendOf({ slope: 1e-5 }), {
    aimWhite,
    edge,
    now: pivot,
  })
  expect(distanceAfter(0, [0.022, 0], [0, 0])).toBeGreaterThan(edge)
  expect(doubtful).toMatchObject({ kind: 'crosses', at: pivot, earliest: pivot })
  expect(kind(still, still)).toBe('steady')
  const slow = forecastDistance(trendOf({ slope: 2e-5, off: 2e-5 }), still, { aimWhite, edge, now: pivot })
  expect(slow).toMatchObject({ kind: 'crosses', latest: null })
  if (slow.kind === 'crosses') expect(slow.sentence).toMatch(/^About .* not before /)
})
