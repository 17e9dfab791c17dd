import type { Chromaticity } from '../color/chromaticity'
import { day } from '../basics/day'
import { uniformFrom } from '../basics/random'
import { chanceOfDistance, forecastDistance } from './distance'
import { theilSenTrend } from './theilSen'

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
