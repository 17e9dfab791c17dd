import { niceTicks } from './niceTicks'

test.each([
  [0, 1, [0, 0.2, 0.4, 0.6, 0.8, 1]],
  [0, 1.38, [0, 0.5, 1, 1.5]],
  [1.8, 2.35, [1.8, 2, 2.2, 2.4]],
  [0, 0.0041, [0, 0.001, 0.002, 0.003, 0.004, 0.005]],
])('from %s to %s', (low, high, ticks) => {
  expect(niceTicks(low, high)).toEqual(ticks)
})

test('whatever the range: round steps that cover it, four to seven of them or nearly @long', () => {
  for (let i = 0; i < 500; i++) {
    const low = Math.sin(i) * 10 ** (i % 4)
    const high = low + (0.01 + Math.abs(Math.cos(i * 3))) * 10 ** ((i % 5) - 2)
    const ticks = niceTicks(low, high)
    expect(ticks[0]).toBeLessThanOrEqual(low + 1e-9)
    expect(ticks[ticks.length - 1]).toBeGreaterThanOrEqual(high - 1e-9)
    expect(ticks.length).toBeGreaterThanOrEqual(3)
    expect(ticks.length).toBeLessThanOrEqual(8)
    const steps = ticks.slice(1).map((t, k) => t - ticks[k])
    for (const step of steps) expect(step).toBeCloseTo(steps[0], 6)
  }
})

test('a range of nothing still has ticks', () => {
  expect(niceTicks(0, 0).length).toBeGreaterThanOrEqual(1)
})
