import fc from 'fast-check'
import { convertChromaticityToUv, convertXyzToUv, deltaUv, type XYZ } from '../../color/chromaticity'
import type { PatchReading } from '../../color/patchReading'
import { checkPlans } from '../../runs/checkPlans'
import { aimTargets, resolveAim, type Aim } from '../aim'
import { judge, type JudgedVerdict, type Limits } from '../limits'
import { computeMetrics } from '../metrics'
import { figureDoubt } from './figureIntervals'
import { correctionOrigins, type InstrumentFacts } from './instrumentDoubt'

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const resolved = resolveAim(aim, { white: { x: 0.31, y: 0.33 }, primaries: null as never, black: [0.1, 0.11, 0.14] })
const target = aimTargets(resolved)
const perfect = checkPlans.usual.patches.map(({ name, rgb }): PatchReading => ({ name, rgb, xyz: target(rgb) }))
const scaled = (by: number) => perfect.map((p) => ({ ...p, xyz: p.xyz.map((v) => v * by) as unknown as XYZ }))

const limits: Limits = {
  rules: [
    { metric: 'averageDeltaE', near: 1, hard: 1.5 },
    { metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 },
    { metric: 'luminanceOff', near: 2, hard: 4 },
    { metric: 'coverage', near: 98, hard: 95 },
  ],
}
const noise = { luminance: 0.001, x: 0.0005, z: 0.0008 }
const still = { luminance: 0, uv: 0 }
const spectro: InstrumentFacts = {
  kind: 'spectroradiometer',
  certificateAge: 0,
  origin: 'none needed',
  made: null,
  noise,
}
const made = { residual: 0.0005, age: 0, referenceAge: 0 }
const colorimeter = (change: Partial<InstrumentFacts>): InstrumentFacts => ({
  ...{ kind: 'colorimeter', certificateAge: 0.2, origin: 'this display', made, noise },
  ...change,
})
const widths = (instrument: InstrumentFacts, moved = still, readings: readonly PatchReading[] = scaled(0.95)) =>
  figureDoubt(readings, resolved, limits, instrument, moved).intervals.map((i) => i!.high - i!.low)

describe('the intervals of figures', () => {
  test('hold what was seen, are the same for the same readings, and are not there for what was not read @long', () => {
    const readings = scaled(0.97)
    const once = figureDoubt(readings, resolved, limits, spectro, still)
    expect(figureDoubt(readings, resolved, limits, spectro, still)).toEqual(once)
    const { rules } = judge(computeMetrics(readings, resolved), limits, once)
    for (const { value, interval } of rules) {
      expect(value).toBeGreaterThanOrEqual(interval!.low)
      expect(value).toBeLessThanOrEqual(interval!.high)
    }
    const [, , , coverage] = figureDoubt(readings.slice(0, 1), resolved, limits, spectro, still).intervals
    expect(coverage).toBeNull()
  })

  test('of luminance are what adding variances says, without any drawing', () => {
    // All that moves white's luminance alike; each channel's own beside it, by its share of white.
    const shares = [0.2126, 0.7152, 0.0722]
    const amounts = [0.0016, 0.0007, 0.001]
    // Luminance follows v′, of sRGB’s primaries.
    const byColor = [0.0002 / 0.5229, 0.0002 / 0.5625, 0.001 / 0.1579]
    const lights = shares.map((share, k) => share * Math.hypot(amounts[k], byColor[k]))
    const deviation = Math.hypot(0.007, 0.002, ...lights)
    const [low, high] = [-0.05 - 1.96 * deviation, -0.05 + 1.96 * deviation].map((v) => Math.abs(100 * v))
    const interval = figureDoubt(scaled(0.95), resolved, limits, spectro, still).intervals[2]!
    expect(interval.low / high).toBeGreaterThan(0.5)
    // 200 draws: a quantile is good to a fifth of its distance.
    expect(Math.abs(interval.high - low)).toBeLessThan(0.35)
    expect(Math.abs(interval.low - high)).toBeLessThan(0.35)
  })

  test('grow with how little the correction is for this display @long', () => {
    const of = (['this display', 'same model', 'kind', 'other kind', 'none'] as const).map(
      (origin) =>
        widths(colorimeter({ origin, made: origin.startsWith('this') || origin === 'same model' ? made : null }))[1],
    )
    expect(of).toEqual([...of].sort((a, b) => a - b))
    expect(of[3]).toBeGreaterThan(3 * of[2])
  })

  test.each([
    [
      'the age of its certificate',
      colorimeter({ origin: 'kind', made: null }),
      colorimeter({ origin: 'kind', made: null, certificateAge: 4 }),
    ],
    ['the age of its correction', colorimeter({}), colorimeter({ made: { ...made, age: 3 } })],
    ['a certificate that nobody knows', spectro, { ...spectro, certificateAge: null }],
    ['noise', spectro, { ...spectro, noise: { luminance: 0.02, x: 0.01, z: 0.02 } }],
  ])('grow with %s', (_, less, more) => {
    const [small, large] = [widths(less), widths(more)]
    expect(large[1]).toBeGreaterThan(1.1 * small[1])
    expect(large[2]).toBeGreaterThan(small[2])
  })

  test('grow with what white did in the meantime @long', () => {
    expect(widths(spectro, { luminance: -0.03, uv: 0.003 })[2]).toBeGreaterThan(1.2 * widths(spectro)[2])
  })

  test('do not take noise for error: what noise adds to a difference on average is taken off @long', () => {
    const loud = { ...spectro, noise: { luminance: 0.02, x: 0.01, z: 0.02 } }
    // A perfect display, as a noisy instrument sees it.
    const seen = perfect.map((p, i) => ({
      ...p,
      xyz: p.xyz.map((v, k) => v * (1 + 0.012 * Math.sin(i * 7 + k * 3))) as unknown as XYZ,
    }))
    const value = computeMetrics(seen, resolved).averageDeltaE
    const calm = figureDoubt(seen, resolved, limits, spectro, still).intervals[0]!
    const noisy = figureDoubt(seen, resolved, limits, loud, still).intervals[0]!
    expect(noisy.low).toBeLessThan(0.9 * value)
    expect(noisy.low).toBeLessThan(calm.low)
  })

  test('name what most of them comes from @long', () => {
    const mostly = (instrument: InstrumentFacts, moved = still) =>
      figureDoubt(perfect, resolved, limits, instrument, moved).mostly
    expect(mostly(colorimeter({ origin: 'kind', made: null }))).toBe('correction')
    expect(mostly(colorimeter({ made: { ...made, age: 8 } }))).toBe('age')
    expect(mostly({ ...spectro, noise: { luminance: 0.05, x: 0.05, z: 0.05 } })).toBe('noise')
    expect(mostly(spectro, { luminance: 0.2, uv: 0.02 })).toBe('drift')
  })

  test('stand readings that make no display in some draws, and a black without light @long', () => {
    const dark = perfect.map((p) => (p.name === 'Black' ? { ...p, xyz: [0, 0, 0] as const } : p))
    const contrast: Limits = { rules: [{ metric: 'contrast', near: 500, hard: 300 }] }
    const [interval] = figureDoubt(dark, resolved, contrast, spectro, still).intervals
    expect(Number.isFinite(interval!.high)).toBe(true)
    const faint = perfect.map((p) => ({ ...p, xyz: p.xyz.map((v) => v * 1e-5) as unknown as XYZ }))
    expect(() => figureDoubt(faint, resolved, limits, spectro, still)).not.toThrow()
  })

  test('stand primaries that are one and the same light, as a display without colour has them', () => {
    const grey = perfect.map((p) => {
      const y = 0.1 + (p.rgb[0] + p.rgb[1] + p.rgb[2]) * 40
      return { ...p, xyz: [0.95 * y, y, 1.09 * y] as const }
    })
    const { intervals } = figureDoubt(grey, resolved, limits, spectro, still)
    for (const interval of intervals.slice(0, 3)) expect(interval!.high).toBeGreaterThanOrEqual(interval!.low)
  })

  test('without primaries the aim’s stand in for them', () => {
    const greys = perfect.filter(({ rgb: [r, g, b] }) => r === g && g === b)
    const [average, white] = figureDoubt(greys, resolved, limits, spectro, still).intervals
    expect(average!.high).toBeGreaterThan(0)
    const all = figureDoubt(perfect, resolved, limits, spectro, still).intervals[1]!
    expect(white!.high / all.high).toBeGreaterThan(0.5)
    expect(white!.high / all.high).toBeLessThan(2)
  })
})

describe('a verdict under doubt', () => {
  const rule = { metric: 'luminanceOff', near: 2, hard: 4 } as const
  const of = (value: number, low: number, high: number, change: Partial<Limits> = {}) =>
    judge(
      computeMetrics(scaled(1 - value / 100), resolved),
      { ...change, rules: [rule] },
      { intervals: [{ low, high }], mostly: 'correction', unsure: null },
    )

  test.each([
    ['inside both edges, all of it', 1, 0, 1.9, 'within'],
    ['inside, but up to the hard edge', 1, 0, 4, 'within'],
    ['inside, and perhaps past the hard edge', 1, 0, 4.1, 'untold'],
    ['past the near edge, all of it inside the hard one', 3, 1, 4, 'near'],
    ['past the near edge, and perhaps the hard one', 3, 2, 5, 'untold'],
    ['past the hard edge, and perhaps not', 5, 3.9, 6, 'untold'],
    ['past the hard edge, all of it', 6, 4.1, 8, 'outside'],
  ] as const)('%s', (_, value, low, high, verdict) => {
    expect(of(value, low, high).verdict).toBe(verdict)
  })

  test('says what it may be, what that comes from, and what would tell more', () => {
    expect(of(1, 0.2, 4.6).sentence).toMatch(
      /^Luminance off aim is 1\.0 %: it may be 0\.2 % to 4\.6 %, across the hard edge of 4\.0 %, mostly by the correction; one made on this display, or a spectroradiometer, would tell more; /,
    )
  })

  test('by a simple decision is what was seen', () => {
    expect(of(1, 0, 9, { decision: 'simple' })).toMatchObject({ verdict: 'within' })
    expect(of(5, 1, 9, { decision: 'simple' }).verdict).toBe('outside')
  })

  test('is the other way round for what more is better of', () => {
    const coverage: Limits = { rules: [{ metric: 'coverage', near: 98, hard: 95 }] }
    const metrics = computeMetrics(perfect, resolved)
    const by = (low: number, high: number) =>
      judge(metrics, coverage, { intervals: [{ low, high }], mostly: 'optics', unsure: null }).verdict
    expect([by(96, 100), by(94, 100)]).toEqual(['within', 'untold'])
  })

  test('what only advises brings it no further than near edge; what is only told changes nothing', () => {
    const metrics = computeMetrics(scaled(0.99), resolved)
    const doubt = { intervals: [{ low: 0, high: 9 }], mostly: 'age', unsure: null } as const
    const by = (weight: 'advises' | 'told') => judge(metrics, { rules: [{ ...rule, weight }] }, doubt)
    expect([by('advises').verdict, by('told').verdict]).toEqual(['near', 'within'])
    expect(by('advises').sentence).toContain('it only advises here')
  })

  test('on a correction for another kind of panel is never within, whatever the edges', () => {
    const tolerant: Limits = { decision: 'simple', rules: [{ metric: 'luminanceOff', near: 40, hard: 50 }] }
    const doubt = figureDoubt(perfect, resolved, tolerant, colorimeter({ origin: 'other kind', made: null }), still)
    const { verdict, sentence } = judge(computeMetrics(perfect, resolved), tolerant, doubt)
    expect(verdict).toBe('untold')
    expect(sentence).toMatch(/^Nothing can be told while the instrument is corrected for another kind of panel; /)
    expect(judge(computeMetrics(scaled(0.3), resolved), tolerant, doubt).verdict).toBe('outside')
  })

  test('never says within, or outside, where an interval says that it may be otherwise', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 12, noNaN: true }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        (value, down, up) => {
          const [low, high] = [Math.max(0, value - down), value + up]
          const { verdict } = of(value, low, high)
          const may = new Set<JudgedVerdict>(
            [low, value, high].map((v) => (v <= 2 ? 'within' : v <= 4 ? 'near' : 'outside')),
          )
          if (verdict === 'untold') expect(may.has('outside') && may.size > 1).toBe(true)
          if (verdict === 'outside') expect([...may]).toEqual(['outside'])
          if (verdict === 'within' || verdict === 'near') expect(may.has('outside')).toBe(false)
        },
      ),
      { numRuns: 60 },
    )
  })
})

test('every origin of a correction has its doubt, and white moves by about what it says @long', () => {
  const d65 = convertChromaticityToUv({ x: 0.3127, y: 0.329 })
  expect(deltaUv(convertXyzToUv(perfect.find((p) => p.name === 'White')!.xyz), d65)).toBeLessThan(1e-4)
  for (const origin of correctionOrigins) expect(widths(colorimeter({ origin, made: null }))[1]).toBeGreaterThan(0.0003)
})
