import { buildTable3d } from '../characterization/buildTable3d'
import { fitAim } from '../characterization/fitAim'
import { characterize } from '../characterization/characterize'
import { invertXyz } from '../characterization/inversion'
import { targetXyz, type Aim } from '../aims/aim'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { codeOfSignal, rangeEnds, signalOfCode } from './signalRange'
import {
  applyTetrahedral,
  applyTrilinear,
  levelGreys,
  quantizeTable3d,
  roughnessOf,
  smoothTable3d,
  tabulate3d,
} from './table3d'

const uniform = uniformFrom(61)
const some = (): Triple => [uniform(), uniform(), uniform()]

describe('between nodes', () => {
  const affine = ([r, g, b]: Triple): Triple => [0.2 * r + 0.5 * g, b - 0.1 * r + 0.1, 0.3 * r + 0.3 * g + 0.3 * b]
  test.each([
    ['tetrahedral', applyTetrahedral],
    ['trilinear', applyTrilinear],
  ] as const)('%s: nodes are met, and what is straight stays straight', (_, apply) => {
    const table = tabulate3d(7, affine)
    for (let i = 0; i < 200; i++) {
      const rgb = some()
      apply(table, rgb).forEach((v, k) => expect(v).toBeCloseTo(affine(rgb)[k], 12))
    }
    const bent = tabulate3d(5, ([r, g, b]) => [r ** 3, g * b, Math.sqrt(b)])
    apply(bent, [0.25, 0.5, 0.75]).forEach((v, k) => expect(v).toBeCloseTo([0.25 ** 3, 0.375, Math.sqrt(0.75)][k], 12))
    expect(apply(bent, [1, 1, 1])).toEqual([1, 1, 1])
    expect(apply(bent, [2, -1, 0])[0]).toBe(1)
  })

  test('tetrahedral greys depend on the grey nodes alone', () => {
    const table = tabulate3d(5, (rgb) => (rgb[0] === rgb[1] && rgb[1] === rgb[2] ? rgb : [9, 9, 9]))
    for (let i = 0; i <= 100; i++)
      applyTetrahedral(table, [i / 100, i / 100, i / 100]).forEach((v) => expect(v).toBeCloseTo(i / 100, 12))
  })
})

describe('shaping a table', () => {
  test('greys that step back are levelled', () => {
    const table = tabulate3d(9, ([r, g, b]) => [r === 0.5 && g === 0.5 && b === 0.5 ? 0.1 : r, g, b])
    const levelled = levelGreys(table)
    let last = -1
    for (let i = 0; i <= 200; i++) {
      const [v] = applyTetrahedral(levelled, [i / 200, i / 200, i / 200])
      expect(v).toBeGreaterThanOrEqual(last)
      last = v
    }
  })

  test('a spike is smoothed to the bound, a clipped ramp is let be', () => {
    const spiked = tabulate3d(9, (rgb) => (rgb.join() === '0.5,0.5,0.5' ? [0.9, 0.5, 0.5] : rgb))
    expect(roughnessOf(spiked)).toBeCloseTo(0.4, 9)
    expect(roughnessOf(smoothTable3d(spiked, 0.1))).toBeLessThanOrEqual(0.1)
    const clipped = tabulate3d(9, (rgb) => rgb.map((v) => Math.min(0.5, v)) as unknown as Triple)
    expect(roughnessOf(clipped)).toBeCloseTo(0.5 / 8, 12)
    expect(smoothTable3d(clipped, 1.5 / 8).values).toEqual(clipped.values)
  })

  test.each([8, 10, 12, 16])('rounded to %s bits', (bits) => {
    const table = quantizeTable3d(tabulate3d(5, some), bits)
    table.values.forEach((v) => expect(Number.isInteger(Math.round(v * (2 ** bits - 1) * 1e6) / 1e6)).toBe(true))
  })
})

test('limited range puts black and white where video has them', () => {
  // ITU-R BT.709-6: 16 and 235 of 8 bits, 64 and 940 of 10.
  expect(rangeEnds('limited', 8)).toEqual({ black: 16 / 255, white: 235 / 255 })
  expect(rangeEnds('limited', 10)).toEqual({ black: 64 / 1023, white: 940 / 1023 })
  for (const v of [-0.05, 0, 0.3, 1, 1.08])
    expect(signalOfCode(codeOfSignal(v, 'limited', 12), 'limited', 12)).toBeCloseTo(v, 12)
})

const panel = testPanel({ coupling: 0.04 })
const c = characterize(readingsOf(panel, 200))
const aim = (over: Partial<Aim> = {}): Aim => ({
  white: { kind: 'standard', name: 'D65' },
  luminance: 110,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
  ...over,
})

describe('built for an aim', () => {
  test.each([
    ['power 2.2, full range', aim(), 'full'],
    ['BT.1886, limited range', aim({ toneResponse: { kind: 'BT.1886' } }), 'limited'],
    [
      'L*, D50, Display P3',
      aim({
        toneResponse: { kind: 'L*' },
        white: { kind: 'standard', name: 'D50' },
        primaries: { kind: 'standard', name: 'Display P3' },
        luminance: 80,
      }),
      'full',
    ],
  ] as const)(
    '%s: colours within reach come to the aim, average within 0.25, worst within 1 @long',
    (name, wanted, range) => {
      const fitted = fitAim(wanted, c)
      expect(fitted.aim.white[1]).toBe(wanted.luminance)
      const table = quantizeTable3d(buildTable3d(c, fitted.aim, { size: 33, range, bits: 10 }), 12)
      const errors: number[] = []
      for (let i = 0; i < 500; i++) {
        const signal = some()
        const target = targetXyz(fitted.aim, signal)
        if (invertXyz(c, target).left > 0.3) continue
        const code = signal.map((v) => codeOfSignal(v, range, 10)) as unknown as Triple
        const out = applyTetrahedral(table, code).map((v) => signalOfCode(v, range, 10)) as unknown as Triple
        const white = fitted.aim.white
        errors.push(deltaE2000(convertXyzToLab(target, white), convertXyzToLab(panel(out), white)))
      }
      const average = errors.reduce((a, b) => a + b, 0) / errors.length
      told(`33-node table, ${name}, worst ΔE2000 of ${errors.length} colours within reach`, Math.max(...errors))
      told('the same, average ΔE2000', average)
      expect(average).toBeLessThan(0.25)
      expect(Math.max(...errors)).toBeLessThan(1)
      expect(roughnessOf(table)).toBeLessThanOrEqual(1.5 / 32)
      let last: Triple = [-1, -1, -1]
      for (let i = 0; i <= 1023; i++) {
        const grey = applyTetrahedral(table, [i / 1023, i / 1023, i / 1023])
        grey.forEach((v, k) => expect(v).toBeGreaterThanOrEqual(last[k]))
        last = grey
      }
    },
  )

  test('both promises hold for noisy readings and an aim far out of reach @long', () => {
    const noisy = readingsOf(panel, 200).map((r) => ({
      ...r,
      xyz: r.xyz.map((v) => v * (1 + 0.04 * (uniform() - 0.5))) as unknown as Triple,
    }))
    const rough = characterize(noisy)
    const wide = fitAim(aim({ primaries: { kind: 'standard', name: 'BT.2020' } }), rough).aim
    const table = buildTable3d(rough, wide, { size: 17 })
    expect(roughnessOf(table)).toBeLessThanOrEqual((1.5 / 16) * (1 + 1e-6))
    let last: Triple = [-1, -1, -1]
    for (let i = 0; i <= 500; i++) {
      const grey = applyTetrahedral(table, [i / 500, i / 500, i / 500])
      grey.forEach((v, k) => expect(v).toBeGreaterThanOrEqual(last[k]))
      last = grey
    }
  })

  test('a luminance out of reach becomes the largest within it, and is told', () => {
    const { aim: fitted, reachable } = fitAim(aim({ luminance: 500 }), c)
    expect(reachable).toBeLessThan(panel([1, 1, 1])[1])
    expect(fitted.white[1]).toBeCloseTo(0.999 * reachable, 6)
    expect(invertXyz(c, fitted.white).left).toBeLessThan(0.5)
  })

  test('sizes beyond 9–65 are refused', () => {
    expect(() => buildTable3d(c, fitAim(aim(), c).aim, { size: 8 })).toThrow('9 to 65')
  })
})
