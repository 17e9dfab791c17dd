import { normalFrom, uniformFrom } from '../basics/random'
import { instrumentChanges, type LightPoint, type LightSeries } from './instrumentChange'

const day = 86_400_000
const now = 1.8e12

interface Story {
  readonly seed?: number
  readonly displays?: number
  readonly instruments?: number
  /** Share by which an instrument reads more from so many days before now on, all at once or more and more. */
  readonly change?: {
    readonly instrument: number
    readonly from: number
    readonly share: number
    readonly ramp?: boolean
  }
  /** Displays are each read by one instrument only. */
  readonly apart?: boolean
}

/** Checks of displays that fade each in its own slow way, by instruments that each are off by a constant. */
function checks({ seed = 1, displays = 34, instruments = 4, change, apart = false }: Story): LightSeries[] {
  const uniform = uniformFrom(seed)
  const normal = normalFrom(uniform)
  const offsets = Array.from({ length: instruments }, () => 0.005 * normal())
  return Array.from({ length: displays }, (_, d): LightSeries => {
    const [level, fade] = [100 + 100 * uniform(), 0.03 * uniform()]
    const points: LightPoint[] = []
    for (let ago = 290 - 28 * uniform(); ago > 0; ago -= 28 * (0.8 + 0.4 * uniform())) {
      const instrument = apart ? d % instruments : Math.floor(instruments * uniform())
      const since = change && change.instrument === instrument + 1 ? change.from - ago : -1
      const more = since < 0 ? 0 : change!.share * (change!.ramp ? since / change!.from : 1)
      points.push({
        at: now - ago * day,
        instrumentId: instrument + 1,
        luminance: level * Math.exp((fade * (ago - 290)) / 365 + offsets[instrument] + more + 0.002 * normal()),
      })
    }
    return { points }
  })
}

test('an instrument that has begun to read more light is found, with how much and since when', () => {
  for (const share of [0.01, -0.01]) {
    const [first, ...others] = instrumentChanges(checks({ change: { instrument: 3, from: 75, share } }), now)
    expect(first).toMatchObject({ instrumentId: 3, kind: 'step', alarm: true })
    expect(Math.abs(first.luminance - share)).toBeLessThan(1.5 * first.within)
    expect(first.within).toBeLessThan(0.003)
    expect(Math.abs((now - first.since) / day - 75)).toBeLessThan(25)
    for (const other of others) expect(other.score).toBeLessThan(first.score)
  }
})

test('so is one that reads more and more', () => {
  const change = { instrument: 2, from: 120, share: 0.02, ramp: true }
  const [first] = instrumentChanges(checks({ change, seed: 5 }), now)
  expect(first).toMatchObject({ instrumentId: 2, alarm: true })
  expect(Math.abs(first.luminance - 0.02)).toBeLessThan(0.008)
})

test('chance alone rings no alarm, nor do displays that fade fast or were calibrated anew @long', () => {
  for (let seed = 1; seed <= 25; seed++)
    expect(instrumentChanges(checks({ seed }), now).filter((c) => c.alarm)).toEqual([])
  const halves = checks({ seed: 77 }).flatMap(({ points }) => [
    { points: points.slice(0, 4) },
    // Back at its light, and read by whoever came.
    { points: points.slice(4).map((p) => ({ ...p, luminance: 1.08 * p.luminance })) },
  ])
  expect(instrumentChanges(halves, now).filter((c) => c.alarm)).toEqual([])
})

test('one display that goes wrong is that display’s, not its instrument’s', () => {
  const series = checks({ seed: 9 }).map(({ points }, d) =>
    d === 3
      ? { points: points.map((p) => ({ ...p, luminance: p.luminance * (p.at > now - 80 * day ? 0.9 : 1) })) }
      : { points },
  )
  expect(instrumentChanges(series, now).filter((c) => c.alarm)).toEqual([])
})

test('nothing is said from too little: one instrument, no history, light of none', () => {
  expect(instrumentChanges([], now)).toEqual([])
  expect(instrumentChanges(checks({ instruments: 1 }), now)).toEqual([])
  expect(instrumentChanges(checks({ displays: 1 }), now)).toEqual([])
  const dark = checks({}).map(({ points }) => ({ points: points.map((p) => ({ ...p, luminance: 0 })) }))
  expect(instrumentChanges(dark, now)).toEqual([])
  // What lies ahead of now, or years back, counts for nothing.
  expect(instrumentChanges(checks({}), now - 400 * day)).toEqual([])
  expect(instrumentChanges(checks({}), now + 900 * day)).toEqual([])
})

test('of a fleet of thousands some slots are enough @long', () => {
  const [first] = instrumentChanges(checks({ displays: 2000, change: { instrument: 1, from: 60, share: 0.01 } }), now)
  expect(first).toMatchObject({ instrumentId: 1, alarm: true })
  expect(first.readings).toBeLessThan(1500)
})

/** Checks without any noise, every ten days, by two instruments in turn; the second reads `share` more from `from` on. */
function exact({ share, from, kind = 'step' }: { share: number; from: number; kind?: 'step' | 'ramp' }): LightSeries[] {
  return Array.from({ length: 8 }, (_, d): LightSeries => ({
    points: Array.from({ length: 28 }, (_, n) => {
      const ago = 285 - 10 * n
      const instrumentId = 1 + ((n + d) % 2)
      const part = kind === 'step' ? 1 : (from - ago) / from
      const more = instrumentId === 2 ? 0.01 + (ago <= from ? part * Math.log1p(share) : 0) : 0
      return { at: now - ago * day, instrumentId, luminance: (80 + 10 * d) * Math.exp((0.02 * ago) / 365 + more) }
    }),
  }))
}

test('without noise the change is told as it is: how much, since when, how, and from how many readings', () => {
  for (const kind of ['step', 'ramp'] as const)
    for (const share of [0.03, -0.02]) {
      const [first] = instrumentChanges(exact({ share, from: 100, kind }), now)
      expect(first).toMatchObject({ kind, alarm: true })
      // With two of them one has begun to read more, or the other less.
      const sign = first.instrumentId === 2 ? 1 : -1
      expect(Math.log1p(first.luminance)).toBeCloseTo(sign * Math.log1p(share), 9)
      expect((now - first.since) / day).toBeCloseTo(100, 6)
      // Ten days each, from 95 days ago until 15: nine in each of eight slots, by either in turn.
      expect(first.readings).toBe(36)
      expect(first.within).toBeGreaterThan(0)
      expect(first.score).toBeGreaterThan(4.6)
    }
})

test('whatever is told rests on four readings of its instrument on either side, and began at least twenty days ago', () => {
  const story = exact({ share: 0.05, from: 100 })
  let told = 0
  for (const side of ['since', 'before'])
    for (let slots = 0; slots <= 8; slots++) {
      // Of what the second instrument read on that side one reading each of so many slots is kept.
      const series = story.map(({ points }, d): LightSeries => {
        const rare = points.filter((p) => p.instrumentId === 2 && now - p.at <= 100 * day === (side === 'since'))
        return { points: points.filter((p) => !rare.includes(p) || (d < slots && p === rare[1])) }
      })
      for (const { instrumentId, since, readings } of instrumentChanges(series, now)) {
        told++
        const own = series.flatMap(({ points }) => points.filter((p) => p.instrumentId === instrumentId))
        expect(own.filter((p) => p.at >= since)).toHaveLength(readings)
        expect(readings).toBeGreaterThanOrEqual(4)
        expect(own.length - readings).toBeGreaterThanOrEqual(4)
        expect((now - since) / day).toBeGreaterThanOrEqual(20)
        expect((now - since) / day).toBeLessThanOrEqual(280)
      }
    }
  expect(told).toBeGreaterThan(24)
})

test('what was read long ago, lies ahead, or stands alone changes nothing of what is told', () => {
  const story = checks({ change: { instrument: 3, from: 75, share: 0.01 } })
  const told = instrumentChanges(story, now)
  const more = story.map(({ points }) => ({
    points: [
      { at: now - 301 * day, instrumentId: 1, luminance: 9 },
      { at: now - 900 * day, instrumentId: 9, luminance: 9 },
      ...points,
      { at: now + 1, instrumentId: 2, luminance: 9 },
    ],
  }))
  expect(instrumentChanges([...more, { points: [{ at: now - day, instrumentId: 8, luminance: 4 }] }], now)).toEqual(
    told,
  )
  // The first and the last instant of it count.
  const edges = story.map(({ points }) => ({ points: [...points, { ...points[0], at: now }] }))
  expect(instrumentChanges(edges, now)).not.toEqual(told)
})

test('it does not matter which slot comes first, nor by which numbers instruments go', () => {
  const story = checks({ change: { instrument: 3, from: 75, share: 0.012 }, seed: 12 })
  const [first, ...others] = instrumentChanges(story, now)
  const [other] = instrumentChanges([...story].reverse(), now)
  expect({ ...other, luminance: 0, within: 0, score: 0 }).toEqual({ ...first, luminance: 0, within: 0, score: 0 })
  expect(other.score).toBeCloseTo(first.score, 6)
  const renamed = story.map(({ points }) => ({
    points: points.map((p) => ({ ...p, instrumentId: 50 - p.instrumentId })),
  }))
  const [again, ...rest] = instrumentChanges(renamed, now)
  expect(again.instrumentId).toBe(50 - first.instrumentId)
  expect(again.luminance).toBeCloseTo(first.luminance, 9)
  expect(again.within).toBeCloseTo(first.within, 9)
  expect(rest.map((c) => c.score)).toEqual(others.map((c) => expect.closeTo(c.score, 6)))
})
