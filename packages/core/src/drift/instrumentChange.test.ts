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
