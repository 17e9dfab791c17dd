import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import { findDelay, FollowsTooLate } from './lightDelay'

/**
 * A display whose light begins to change so many ms after its signal and then goes exponentially, and an instrument that
 * averages over its time; time passes by what is done alone.
 */
function probe({
  delayMs,
  settlingMs,
  white = 300,
  black = 0.3,
  noise = () => 0,
}: {
  delayMs: number
  settlingMs: number
  white?: number
  black?: number
  /** What a reading of so many cd/m² is off by. */
  noise?: (y: number) => number
}) {
  let now = 0
  let [level, before, changedAt] = [0, 0, -Infinity]
  const light = (v: number) => black + v * (white - black)
  const at = (t: number) => {
    const since = t - changedAt - delayMs
    if (since < 0) return light(before)
    return light(level) + (light(before) - light(level)) * (settlingMs ? Math.exp(-since / settlingMs) : 0)
  }
  /** The dark is read for longer. */
  const [fastestMs, slowestMs, slowBelow] = [420, 3200, 4]
  let reads = 0
  return {
    waited: () => now,
    reads: () => reads,
    /** Share of the former patch in a reading that begins so many ms after a change. */
    left(waitMs: number) {
      const share = (t: number) => (t < delayMs ? 1 : settlingMs ? Math.exp(-(t - delayMs) / settlingMs) : 0)
      return (
        Array.from({ length: 400 }, (_, i) => share(waitMs + (fastestMs * (i + 0.5)) / 400)).reduce(
          (a, b) => a + b,
          0,
        ) / 400
      )
    },
    show: async (v: number, waitMs: number) => {
      if (v !== level) [before, level, changedAt] = [level, v, now]
      now += waitMs
    },
    read: async () => {
      reads++
      const integrationMs = Math.min(slowestMs, Math.max(fastestMs, (fastestMs * slowBelow) / at(now)))
      const y =
        Array.from({ length: 400 }, (_, i) => at(now + (integrationMs * (i + 0.5)) / 400)).reduce((a, b) => a + b, 0) /
        400
      now += integrationMs
      const seen = y + noise(y)
      return { xyz: [seen, seen, seen] as const, ms: integrationMs }
    },
  }
}

/** As much of the former patch as a dark colour bears, as a share of the shortest readings of {@link probe}: 0.02 ms of white. */
const trace = 0.02 / 420

test('leaves hardly a trace of the former patch in a reading, and waits hardly longer than it must, over 150 random displays @long @long', async () => {
  const random = uniformFrom(3)
  for (let i = 0; i < 150; i++) {
    const times = { delayMs: 3500 * random() ** 2, settlingMs: 250 * random() ** 2 }
    const p = probe(times)
    const wait = await findDelay(p)
    // A hundred thousandth of white in the longest reading is the least that is told from black: 1.6 times as much.
    expect(p.left(wait)).toBeLessThanOrEqual(1.6 * trace)
    // The least wait that would do, by looking: not much is wasted on each of hundreds of readings.
    let least = 0
    while (p.left(least) > trace) least += 10
    expect(wait).toBeLessThanOrEqual(1.5 * least + 120)
    expect(p.reads()).toBeLessThanOrEqual(25)
  }
})

test('noise of the instrument, in white and in the dark, makes it wait neither for ever nor too short', async () => {
  const random = uniformFrom(4)
  const normal = normalFrom(random)
  for (let i = 0; i < 200; i++) {
    const times = { delayMs: 500 * random() ** 2, settlingMs: 100 * random() ** 2 }
    const p = probe({ ...times, noise: (y) => normal() * (0.001 * y + 0.0015) })
    const wait = await findDelay(p)
    expect(p.left(wait)).toBeLessThanOrEqual(4 * trace)
    expect(wait).toBeLessThanOrEqual(1.2 * times.delayMs + 14 * times.settlingMs + 350)
    expect(p.reads()).toBeLessThanOrEqual(25)
  }
})

test('black that grows darker for seconds, as a backlight that dims itself, is not waited for', async () => {
  let [shownAt, now, level] = [0, 0, 0]
  const show = async (v: number, waitMs: number) => {
    if (v !== level) shownAt = now
    level = v
    now += waitMs
  }
  const read = async () => {
    const since = now - shownAt
    now += 420
    const y = level ? 300 : 0.1 + 0.3 * Math.exp(-since / 4000)
    return { xyz: [y, y, y] as const, ms: 420 }
  }
  expect(await findDelay({ show, read })).toBeLessThan(2500)
})

test.each([
  [1000, 8],
  [1600, 8],
  [2900, 20],
])('a delay of %d ms is found, which a second and a half do not show', async (delayMs, settlingMs) => {
  const p = probe({ delayMs, settlingMs })
  const wait = await findDelay(p)
  expect(wait).toBeGreaterThan(0.8 * delayMs)
  expect(p.left(wait)).toBeLessThan(0.0035)
})

test('one that is later than five seconds is told, and not taken for one that follows at once', async () => {
  await expect(findDelay(probe({ delayMs: 7000, settlingMs: 8 }))).rejects.toThrow(FollowsTooLate)
  await expect(findDelay(probe({ delayMs: 100, settlingMs: 2500 }))).rejects.toThrow('within five seconds')
})

test('a display whose white is hardly brighter than its black tells nothing of delays', async () => {
  expect(await findDelay(probe({ delayMs: 200, settlingMs: 0, white: 0.5, black: 0.3 }))).toBe(0)
})
