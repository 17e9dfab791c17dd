import { provePatches } from '../runs/patches'
import type { XYZ } from '../color/chromaticity'
import { standardPrimaries } from '../color/encodings'
import type { PatchReading } from '../color/patchReading'
import { Color } from '../test/colorjs'
import { aimTargets, resolveAim, type Aim } from './aim'
import { differenceFigures } from './differenceFigures'
import { computeMetrics } from './metrics'

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const panel = { white: { x: 0.31, y: 0.33 }, primaries: standardPrimaries.sRGB, black: [0.11, 0.12, 0.16] as const }
const resolved = resolveAim(aim, panel)
const target = aimTargets(resolved)
const reading = (name: string, level: number, xyz: XYZ = target([level, level, level])): PatchReading => ({
  name,
  rgb: [level, level, level],
  xyz,
})
const [white, black] = [reading('White', 1), reading('Black', 0)]

describe('readings that nothing can be judged by', () => {
  const none = 'The white that was read has no light, so nothing can be judged against it.'
  test.each<[string, XYZ]>([
    ['no light at all', [0, 0, 0]],
    ['no light of one kind', [0, 120, 130]],
    ['less than none', [110, -1, 130]],
    ['no number', [110, NaN, 130]],
  ])('a white with %s', (_, xyz) => {
    expect(() => computeMetrics([reading('White', 1, xyz), black], resolved)).toThrow(new RangeError(none))
  })

  test('a white as dark as the black', () => {
    const dim = 'The white that was read is no brighter than the black, so nothing can be judged against it.'
    expect(() => computeMetrics([white, reading('Black', 0, [120, 120, 120])], resolved)).toThrow(new RangeError(dim))
    expect(() => computeMetrics([white, reading('Black', 0, [120, 121, 120])], resolved)).toThrow(dim)
    expect(computeMetrics([white, reading('Black', 0, [1, 119.9, 1])], resolved).black).toBe(119.9)
  })

  test('no white', () => {
    const sentence = 'The readings hold no white, so nothing can be judged against it.'
    expect(() => computeMetrics([black, reading('Grey', 0.99)], resolved)).toThrow(new RangeError(sentence))
  })
})

test('where no black was read the aim’s is taken', () => {
  expect(computeMetrics([white], resolved)).toMatchObject({ black: resolved.black[1], greys: [], worstTone: null })
})

test('of patches equally far off the first is named, of greys the darkest', () => {
  const twice = (name: string, level: number) => {
    const xyz = target([level, level, level])
    return reading(name, level, [xyz[0], xyz[1], xyz[2] * 1.1])
  }
  const m = computeMetrics([white, twice('Once', 0.4), twice('Again', 0.4), black], resolved)
  expect(m.worstPatch).toBe('Once')
  expect(differenceFigures(m, 'de2000').worst.patch).toBe('Once')
  expect(differenceFigures(m, 'de76').worst.patch).toBe('Once')
})

describe('greys', () => {
  const levels = [0.95, 0.9, 0.5, 0.1, 0.05]
  const m = computeMetrics(
    [
      white,
      ...levels.map((level) => reading(`Grey ${level}`, level)),
      black,
      { ...white, name: 'Red', rgb: [1, 0.5, 0.5] },
    ],
    resolved,
  )

  test('stand in the order of their levels, without black, white and colours', () => {
    expect(m.greys.map((g) => g.level)).toEqual([0.05, 0.1, 0.5, 0.9, 0.95])
  })

  test('tell their exponent by the light above black: ln of light by ln of signal', () => {
    for (const g of m.greys) {
      const light = (target([g.level, g.level, g.level])[1] - 0.12) / (120 - 0.12)
      expect(g.light).toBeCloseTo(light, 12)
      expect(g.targetLight).toBeCloseTo(g.level ** 2.2, 12)
      expect([g.exponent, g.targetExponent]).toEqual([expect.closeTo(2.2, 9), expect.closeTo(2.2, 9)])
    }
  })

  test('average their exponents from 10 % to 90 %, ends included', () => {
    const own = { 0.05: 3, 0.1: 1.8, 0.5: 2, 0.9: 2.5, 0.95: 1 } as const
    const read = Object.entries(own).map(([level, exponent]) => {
      const y = 0.12 + (120 - 0.12) * Number(level) ** exponent
      return reading(`Grey ${level}`, Number(level), [0.95 * y, y, 1.09 * y])
    })
    const figures = computeMetrics([white, ...read, black], resolved)
    expect(figures.greys.map((g) => g.exponent)).toEqual(
      Object.values({ a: 3, b: 1.8, c: 2, d: 2.5, e: 1 }).map((v) => expect.closeTo(v, 9)),
    )
    expect(figures.averageExponent).toBeCloseTo((1.8 + 2 + 2.5) / 3, 9)
    expect(figures.aimAverageExponent).toBeCloseTo(2.2, 9)
    expect(computeMetrics([white, read[0], black], resolved).averageExponent).toBe(0)
  })

  test('tell Δu′v′ of their light above black, none where there is none', () => {
    const [x, y, z] = target([0.5, 0.5, 0.5])
    const deltaOf = (xyz: XYZ) => computeMetrics([white, reading('Grey', 0.5, xyz), black], resolved).greys[0].deltaUv
    // White less black has not quite the aim’s white.
    expect(deltaOf([x, y, z])).toBeCloseTo(0, 4)
    const tinted: XYZ = [x - 0.11, y - 0.12, (z - 0.16) * 1.2]
    const sum = tinted[0] + 15 * tinted[1] + 3 * tinted[2]
    const expected = Math.hypot((4 * tinted[0]) / sum - 0.19783, (9 * tinted[1]) / sum - 0.46832)
    expect(deltaOf([x, y, 0.16 + (z - 0.16) * 1.2])).toBeCloseTo(expected, 4)
    // As dark as the black, or darker, in luminance or in X.
    expect(deltaOf([x, 0.12, z])).toBe(0)
    expect(deltaOf([0.11, y, z])).toBe(0)
    expect(deltaOf([0.05, 0.06, z])).toBe(0)
    expect(deltaOf([x, 0.1, 0.1])).toBe(0)
  })

  test('as dark as the black have an exponent all the same', () => {
    const { greys } = computeMetrics([white, reading('Grey', 0.5, black.xyz), black], resolved)
    expect(greys[0].light).toBe(1e-6)
    expect(greys[0].exponent).toBeCloseTo(Math.log(1e-6) / Math.log(0.5), 9)
  })

  test('differ in chroma by CIELAB as another library has it', () => {
    const [x, y, z] = target([0.5, 0.5, 0.5])
    const tinted = computeMetrics([white, reading('Grey', 0.5, [x * 1.02, y, z * 0.95]), black], resolved)
    const lab = (xyz: XYZ) => {
      const scaled = xyz.map((v, k) => (v / white.xyz[k]) * Color.WHITES.D65[k])
      return new Color('xyz-d65', scaled).to('lab-d65').coords
    }
    const [a, b] = [lab([x, y, z]), lab([x * 1.02, y, z * 0.95])]
    expect(tinted.averageGreyChroma).toBeCloseTo(Math.hypot(a[1] - b[1], a[2] - b[2]), 4)
    expect(tinted.worstGreyChroma).toEqual({ level: 0.5, value: tinted.averageGreyChroma })
  })
})

describe('primaries', () => {
  const full = (name: string, rgb: readonly [number, number, number], xyz = target(rgb)): PatchReading => ({
    name,
    rgb,
    xyz,
  })
  const three = [full('Red', [1, 0, 0]), full('Green', [0, 1, 0]), full('Blue', [0, 0, 1])]

  test('are those of the light above black', () => {
    const { primaries, gamut } = computeMetrics([white, black, ...three], resolved)
    for (const [name, { x, y }] of Object.entries(standardPrimaries.sRGB))
      expect(primaries![name as 'red']).toEqual({ x: expect.closeTo(x, 9), y: expect.closeTo(y, 9) })
    expect(gamut!.uv.coverage).toBeCloseTo(100, 6)
  })

  test.each([0, 1, 2])('are none where one of them was not read, or gives no light: %p', (missing) => {
    const without = three.filter((_, i) => i !== missing)
    expect(computeMetrics([white, black, ...without], resolved)).toMatchObject({ primaries: null, gamut: null })
    const dark = three.map((p, i) => (i === missing ? { ...p, xyz: black.xyz } : p))
    expect(computeMetrics([white, black, ...dark], resolved).primaries).toBeNull()
    // Less than the black of a noisy reading, with a luminance or without.
    const noisy = three.map((p, i) => (i === missing ? { ...p, xyz: [0.01, 0.13, 0.02] as const } : p))
    expect(computeMetrics([white, black, ...noisy], resolved).primaries).toBeNull()
  })

  test('alone are looked at where a rule limits them, and white where one limits white', () => {
    const off = (p: PatchReading): PatchReading => ({ ...p, xyz: [p.xyz[0] * 1.1, p.xyz[1], p.xyz[2]] })
    const yellow = off(full('Yellow', [1, 1, 0]))
    const half = { ...off(full('Half', [1, 0, 0])), rgb: [0.5, 0.5, 0] as const }
    const m = computeMetrics([yellow, half, white, ...three.map((p, i) => (i === 1 ? off(p) : p)), black], resolved)
    for (const formula of ['de2000', 'de94', 'de76', 'deitp'] as const) {
      const figures = differenceFigures(m, formula)
      expect(figures.worstPrimary!.patch).toBe('Green')
      expect(figures.white).toBeCloseTo(0, 9)
    }
    const others = computeMetrics([white, yellow, half, black], resolved)
    expect(differenceFigures(others, 'de2000').worstPrimary).toBeNull()
  })
})

test('difference figures are reckoned once for each formula, and are each formula’s own', () => {
  const m = computeMetrics(
    provePatches.map(({ name, rgb }) => ({
      name,
      rgb,
      xyz: target(rgb).map((v, k) => v * [1.03, 1, 0.97][k]) as never,
    })),
    resolved,
  )
  const first = differenceFigures(m, 'de2000')
  expect(differenceFigures(m, 'de2000')).toBe(first)
  const averages = (['de2000', 'de94', 'de76', 'deitp'] as const).map((f) => differenceFigures(m, f).average)
  expect(new Set(averages).size).toBe(4)
  expect(first.average).toBeCloseTo(m.averageDeltaE, 12)
})

test('temperatures are told where they mean something, and left out where they are not asked for', () => {
  const m = computeMetrics([white, black], resolved)
  expect(Math.abs(m.whiteTemperature! - 6504)).toBeLessThan(7)
  expect(computeMetrics([white, black], resolved, { temperatures: false })).toMatchObject({
    whiteTemperature: null,
    aimWhiteTemperature: null,
  })
  const green = computeMetrics([reading('White', 1, [30, 120, 20]), black], resolved)
  expect(green.whiteTemperature).toBeNull()
})
