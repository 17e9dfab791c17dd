import { uniformFrom } from '@bichroma/core/basics'
import { shareOfFormer } from './response'

/** The share that is left at an instant, from what the word “exponentially” means. */
const leftAt = (delayMs: number, settlingMs: number, since: number) =>
  since < delayMs ? 1 : settlingMs === 0 ? 0 : Math.exp(-(since - delayMs) / settlingMs)

test('what is left on average is what the instants between come to, over 300 random displays and times', () => {
  const random = uniformFrom(6)
  for (let n = 0; n < 300; n++) {
    const times = { delayMs: 800 * random(), settlingMs: random() < 0.2 ? 0 : 200 * random() }
    const change = 1e6 * random()
    const from = change + 900 * random()
    const to = from + 10 + 1500 * random()
    const slices = 4000
    let sum = 0
    for (let i = 0; i < slices; i++)
      sum += leftAt(times.delayMs, times.settlingMs, from + ((i + 0.5) * (to - from)) / slices - change)
    expect(Math.abs(shareOfFormer(times, change, from, to) - sum / slices)).toBeLessThan(3e-4)
  }
})

test('at an instant it is all during the delay, and then less and less', () => {
  const times = { delayMs: 100, settlingMs: 20 }
  const at = (since: number) => shareOfFormer(times, 5000, 5000 + since, 5000 + since)
  expect([at(0), at(99.9)]).toEqual([1, 1])
  expect(at(120)).toBeCloseTo(1 / Math.E, 12)
  const later = Array.from({ length: 30 }, (_, i) => at(100 + 20 * i))
  expect(later.every((v, i) => i === 0 || v < later[i - 1])).toBe(true)
})

test('two readings one after the other hold together what one of both lengths holds', () => {
  const times = { delayMs: 60, settlingMs: 35 }
  const share = (from: number, to: number) => shareOfFormer(times, 0, from, to) * (to - from)
  expect(share(10, 400) + share(400, 900)).toBeCloseTo(share(10, 900), 9)
})
