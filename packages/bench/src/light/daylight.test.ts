import { lightNow } from './daylight'

const hour = 3_600_000
const lamps = { illuminanceLux: 320, kelvin: 4000 }
const lit = { ...lamps, daylight: { lux: 500 } }
const june = Date.UTC(2026, 5, 21)
const december = Date.UTC(2026, 11, 21)
const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
/** On average over many seeds, so that clouds fall out. */
const luxAt = (at: number) => mean(Array.from({ length: 300 }, (_, seed) => lightNow(lit, at, seed).illuminanceLux))

test('at night there are the lamps alone, and a room without windows has them always', () => {
  expect(lightNow(lit, december + 1 * hour, 3)).toEqual(lamps)
  expect(lightNow(lamps, june + 12 * hour, 3)).toEqual(lamps)
})

test('daylight is most at noon, falls to both sides alike, and is more in June than in December', () => {
  expect(luxAt(june + 12 * hour)).toBeGreaterThan(luxAt(june + 8 * hour))
  expect(luxAt(june + 9 * hour) / luxAt(june + 15 * hour)).toBeCloseTo(1, 1)
  const added = (at: number) => luxAt(at) - lamps.illuminanceLux
  expect(added(june + 12 * hour) / added(december + 12 * hour)).toBeGreaterThan(1.6)
  // Sunrise of the longest day comes hours before that of the shortest.
  expect(added(june + 5 * hour)).toBeGreaterThan(0)
  expect(added(december + 7 * hour)).toBe(0)
})

test('the same seed has the same clouds, and they move without a jump', () => {
  const at = june + 11 * hour
  expect(lightNow(lit, at, 5)).toEqual(lightNow(lit, at, 5))
  expect(lightNow(lit, at, 5)).not.toEqual(lightNow(lit, at, 6))
  for (let m = 0; m < 240; m++) {
    const [a, b] = [lightNow(lit, at + m * 60_000, 5), lightNow(lit, at + (m + 1) * 60_000, 5)]
    expect(Math.abs(a.illuminanceLux - b.illuminanceLux)).toBeLessThan(100)
  }
})

test('its temperature lies between the lamps’ and the day’s', () => {
  const { kelvin } = lightNow(lit, june + 12 * hour, 2)
  expect(kelvin).toBeGreaterThan(lamps.kelvin)
  expect(kelvin).toBeLessThan(6500)
})
