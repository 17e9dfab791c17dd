import { checkPlans } from '../runs/checkPlans'
import type { PatchReading } from '../color/patchReading'
import { normalFrom, uniformFrom } from '../basics/random'
import { aimTargets, resolveAim } from './aim'
import {
  formatDoubt,
  formatEdge,
  formatMetric,
  limitedMetricNames,
  limitedMetrics,
  metricLabel,
  type LimitedMetric,
} from './limitedMetrics'
import { computeMetrics, type Metrics } from './metrics'

const resolved = resolveAim(
  {
    white: { kind: 'standard', name: 'D65' },
    luminance: 120,
    toneResponse: { kind: 'power', exponent: 2.2 },
    primaries: { kind: 'standard', name: 'sRGB' },
  },
  { white: { x: 0.31, y: 0.33 }, primaries: null as never, black: [0.1, 0.11, 0.14] },
)
const target = aimTargets(resolved)
/** A display whose every patch is off by its own few per cent. */
const readings = (() => {
  const normal = normalFrom(uniformFrom(6))
  return checkPlans.many.patches.map(({ name, rgb }): PatchReading => ({
    name,
    rgb,
    xyz: target(rgb).map((v) => v * (1 + 0.02 * normal())) as unknown as PatchReading['xyz'],
  }))
})()
const metrics: Metrics = {
  ...computeMetrics(readings, resolved),
  uniformity: { luminanceOff: -9.4, deltaUv: 0.0031, at: 'row 1, column 3' },
}
const of = (metric: LimitedMetric, from = metrics, levels?: { from: number; to: number }) =>
  limitedMetrics[metric].of(from, { formula: 'de2000', levels })

test.each<[LimitedMetric, string, string, near: string, hard: string]>([
  ['averageDeltaE', 'Average ΔE2000', '12.35', '≤ 1.00', '≤ 2.00'],
  ['worstDeltaE', 'Worst ΔE2000', '12.35', '≤ 2.00', '≤ 3.00'],
  ['whiteDeltaUv', 'White Δu′v′', '12.3457', '≤ 0.0020', '≤ 0.0040'],
  ['luminanceOff', 'Luminance off aim', '12.3 %', '≤ 1.0 %', '≤ 2.0 %'],
  ['percentile95DeltaE', '95th percentile ΔE2000', '12.35', '≤ 1.50', '≤ 2.50'],
  ['worstPrimaryDeltaE', 'Worst primary ΔE2000', '12.35', '≤ 2.00', '≤ 3.00'],
  ['whiteDeltaE', 'White ΔE2000', '12.35', '≤ 1.00', '≤ 2.00'],
  ['toneError', 'Worst tone error ΔL*', '12.35', '≤ 1.00', '≤ 2.00'],
  ['greyChroma', 'Average grey chroma', '12.35', '≤ 0.50', '≤ 1.00'],
  ['worstGreyChroma', 'Worst grey chroma', '12.35', '≤ 1.00', '≤ 2.00'],
  ['worstGreyDeltaUv', 'Worst grey Δu′v′', '12.3457', '≤ 0.0040', '≤ 0.0080'],
  ['black', 'Black', '12.35 cd/m²', '≤ 0.20 cd/m²', '≤ 0.40 cd/m²'],
  ['contrast', 'Contrast', '12 to 1', '≥ 500 to 1', '≥ 300 to 1'],
  ['coverage', 'Coverage in u′v′', '12 %', '≥ 98 %', '≥ 95 %'],
  ['uniformityLuminance', 'Unevenness in luminance', '12.3 %', '≤ 8.0 %', '≤ 15.0 %'],
  ['uniformityUv', 'Unevenness Δu′v′', '12.3457', '≤ 0.0040', '≤ 0.0080'],
])('%s is told as “%s”, %s, and begins with %s and %s', (metric, label, told, near, hard) => {
  expect(metricLabel(metric)).toBe(label)
  expect(formatMetric(metric, 12.345678)).toBe(told)
  const { start } = limitedMetrics[metric]
  expect([formatEdge(metric, start.near), formatEdge(metric, start.hard)]).toEqual([near, hard])
})

test('there is a row above for every figure; a new rule’s edges make sense for it', () => {
  expect(limitedMetricNames).toHaveLength(16)
  for (const { start, most, atLeast } of Object.values(limitedMetrics)) {
    expect(Math.max(start.near, start.hard)).toBeLessThanOrEqual(most)
    expect(atLeast ? start.near > start.hard : start.near < start.hard).toBe(true)
  }
})

test('labels name the formula of a difference, and the greys that are looked at', () => {
  expect(metricLabel('worstDeltaE', { formula: 'deitp' })).toBe('Worst ΔE ITP')
  expect(metricLabel('toneError', { formula: 'deitp', levels: { from: 0, to: 0.2 } })).toBe(
    'Worst tone error ΔL*, greys 0–20 %',
  )
  expect(metricLabel('greyChroma', { levels: { from: 0.05625, to: 1 } })).toBe('Average grey chroma, greys 5.6–100 %')
})

test('figures of all patches, of white, black and the primaries are those of the readings, with where they are worst', () => {
  const by = (name: string) => metrics.patches.find((p) => p.name === name)!
  const differences = metrics.patches.map((p) => p.deltaE).sort((a, b) => a - b)
  const worst = metrics.patches.find((p) => p.deltaE === differences.at(-1))!
  expect(of('averageDeltaE')).toEqual({
    value: expect.closeTo(differences.reduce((a, b) => a + b) / differences.length, 9),
  })
  expect(of('worstDeltaE')).toEqual({ value: worst.deltaE, at: worst.name })
  expect(of('percentile95DeltaE')).toEqual({ value: differences[Math.ceil(0.95 * differences.length) - 1] })
  const primaries = ['Red', 'Green', 'Blue'].map(by).sort((a, b) => b.deltaE - a.deltaE)
  expect(of('worstPrimaryDeltaE')).toEqual({ value: primaries[0].deltaE, at: primaries[0].name })
  expect(of('whiteDeltaE')).toEqual({ value: by('White').deltaE })
  const [white, black] = [by('White').xyz, by('Black').xyz]
  const sum = (xyz: readonly number[]) => xyz[0] + 15 * xyz[1] + 3 * xyz[2]
  const [u, v] = [(4 * white[0]) / sum(white), (9 * white[1]) / sum(white)]
  // D65 in u′v′, CIE 15:2018.
  expect(of('whiteDeltaUv')!.value).toBeCloseTo(Math.hypot(u - 0.19783, v - 0.46832), 4)
  expect(of('luminanceOff')!.value).toBeCloseTo((100 * Math.abs(white[1] - 120)) / 120, 9)
  expect(of('black')).toEqual({ value: black[1] })
  expect(of('contrast')!.value).toBeCloseTo(white[1] / black[1], 9)
})

test('a luminance below its aim counts as one above it, and a black without light has endless contrast', () => {
  expect(of('luminanceOff', { ...metrics, luminanceOff: -3 })).toEqual({ value: 3 })
  expect(of('contrast', { ...metrics, contrast: null })).toEqual({ value: Infinity })
  expect(formatMetric('contrast', Infinity)).toBe('endless')
  expect(formatMetric('coverage', null)).toBe('–')
  expect(formatMetric('black', 0)).toBe('0.00 cd/m²')
})

describe('figures of greys', () => {
  const levels = metrics.greys.map((g) => g.level)
  const figures = { toneError: 'lightnessError', worstGreyChroma: 'chroma', worstGreyDeltaUv: 'deltaUv' } as const

  test.each(Object.entries(figures))('%s is the grey furthest from none, with its level', (metric, key) => {
    for (const range of [undefined, { from: levels[1], to: levels[3] }, { from: 0.2, to: 0.7 }]) {
      const some = metrics.greys.filter((g) => !range || (g.level >= range.from && g.level <= range.to))
      const worst = [...some].sort((a, b) => Math.abs(b[key]) - Math.abs(a[key]))[0]
      expect(of(metric as LimitedMetric, metrics, range)).toEqual({
        value: Math.abs(worst[key]),
        at: `grey ${Number((100 * worst.level).toFixed(1))} %`,
      })
    }
  })

  test('a range holds both of its ends, and one without greys tells nothing', () => {
    const { level, chroma } = metrics.greys[2]
    expect(of('worstGreyChroma', metrics, { from: level, to: level })!.value).toBe(chroma)
    expect(of('greyChroma', metrics, { from: level, to: level })!.value).toBe(chroma)
    expect(of('toneError', metrics, { from: 0.001, to: 0.002 })).toBeNull()
    expect(of('greyChroma', metrics, { from: 0.001, to: 0.002 })).toBeNull()
  })

  test('of greys equally far off the darkest is named', () => {
    const even = metrics.greys.map((g) => ({ ...g, lightnessError: g.level < 0.5 ? 1 : -1 }))
    expect(of('toneError', { ...metrics, greys: even })).toEqual({
      value: 1,
      at: `grey ${Number((100 * levels[0]).toFixed(1))} %`,
    })
  })

  test('an average of chroma is that of its greys', () => {
    const chroma = metrics.greys.map((g) => g.chroma)
    expect(of('greyChroma')!.value).toBeCloseTo(chroma.reduce((a, b) => a + b) / chroma.length, 12)
    const two = metrics.greys.filter((g) => g.level >= levels[0] && g.level <= levels[1])
    expect(two).toHaveLength(2)
    expect(of('greyChroma', metrics, { from: levels[0], to: levels[1] })!.value).toBeCloseTo(
      (two[0].chroma + two[1].chroma) / 2,
      12,
    )
  })
})

test('what was not read tells nothing, and what has to be read for it is named', () => {
  const bare = computeMetrics(
    readings.filter((p) => ['White', 'Black'].includes(p.name)),
    resolved,
  )
  const untold = limitedMetricNames.filter((metric) => of(metric, bare) === null)
  expect(untold.map((metric) => [metric, limitedMetrics[metric].needs])).toEqual([
    ['worstPrimaryDeltaE', 'full red, green and blue'],
    ['toneError', 'grey between black and white'],
    ['greyChroma', 'grey between black and white'],
    ['worstGreyChroma', 'grey between black and white'],
    ['worstGreyDeltaUv', 'grey between black and white'],
    ['coverage', 'full red, green and blue'],
    ['uniformityLuminance', 'uniformity run of the display'],
    ['uniformityUv', 'uniformity run of the display'],
  ])
  const byLevel = limitedMetricNames.filter((metric) => limitedMetrics[metric].byLevel)
  expect(byLevel).toEqual(['toneError', 'greyChroma', 'worstGreyChroma', 'worstGreyDeltaUv'])
})

test('coverage is that of the triangle in u′v′; unevenness counts to either side and says where', () => {
  expect(of('coverage')).toEqual({ value: metrics.gamut!.uv.coverage })
  expect(metrics.gamut!.uv.coverage).not.toBe(metrics.gamut!.xy.coverage)
  expect(of('uniformityLuminance')).toEqual({ value: 9.4, at: 'row 1, column 3' })
  expect(of('uniformityUv')).toEqual({ value: 0.0031 })
})

test('a doubt is told as one where its sides are nearly even, as two where they are not', () => {
  const told = (low: number, high: number) => formatDoubt('averageDeltaE', 1, { low, high })
  expect(told(0.7, 1.3)).toBe('± 0.30')
  // 0.7 of the larger is still even.
  expect(told(0.5, 1.35)).toBe('± 0.50')
  expect(told(0.5, 1.34)).toBe('+0.34 −0.50')
  expect(told(0.95, 1.78)).toBe('+0.78 −0.05')
  // A figure outside of its own interval is off to one side alone.
  expect(told(1.2, 1.5)).toBe('+0.50 −0.00')
  expect(told(0.4, 0.8)).toBe('+0.00 −0.60')
  expect(formatDoubt('whiteDeltaUv', 0.002, { low: 0.001, high: 0.003 })).toBe('± 0.0010')
  expect(formatDoubt('contrast', Infinity, { low: 900, high: Infinity })).toBe('')
})
