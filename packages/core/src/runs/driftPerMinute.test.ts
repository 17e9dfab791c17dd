import { driftPerMinute } from './driftPerMinute'

test('a straight line’s slope is found, as a share of its middle', () => {
  const line = [0, 1, 2, 5].map((minutes) => ({ minutes, luminance: 100 + 2 * (minutes - 2) }))
  expect(driftPerMinute(line)).toBeCloseTo(0.02, 12)
})

test('a panel that warms up exponentially drifts less and less, as its derivative says', () => {
  const settle = (minutes: number) => 120 * (1 - 0.09 * Math.exp(-minutes / 11))
  for (const start of [1, 10, 30]) {
    const points = Array.from({ length: 10 }, (_, i) => ({ minutes: start + i / 3, luminance: settle(start + i / 3) }))
    const middle = start + 1.5
    expect(driftPerMinute(points)).toBeCloseTo(((0.09 / 11) * Math.exp(-middle / 11) * 120) / settle(middle), 4)
  }
})

test('one instant tells no drift', () => {
  const point = { minutes: 3, luminance: 100 }
  expect(() => driftPerMinute([point])).toThrow(RangeError)
  expect(() => driftPerMinute([point, point])).toThrow(RangeError)
})
