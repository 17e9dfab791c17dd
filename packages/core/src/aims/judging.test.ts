import { convertChromaticityToXyz, convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { standardPrimaries, standardWhites } from '../color/encodings'
import { add, scale, type Triple } from '../color/matrix3'
import { provePatches } from '../runs/patches'
import { describeAim } from './describe'
import { resolveAim, targetXyz, type Aim, type PanelFacts } from './aim'
import { limitedMetrics } from './limitedMetrics'
import { judge, type Limits } from './limits'
import { computeMetrics } from './metrics'
import type { PatchReading } from '../color/patchReading'
import { percentile } from './percentile'

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const panel: PanelFacts = {
  white: { x: 0.305, y: 0.32 },
  primaries: standardPrimaries['Display P3'],
  black: [0.11, 0.12, 0.16],
}
const resolved = resolveAim(aim, panel)
const perfect = provePatches.map(({ name, rgb }): PatchReading => ({ name, rgb, xyz: targetXyz(resolved, rgb) }))
const limits: Limits = {
  rules: [
    { metric: 'averageDeltaE', near: 1, hard: 1.5 },
    { metric: 'worstDeltaE', near: 2, hard: 3 },
    { metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 },
    { metric: 'luminanceOff', near: 2, hard: 5 },
  ],
}
const change = (name: string, by: (xyz: XYZ) => XYZ) =>
  perfect.map((p) => (p.name === name ? { ...p, xyz: by(p.xyz) } : p))

describe('an aim filled in', () => {
  test('asks for its white at full signal and for the panel’s own black at none', () => {
    targetXyz(resolved, [1, 1, 1]).forEach((v, k) =>
      expect(v).toBeCloseTo(convertChromaticityToXyz(standardWhites.D65, 120)[k], 9),
    )
    targetXyz(resolved, [0, 0, 0]).forEach((v, k) => expect(v).toBeCloseTo(panel.black[k], 12))
  })

  test('takes what it leaves to the panel from the panel', () => {
    const own = resolveAim({ ...aim, white: { kind: 'panel' }, primaries: { kind: 'panel' } }, panel)
    const white = convertXyzToChromaticity(own.white)
    expect(white.x).toBeCloseTo(panel.white.x, 12)
    expect(own.primaries).toEqual(panel.primaries)
  })

  test('follows its exponent above black', () => {
    const mid = targetXyz(resolved, [0.5, 0.5, 0.5])[1]
    expect((mid - 0.12) / (120 - 0.12)).toBeCloseTo(0.5 ** 2.2, 9)
  })

  test('lifts its black to a fixed luminance or to a multiple of the panel’s, never below the panel’s own', () => {
    const black = (rule: Aim['black']) => resolveAim({ ...aim, black: rule }, panel).black[1]
    expect(black({ kind: 'fixed', luminance: 0.5 })).toBeCloseTo(0.5, 9)
    expect(black({ kind: 'fixed', luminance: 0.01 })).toBeCloseTo(0.12, 9)
    expect(black({ kind: 'relative', factor: 2 })).toBeCloseTo(0.24, 9)
    expect(black({ kind: 'panel' })).toBe(panel.black[1])
    const lifted = resolveAim({ ...aim, black: { kind: 'relative', factor: 2 } }, panel)
    expect(describeAim({ ...aim, black: { kind: 'fixed', luminance: 0.5 } })).toMatch(/· black 0.5 cd\/m²$/)
    // A display that shows exactly that is judged to be right.
    const shown = provePatches.map(({ name, rgb }): PatchReading => ({ name, rgb, xyz: targetXyz(lifted, rgb) }))
    expect(computeMetrics(shown, lifted).worstDeltaE).toBeLessThan(1e-9)
  })

  test('of HLG gives greys their curve and leaves hues alone', () => {
    const hlg = resolveAim({ ...aim, luminance: 1000, toneResponse: { kind: 'HLG' } }, { ...panel, black: [0, 0, 0] })
    expect(targetXyz(hlg, [0.75, 0.75, 0.75])[1]).toBeCloseTo(203, 0)
    const red = convertXyzToChromaticity(targetXyz(hlg, [0.8, 0, 0]))
    expect(red.x).toBeCloseTo(0.64, 9)
    // ITU-R BT.2100-2: full red is its share of luminance to the power of the system gamma.
    expect(targetXyz(hlg, [1, 0, 0])[1]).toBeCloseTo(1000 * 0.2126 ** 1.2, 0)
  })

  test('is told in one line', () => {
    expect(describeAim(aim)).toBe('sRGB · D65 · 120 cd/m² · power 2.2')
    expect(
      describeAim({
        ...aim,
        white: { kind: 'temperature', kelvin: 5800 },
        primaries: { kind: 'panel' },
        toneResponse: { kind: 'L*' },
      }),
    ).toBe('panel’s own primaries · 5,800 K · 120 cd/m² · L*')
  })
})

describe('metrics', () => {
  test('a display that is the aim has no error in any figure', () => {
    const m = computeMetrics(perfect, resolved)
    expect(m.averageDeltaE).toBeLessThan(1e-9)
    expect(m.worstDeltaE).toBeLessThan(1e-9)
    expect(m.whiteDeltaUv).toBeLessThan(1e-12)
    expect(m.luminanceOff).toBeCloseTo(0, 10)
    expect(m.averageExponent).toBeCloseTo(2.2, 9)
    expect(m.averageGreyChroma).toBeLessThan(1e-9)
    expect(m.contrast).toBeCloseTo(1000, 6)
    expect(Math.abs(m.whiteTemperature! - 6504)).toBeLessThan(7)
    expect(m.primaries!.red.x).toBeCloseTo(0.64, 9)
  })

  test('a darker display of the right colours is told by its luminance alone', () => {
    const dark = perfect.map((p) => ({ ...p, xyz: scale(p.xyz, 0.9) }))
    const m = computeMetrics(dark, resolved)
    expect(m.luminanceOff).toBeCloseTo(-10, 9)
    expect(m.averageDeltaE).toBeLessThan(1e-9)
  })

  test('a white of another colour is told as Δu′v′ and as colour difference', () => {
    const yellow = perfect.map((p): PatchReading => ({ ...p, xyz: [p.xyz[0], p.xyz[1], p.xyz[2] * 0.9] }))
    const m = computeMetrics(yellow, resolved)
    expect(m.whiteDeltaUv).toBeGreaterThan(0.005)
    expect(m.whiteTemperature!).toBeLessThan(6300)
    expect(m.averageDeltaE).toBeGreaterThan(1)
  })

  test('the worst patch is named', () => {
    const m = computeMetrics(
      change('Alder leaf', (xyz) => scale(xyz, 1.4)),
      resolved,
    )
    expect(m.worstPatch).toBe('Alder leaf')
    expect(m.patches.filter((p) => p.deltaE > 0.01)).toHaveLength(1)
  })

  test('a panel that goes dark has no contrast to state, and its greys still have figures', () => {
    const oled = resolveAim(aim, { ...panel, black: [0, 0, 0] })
    const m = computeMetrics(
      provePatches.map(({ name, rgb }) => ({ name, rgb, xyz: targetXyz(oled, rgb) })),
      oled,
    )
    expect(m.contrast).toBeNull()
    expect(m.greys.every((g) => Number.isFinite(g.exponent) && Number.isFinite(g.deltaUv))).toBe(true)
  })

  test('figures by level and of the gamut: what was done to the readings, and nothing else', () => {
    const m = computeMetrics(perfect, resolved)
    expect(m.gamut!.uv.coverage).toBeCloseTo(100, 6)
    expect(m.gamut!.xy.areaRatio).toBeCloseTo(100, 6)
    expect(Math.abs(m.worstTone!.value)).toBeLessThan(1e-9)
    const lighter = computeMetrics(
      change('Grey 60 %', (xyz) => scale(xyz, 1.1)),
      resolved,
    )
    expect(lighter.worstTone!.level).toBe(0.6)
    // L* grows like the cube root of the light: 116·f·(1.1^⅓ − 1).
    const f = Math.cbrt(targetXyz(resolved, [0.6, 0.6, 0.6])[1] / 120)
    expect(lighter.worstTone!.value).toBeCloseTo(116 * f * (Math.cbrt(1.1) - 1), 9)
    const tinted = computeMetrics(
      change('Grey 10 %', ([x, y, z]) => [x, y, z * 1.2]),
      resolved,
    )
    expect(tinted.worstGreyChroma!.level).toBe(0.1)
    expect(tinted.worstGreyChroma!.value).toBeGreaterThan(1)
    expect(computeMetrics(perfect.slice(0, 2), resolved)).toMatchObject({ gamut: null, worstTone: null })
  })

  test('the 95th percentile is the value that 95 of 100 do not exceed', () => {
    const values = Array.from({ length: 100 }, (_, i) => 100 - i)
    expect(percentile(values, 0.95)).toBe(95)
    expect(percentile([3], 0.95)).toBe(3)
  })

  test('without a white nothing can be judged', () => {
    expect(() =>
      computeMetrics(
        perfect.filter((p) => p.name !== 'White'),
        resolved,
      ),
    ).toThrow('no white')
  })
})

describe('the verdict', () => {
  test('within, when every figure is inside its near edge', () => {
    expect(judge(computeMetrics(perfect, resolved), limits)).toMatchObject({
      verdict: 'within',
      sentence: expect.stringMatching(
        /^Every figure is inside its near edge; the worst patch is .+ at 0\.00 ΔE2000\.$/,
      ),
    })
  })

  test('one bad green patch does not hide behind a good average', () => {
    const m = computeMetrics(
      change('Alder leaf', (xyz) => add(xyz, [0, 8, 0] as Triple)),
      resolved,
    )
    expect(m.averageDeltaE).toBeLessThan(1)
    const { verdict, sentence } = judge(m, limits)
    expect(verdict).toBe('outside')
    expect(sentence).toMatch(/^Worst ΔE2000 is \d+\.\d\d, at Alder leaf: past the hard edge of 3\.00\.$/)
  })

  test('near, between the edges, names both edges', () => {
    const { verdict, sentence, rules } = judge(
      computeMetrics(
        perfect.map((p) => ({ ...p, xyz: scale(p.xyz, 0.97) })),
        resolved,
      ),
      limits,
    )
    expect(verdict).toBe('near')
    expect(sentence).toMatch(
      /^Luminance off aim is 3\.0 %: past the near edge of 2\.0 % and not past the hard edge of 5\.0 %; the worst patch is /,
    )
    expect(rules.map((r) => r.verdict)).toEqual(['within', 'within', 'within', 'near'])
  })

  test('the figure furthest past its edge speaks, the others are counted', () => {
    const off = perfect.map((p): PatchReading => ({ ...p, xyz: [p.xyz[0] * 0.9, p.xyz[1] * 0.9, p.xyz[2] * 0.6] }))
    const { sentence } = judge(computeMetrics(off, resolved), limits)
    expect(sentence).toMatch(/; 3 more figures are past their edge/)
  })

  test('of contrast and coverage more is better, and the edges are the least that will do', () => {
    const rule = { metric: 'contrast', near: 1200, hard: 900 } as const
    const { verdict, sentence } = judge(computeMetrics(perfect, resolved), { rules: [rule] })
    expect(verdict).toBe('near')
    expect(sentence).toMatch(
      /^Contrast is 1000 to 1: past the near edge of 1200 to 1 and not past the hard edge of 900 to 1; the worst patch is /,
    )
    const covered = { rules: [{ metric: 'coverage', near: 99, hard: 95 } as const] }
    expect(judge(computeMetrics(perfect, resolved), covered).verdict).toBe('within')
    const grey = perfect.map((p) => (p.name === 'Green' ? { ...p, xyz: targetXyz(resolved, [0.5, 0.9, 0.5]) } : p))
    expect(judge(computeMetrics(grey, resolved), covered)).toMatchObject({ verdict: 'outside' })
  })

  test('a figure that the readings do not tell is not passed over', () => {
    const whiteOnly = computeMetrics(perfect.slice(0, 2), resolved)
    expect(() => judge(whiteOnly, { rules: [{ metric: 'coverage', near: 99, hard: 95 }] })).toThrow(
      '“Coverage in u′v′” has limits, but the readings hold no full red, green and blue, so it cannot be told.',
    )
  })

  test('a figure on the edge is still on the good side of it', () => {
    const m = computeMetrics(
      change('Alder leaf', (xyz) => scale(xyz, 1.2)).map((p) => ({ ...p, xyz: scale(p.xyz, 0.98) })),
      resolved,
    )
    const exactly = (metric: 'averageDeltaE' | 'worstDeltaE' | 'luminanceOff') => {
      const value = limitedMetrics[metric].of(m, { formula: 'de2000' })!.value
      return { metric, near: value, hard: value }
    }
    const rules = [exactly('averageDeltaE'), exactly('worstDeltaE'), exactly('luminanceOff')]
    expect(judge(m, { rules }).verdict).toBe('within')
    const tighter = rules.map((r) => ({ ...r, near: r.near * (1 - 1e-9), hard: r.hard * (1 - 1e-9) }))
    expect(judge(m, { rules: tighter }).rules.map((r) => r.verdict)).toEqual(['outside', 'outside', 'outside'])
  })
})
