import type { DoubtPart } from './doubt/instrumentDoubt'
import { limitedMetricNames, limitedMetrics } from './limitedMetrics'
import { edgesUnder, formulaOf, judge, judgeRule, ruleAtLevel, type Doubt, type Limits } from './limits'
import type { Metrics } from './metrics'

/** Figures of a display as they come; its only patch is off by 1.5. */
const metricsOf = (change: Partial<Metrics> = {}): Metrics => ({
  patches: [
    {
      name: 'Sedge',
      rgb: [0.2, 0.4, 0.2],
      xyz: [10, 12, 8],
      target: [10, 12, 8],
      lab: [40, 0, 0],
      targetLab: [40, 0, 0],
      deltaE: 1.5,
    },
  ],
  averageDeltaE: 1.5,
  percentile95DeltaE: 1.5,
  worstDeltaE: 1.5,
  worstPatch: 'Sedge',
  white: { x: 0.3127, y: 0.329 },
  aimWhite: { x: 0.3127, y: 0.329 },
  whiteTemperature: 6500,
  aimWhiteTemperature: 6500,
  whiteDeltaUv: 0.001,
  luminance: 118,
  aimLuminance: 120,
  luminanceOff: -4,
  black: 0.1,
  contrast: 1180,
  greys: [],
  averageExponent: 2.2,
  aimAverageExponent: 2.2,
  averageGreyChroma: 0,
  worstGreyChroma: null,
  worstTone: null,
  primaries: null,
  aimPrimaries: null as never,
  gamut: null,
  ...change,
})
const luminance = { metric: 'luminanceOff', near: 5, hard: 10 } as const
const white = { metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 } as const
const contrast = { metric: 'contrast', near: 1000, hard: 800 } as const
const doubtOf = (...intervals: Doubt['intervals']): Doubt => ({ intervals, mostly: 'noise', unsure: null })
const sentenceOf = (metrics: Metrics, limits: Limits, doubt?: Doubt) => judge(metrics, limits, doubt).sentence
const patchWords = 'the worst patch is Sedge at 1.50 ΔE2000'

test('limits judge by ΔE2000 unless they say otherwise; edges under their own formula are those of their differences', () => {
  const rules = [luminance, { metric: 'averageDeltaE', near: 1, hard: 2 } as const]
  expect(formulaOf({ rules })).toBe('de2000')
  expect(formulaOf({ rules, formula: 'de94' })).toBe('de94')
  expect(edgesUnder({ rules }, 'de2000')).toEqual([rules[1]])
  expect(edgesUnder({ rules }, 'de94')).toBeNull()
  const others = { de94: [{ metric: 'averageDeltaE', near: 3, hard: 4 } as const] }
  expect(edgesUnder({ rules, others }, 'de94')).toEqual(others.de94)
  expect(edgesUnder({ rules, others }, 'de76')).toBeNull()
  // Differences alone have edges by formula.
  expect(limitedMetricNames.filter((metric) => limitedMetrics[metric].difference)).toEqual([
    'averageDeltaE',
    'worstDeltaE',
    'percentile95DeltaE',
    'worstPrimaryDeltaE',
    'whiteDeltaE',
  ])
})

test('the rule of a grey is one that names its level, ends included, before one for all of them', () => {
  const all = { metric: 'toneError', near: 1, hard: 2 } as const
  const dark = { ...all, near: 2, hard: 4, levels: { from: 0.05, to: 0.2 } }
  const rules = [luminance, all, dark, { ...dark, metric: 'worstGreyChroma' } as const]
  const at = (level: number) => ruleAtLevel({ rules }, 'toneError', level)
  expect([at(0.05), at(0.1), at(0.2)]).toEqual([dark, dark, dark])
  expect([at(0.04), at(0.21)]).toEqual([all, all])
  expect(ruleAtLevel({ rules: [dark] }, 'toneError', 0.3)).toBeUndefined()
  expect(ruleAtLevel({ rules: [luminance] }, 'toneError', 0.3)).toBeUndefined()
})

describe('one rule', () => {
  test.each([
    [4, 'within'],
    [5, 'within'],
    [5.01, 'near'],
    [-10, 'near'],
    [10.01, 'outside'],
  ])('luminance off by %p is %s', (luminanceOff, verdict) => {
    expect(judgeRule(metricsOf({ luminanceOff }), luminance, 'de2000')).toEqual({
      ...luminance,
      value: Math.abs(luminanceOff),
      verdict,
    })
  })

  test.each([
    [1000, 'within'],
    [999, 'near'],
    [800, 'near'],
    [799, 'outside'],
  ])('contrast of %p, of which more is better, is %s', (value, verdict) => {
    expect(judgeRule(metricsOf({ contrast: value }), contrast, 'de2000').verdict).toBe(verdict)
  })

  test('what may lie on either side of the hard edge cannot be told, unless figures are taken as they were seen', () => {
    const verdictOf = (low: number, high: number, decision?: 'simple' | 'guarded') =>
      judgeRule(metricsOf(), luminance, 'de2000', { interval: { low, high }, decision }).verdict
    expect(verdictOf(3, 10)).toBe('within')
    expect(verdictOf(3, 10.1)).toBe('untold')
    expect(verdictOf(3, 10.1, 'guarded')).toBe('untold')
    expect(verdictOf(3, 10.1, 'simple')).toBe('within')
    expect(verdictOf(10.1, 12)).toBe('within')
    const least = (low: number, high: number) =>
      judgeRule(metricsOf({ contrast: 900 }), contrast, 'de2000', { interval: { low, high } })
    expect(least(800, 2000).verdict).toBe('near')
    expect(least(799, 2000)).toMatchObject({ verdict: 'untold', interval: { low: 799, high: 2000 } })
    // Without an interval none is told of.
    expect(judgeRule(metricsOf(), luminance, 'de2000', { interval: null })).not.toHaveProperty('interval')
  })
})

describe('the sentence of a verdict', () => {
  test('says within what every figure is, and which of them was not read', () => {
    expect(sentenceOf(metricsOf(), { rules: [luminance, white] })).toBe(
      `Every figure is inside its near edge; ${patchWords}.`,
    )
    const [coverage, tone, uneven] = (['coverage', 'toneError', 'uniformityUv'] as const).map((metric) => ({
      metric,
      ...limitedMetrics[metric].start,
    }))
    expect(sentenceOf(metricsOf(), { rules: [luminance, coverage] })).toBe(
      `Every figure that was read is inside its near edge; ${patchWords}; coverage in u′v′ was not read.`,
    )
    expect(sentenceOf(metricsOf(), { rules: [luminance, coverage, tone, uneven] })).toBe(
      `Every figure that was read is inside its near edge; ${patchWords}; coverage in u′v′, worst tone error ΔL* and unevenness Δu′v′ were not read.`,
    )
    const ninetyFifth = { metric: 'worstPrimaryDeltaE', near: 1, hard: 2 } as const
    expect(sentenceOf(metricsOf(), { rules: [luminance, ninetyFifth] })).toMatch(
      /; worst primary ΔE2000 was not read\.$/,
    )
  })

  test('names the figure furthest past its edge by ratio, and counts the others', () => {
    const metrics = metricsOf({ luminanceOff: 11, whiteDeltaUv: 0.008, contrast: 500 })
    const rules = [luminance, white, contrast]
    // 1.1, 2 and 1.6 times their hard edges.
    expect(sentenceOf(metrics, { rules })).toBe(
      `White Δu′v′ is 0.0080: past the hard edge of 0.0040; 2 more figures are past their edge; ${patchWords}.`,
    )
    expect(sentenceOf({ ...metrics, whiteDeltaUv: 0 }, { rules })).toBe(
      `Contrast is 500 to 1: past the hard edge of 800 to 1; 1 more figure is past its edge; ${patchWords}.`,
    )
    // What is near its edges is not counted beside what is past them; equally far, the first speaks.
    expect(sentenceOf(metricsOf({ luminanceOff: 20, whiteDeltaUv: 0.008, contrast: 900 }), { rules })).toBe(
      `Luminance off aim is 20.0 %: past the hard edge of 10.0 %; 1 more figure is past its edge; ${patchWords}.`,
    )
    // 1.8 of the near edge, 1.95 of it, and 1.1.
    expect(sentenceOf(metricsOf({ luminanceOff: 9, whiteDeltaUv: 0.0039, contrast: 900 }), { rules })).toBe(
      `White Δu′v′ is 0.0039: past the near edge of 0.0020 and not past the hard edge of 0.0040; 2 more figures are past their edge; ${patchWords}.`,
    )
    expect(sentenceOf(metricsOf({ contrast: 0 }), { rules })).toMatch(/^Contrast is 0 to 1: past the hard edge/)
  })

  test('does not name the worst patch twice', () => {
    const rules = [{ metric: 'worstDeltaE', near: 0.5, hard: 1 } as const]
    expect(sentenceOf(metricsOf(), { rules })).toBe('Worst ΔE2000 is 1.50, at Sedge: past the hard edge of 1.00.')
  })

  test('says what only advises', () => {
    const advises = { ...luminance, weight: 'advises' } as const
    const { verdict, sentence } = judge(metricsOf({ luminanceOff: 11 }), { rules: [white, advises] })
    expect([verdict, sentence]).toEqual([
      'near',
      `Luminance off aim is 11.0 %: past the hard edge of 10.0 %, which only advises here; ${patchWords}.`,
    ])
    const near = judge(metricsOf({ luminanceOff: 6 }), { rules: [advises] })
    expect(near).toMatchObject({ verdict: 'near', sentence: expect.not.stringContaining('advises') })
    expect(judge(metricsOf({ luminanceOff: 4 }), { rules: [advises] }).verdict).toBe('within')
  })

  test.each<[DoubtPart, string]>([
    ['optics', 'the optics of the reference; a finer reference would tell more'],
    ['correction', 'the correction; one made on this display, or a spectroradiometer, would tell more'],
    ['certificate', 'what the certificate leaves open; an instrument with a closer one would tell more'],
    ['age', 'the age of the certificate or the correction; a newer one would tell more'],
    ['drift', 'how far the display moved meanwhile; reading it again at rest would tell more'],
    ['noise', 'how the instrument repeats; reading it again would tell more'],
  ])('that cannot be told says what most of the doubt comes from: %s', (mostly, words) => {
    const doubt: Doubt = { intervals: [{ low: 3, high: 11 }], mostly, unsure: null }
    expect(judge(metricsOf(), { rules: [luminance] }, doubt)).toMatchObject({
      verdict: 'untold',
      sentence: `Luminance off aim is 4.0 %: it may be 3.0 % to 11.0 %, across the hard edge of 10.0 %, mostly by ${words}; ${patchWords}.`,
    })
  })

  test('of several that cannot be told names the one that may be worst, and counts the others', () => {
    const rules = [luminance, white, contrast]
    const told = (...intervals: Doubt['intervals']) => sentenceOf(metricsOf(), { rules }, doubtOf(...intervals))
    expect(told({ low: 0, high: 12 }, { low: 0, high: 0.0044 }, { low: 790, high: 1500 })).toMatch(
      /^Luminance off aim is .*; 2 more figures cannot be told; the worst/,
    )
    expect(told({ low: 0, high: 12 }, { low: 0, high: 0.0052 }, null)).toMatch(
      /^White Δu′v′ is .*; 1 more figure cannot be told; the worst/,
    )
    expect(told({ low: 0, high: 12 }, { low: 0, high: 0.0052 }, { low: 400, high: 1500 })).toMatch(/^Contrast is 1180/)
    // Luminance may be 1.2 times its edge; contrast may be at its better end far within, which does not count.
    expect(told({ low: 0, high: 12 }, null, { low: 790, high: 9000 })).toMatch(
      /^Luminance off aim is 4\.0 %: it may be/,
    )
  })

  test('a figure past its edge for certain goes before those that cannot be told, and these before those near', () => {
    const rules = [luminance, white]
    const outside = judge(metricsOf({ whiteDeltaUv: 0.005 }), { rules }, doubtOf({ low: 0, high: 12 }, null))
    expect(outside).toMatchObject({ verdict: 'outside', sentence: expect.stringMatching(/^White/) })
    const untold = judge(metricsOf({ whiteDeltaUv: 0.003 }), { rules }, doubtOf({ low: 0, high: 12 }, null))
    expect(untold).toMatchObject({ verdict: 'untold', sentence: expect.stringMatching(/^Luminance/) })
    const rule = { ...luminance, weight: 'advises' } as const
    expect(judge(metricsOf(), { rules: [white, rule] }, doubtOf(null, { low: 0, high: 12 }))).toMatchObject({
      verdict: 'near',
      sentence: expect.stringContaining('would tell more; it only advises here'),
    })
  })

  test('where nothing that was read can be trusted nothing is within; what is outside stays so', () => {
    const doubt: Doubt = { intervals: [null, null], mostly: 'age', unsure: 'the instrument is being looked at' }
    const rules = [luminance, white]
    expect(judge(metricsOf(), { rules }, doubt)).toMatchObject({
      verdict: 'untold',
      sentence: `Nothing can be told while the instrument is being looked at; ${patchWords}.`,
    })
    expect(judge(metricsOf({ luminanceOff: 6 }), { rules }, doubt)).toMatchObject({
      verdict: 'untold',
      sentence: `Nothing can be told while the instrument is being looked at; Luminance off aim is 6.0 %: past the near edge of 5.0 % and not past the hard edge of 10.0 %; ${patchWords}.`,
    })
    expect(judge(metricsOf({ luminanceOff: 11 }), { rules }, doubt)).toMatchObject({
      verdict: 'outside',
      sentence: expect.not.stringContaining('Nothing'),
    })
  })
})
