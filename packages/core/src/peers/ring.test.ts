import { normalFrom, uniformFrom } from '../basics/random'
import { scale, type Triple } from '../color/matrix3'
import { instrumentOffsets, planRing, studentT975, type RingReading, type RingStep } from './ring'

const white: Triple = [114, 120, 131]
/** What instruments read more of luminance, as a share. */
const off = [0, 0.006, -0.004, 0.011]
const noise = { repeatability: 0.0012, placing: 0.0015 }

/** Readings of a plan: displays that drift, instruments that are off, noise of each reading and each laying on. */
function read(
  steps: readonly RingStep[],
  seed: number,
  { drift = 0.01, ...more }: { drift?: number; noise?: number } = {},
): RingReading[] {
  const normal = normalFrom(uniformFrom(seed))
  const size = more.noise ?? 1
  const found: RingReading[] = []
  let at = 0
  for (const { display, instrument, readings } of steps) {
    at += 60_000
    const placed = size * noise.placing * normal()
    for (let n = 0; n < readings; n++) {
      at += 2000
      const level = (100 + 30 * display) / white[1]
      const light =
        level *
        (1 + (drift * (display - 1) * at) / 3.6e6) *
        (1 + off[instrument] + placed + size * noise.repeatability * normal())
      found.push({ display, instrument, at, xyz: scale(white, light) })
    }
  }
  return found
}
const plan = (wanted: number, instruments = [0, 1, 2, 3], displays = [1, 2]) =>
  planRing({ instruments, displays, ...noise, wanted })

describe('the plan', () => {
  test('goes there and back on each display, every instrument as often, another one first on each', () => {
    const { steps } = plan(0.01)
    for (const display of [1, 2]) {
      const own = steps.filter((s) => s.display === display).map((s) => s.instrument)
      expect([...own].reverse()).toEqual(own)
      for (const i of [0, 1, 2, 3]) expect(own.filter((o) => o === i)).toHaveLength(2)
    }
    expect(steps[0].instrument).not.toBe(steps.find((s) => s.display === 2)!.instrument)
  })

  test('a steady drift of the displays falls out altogether', () => {
    const { steps } = plan(0.01)
    // Displays come in one run of steps each, so that an even pace makes the order its own mirror.
    const found = instrumentOffsets(read(steps, 1, { drift: 0.05, noise: 0 }), 0)!
    found.forEach((o, i) => expect(o.luminance.value).toBeCloseTo(off[i], 5))
  })

  test('takes as much as the uncertainty asks for and no more, and says where it cannot', () => {
    let before = Infinity
    for (const wanted of [0.003, 0.002, 0.0012, 0.0009]) {
      const { steps, uncertainty, enough } = plan(wanted)
      expect(enough).toBe(true)
      expect(uncertainty).toBeLessThanOrEqual(wanted)
      expect(uncertainty).toBeLessThanOrEqual(before)
      before = uncertainty
      // Once less often would not do.
      const fewer = (uncertainty * Math.sqrt(steps.length)) / Math.sqrt(steps.length - 16)
      if (steps.length > 16) expect(fewer).toBeGreaterThan(wanted)
    }
    expect(plan(1e-5)).toMatchObject({ enough: false })
    expect(() => plan(0.01, [1])).toThrow('two instruments')
    expect(() => plan(0.01, [1, 2], [])).toThrow('and a display')
  })

  test('more displays take fewer rounds', () => {
    const rounds = (displays: number[]) => plan(0.0009, [0, 1], displays).steps.length / displays.length
    expect(rounds([1, 2, 3, 4])).toBeLessThan(rounds([1]))
  })
})

describe('offsets', () => {
  const { steps, uncertainty } = plan(0.0012)
  const trials = Array.from({ length: 400 }, (_, n) => instrumentOffsets(read(steps, n + 10), 0)!)

  test('scatter by what the plan foretells, and are right on average', () => {
    for (const i of [1, 2, 3]) {
      const values = trials.map((t) => t[i].luminance.value)
      const mean = values.reduce((a, b) => a + b, 0) / values.length
      const spread = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1))
      expect(mean).toBeCloseTo(off[i], 3)
      expect(spread / uncertainty).toBeGreaterThan(0.88)
      expect(spread / uncertainty).toBeLessThan(1.12)
    }
  })

  test('lie in their intervals 95 times of 100', () => {
    const held = trials.flatMap((t) =>
      t.slice(1).map(({ luminance }, i) => Math.abs(luminance.value - off[i + 1]) <= luminance.within),
    )
    const share = held.filter(Boolean).length / held.length
    expect(share).toBeGreaterThan(0.92)
    expect(share).toBeLessThan(0.98)
  })

  test('against the common mean they add up to nothing; against a reference it has none and is not in doubt', () => {
    const readings = read(steps, 5)
    const mean = instrumentOffsets(readings)!
    expect(mean.reduce((sum, o) => sum + Math.log1p(o.luminance.value), 0)).toBeCloseTo(0, 9)
    const [first, , third] = instrumentOffsets(readings, 2)!
    expect(third.luminance).toEqual({ value: 0, within: 0 })
    // Shares of shares: what one reads more than another is a ratio.
    expect(first.luminance.value).toBeCloseTo((1 + mean[0].luminance.value) / (1 + mean[2].luminance.value) - 1, 9)
  })

  test('a colour that one instrument reads otherwise is told in u′ and v′', () => {
    const readings = read(steps, 6).map((r) =>
      r.instrument === 3 ? { ...r, xyz: [r.xyz[0] * 1.01, r.xyz[1], r.xyz[2]] as Triple } : r,
    )
    const found = instrumentOffsets(readings, 0)!
    expect(found[3].u.value).toBeGreaterThan(0.001)
    expect(Math.abs(found[1].u.value)).toBeLessThan(1e-9)
  })

  test('what tells nothing gives nothing: too few looks, or instruments that never met', () => {
    expect(instrumentOffsets([])).toBeNull()
    const one = (display: number, instrument: number, at: number): RingReading => ({
      display,
      instrument,
      at,
      xyz: white,
    })
    expect(instrumentOffsets([one(1, 1, 1), one(1, 2, 2)])).toBeNull()
    const apart = [1, 2, 3, 4, 5, 6].flatMap((n) => [one(1, 1, 10 * n), one(2, 1, 10 * n + 1)])
    expect(instrumentOffsets(apart)).toBeNull()
    const never = Array.from({ length: 24 }, (_, n) => one(n < 12 ? 1 : 2, n < 12 ? 1 + (n % 2) : 3 + (n % 2), n))
    expect(instrumentOffsets(never)).toBeNull()
    expect(() => instrumentOffsets([{ ...one(1, 1, 1), xyz: [0, 0, 0] }])).toThrow('tells nothing')
  })
})

test.each([
  [1, 12.706],
  [2, 4.303],
  [3, 3.182],
  [4, 2.776],
  [5, 2.571],
  [10, 2.228],
  [30, 2.042],
  [120, 1.98],
])('Student’s t of %d degrees as printed (%d)', (degrees, printed) => {
  expect(Math.abs(studentT975(degrees) - printed)).toBeLessThan(0.006)
})
