import { convertChromaticityToXyz, convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { standardPrimaries, standardWhites } from '../color/encodings'
import { add, scale, type Triple } from '../color/matrix3'
import { provePatches } from '../runs/patches'
import { describeAim } from './describe'
import { resolveAim, targetXyz, type Aim, type PanelFacts } from './aim'
import { judge, type Limits } from './limits'
import { computeMetrics, type PatchReading } from './metrics'

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
      change('Leaf green', (xyz) => scale(xyz, 1.4)),
      resolved,
    )
    expect(m.worstPatch).toBe('Leaf green')
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
      sentence: 'Every figure is inside its near edge.',
    })
  })

  test('one bad green patch does not hide behind a good average', () => {
    const m = computeMetrics(
      change('Leaf green', (xyz) => add(xyz, [0, 8, 0] as Triple)),
      resolved,
    )
    expect(m.averageDeltaE).toBeLessThan(1)
    const { verdict, sentence } = judge(m, limits)
    expect(verdict).toBe('outside')
    expect(sentence).toMatch(/^Worst ΔE2000 is \d+\.\d\d, at Leaf green: past the hard edge of 3\.00\.$/)
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
    expect(sentence).toBe(
      'Luminance off aim is 3.0 %: past the near edge of 2.0 % and not past the hard edge of 5.0 %.',
    )
    expect(rules.map((r) => r.verdict)).toEqual(['within', 'within', 'within', 'near'])
  })

  test('the figure furthest past its edge speaks, the others are counted', () => {
    const off = perfect.map((p): PatchReading => ({ ...p, xyz: [p.xyz[0] * 0.9, p.xyz[1] * 0.9, p.xyz[2] * 0.6] }))
    const { sentence } = judge(computeMetrics(off, resolved), limits)
    expect(sentence).toMatch(/; 3 more figures are past their edge\.$/)
  })

  test('a figure on the edge is still on the good side of it', () => {
    const m = {
      ...computeMetrics(perfect, resolved),
      averageDeltaE: 1,
      worstDeltaE: 2,
      whiteDeltaUv: 0.002,
      luminanceOff: -2,
    }
    expect(judge(m, limits).verdict).toBe('within')
  })
})
