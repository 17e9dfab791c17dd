import { convertChromaticityToXyz, convertXyzToChromaticity, convertXyzToUv } from '../color/chromaticity'
import { standardPrimaries } from '../color/encodings'
import type { Triple } from '../color/matrix3'
import {
  aimAtLuminance,
  aimCurve,
  aimTargets,
  movedWhite,
  resolveAim,
  targetXyz,
  whiteChromaticity,
  type Aim,
} from './aim'

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const panel = {
  white: { x: 0.305, y: 0.32 },
  primaries: standardPrimaries['Display P3'],
  black: [0.11, 0.12, 0.16] as const,
}

describe('the white that an aim asks for', () => {
  const of = (white: Aim['white']) => whiteChromaticity(white, panel.white)

  test('is a standard’s, the one given, a temperature’s, or the panel’s', () => {
    // CIE 15:2018 table T.3; daylight of 6504 K is D65.
    expect(of({ kind: 'standard', name: 'D65' })).toEqual({ x: expect.closeTo(0.3127, 4), y: expect.closeTo(0.329, 4) })
    expect(of({ kind: 'xy', x: 0.31, y: 0.317 })).toEqual({ x: 0.31, y: 0.317 })
    expect(of({ kind: 'temperature', kelvin: 6504 }).x).toBeCloseTo(0.3127, 3)
    expect(of({ kind: 'temperature', kelvin: 5003 }).x).toBeCloseTo(0.3457, 3)
    expect(of({ kind: 'panel' })).toBe(panel.white)
  })

  test('by eye is another, moved in u′v′ by just so much', () => {
    const by = { u: 0.0031, v: -0.0017 }
    const moved = of({ kind: 'by eye', of: { kind: 'standard', name: 'D65' }, ...by })
    const [from, to] = [of({ kind: 'standard', name: 'D65' }), moved].map((c) =>
      convertXyzToUv(convertChromaticityToXyz(c)),
    )
    expect([to.u - from.u, to.v - from.v]).toEqual([expect.closeTo(by.u, 9), expect.closeTo(by.v, 9)])
    expect(movedWhite(movedWhite(panel.white, by), { u: -by.u, v: -by.v }).x).toBeCloseTo(panel.white.x, 12)
  })
})

test('primaries given by hand are taken as they are, without what else they carry', () => {
  const { red, green, blue } = standardPrimaries['Display P3']
  const resolved = resolveAim({ ...aim, primaries: { kind: 'xy', red, green, blue } }, panel)
  expect(resolved.primaries).toEqual({ red, green, blue })
  expect(
    convertXyzToChromaticity(
      targetXyz(
        resolveAim({ ...aim, primaries: { kind: 'xy', red, green, blue } }, { ...panel, black: [0, 0, 0] }),
        [1, 0, 0],
      ),
    ).x,
  ).toBeCloseTo(red.x, 9)
  expect(resolveAim({ ...aim, primaries: { kind: 'panel' } }, panel).primaries).toEqual(panel.primaries)
  expect(resolveAim(aim, panel).primaries).not.toEqual(panel.primaries)
})

test('at another luminance white keeps its colour; the panel’s black is taken, one that was asked for stays', () => {
  const plain = aimAtLuminance(resolveAim(aim, panel), 90, [0.2, 0.21, 0.3])
  expect(plain.white[1]).toBeCloseTo(90, 12)
  expect(convertXyzToChromaticity(plain.white).x).toBeCloseTo(0.3127, 4)
  expect(plain.black).toEqual([0.2, 0.21, 0.3])
  expect(plain).not.toHaveProperty('blackRule')
  const fixed = resolveAim({ ...aim, black: { kind: 'fixed', luminance: 0.5 } }, panel)
  const darker = aimAtLuminance(fixed, 90, [0.2, 0.21, 0.3])
  expect(darker.black).toEqual(fixed.black)
  expect(darker.blackRule).toEqual({ kind: 'fixed', luminance: 0.5 })
  expect(targetXyz(darker, [0, 0, 0])[1]).toBeCloseTo(0.5, 9)
})

test('BT.1886 has the light above black that its black asks for: ITU-R BT.1886 annex 1', () => {
  const resolved = resolveAim(
    { ...aim, luminance: 100, toneResponse: { kind: 'BT.1886' } },
    { ...panel, black: [0.1, 0.1, 0.1] },
  )
  const [Lw, Lb] = [100, 0.1]
  const a = (Lw ** (1 / 2.4) - Lb ** (1 / 2.4)) ** 2.4
  const b = Lb ** (1 / 2.4) / (Lw ** (1 / 2.4) - Lb ** (1 / 2.4))
  for (const V of [0.05, 0.2, 0.5, 0.9]) {
    const L = a * Math.max(V + b, 0) ** 2.4
    expect(aimTargets(resolved)([V, V, V])[1]).toBeCloseTo(L, 6)
    expect(aimCurve(resolved).decode(V)).toBeCloseTo((L - Lb) / (Lw - Lb), 6)
  }
})

test('HLG lifts a colour’s light as a whole, above its black: ITU-R BT.2100-2 table 5', () => {
  const black: Triple = [0.19, 0.2, 0.21]
  const resolved = resolveAim({ ...aim, luminance: 1000, toneResponse: { kind: 'HLG' } }, { ...panel, black })
  expect(targetXyz(resolved, [0, 0, 0])).toEqual(black.map((v) => expect.closeTo(v, 12)))
  expect(targetXyz(resolved, [1, 1, 1])[1]).toBeCloseTo(1000, 6)
  // Luminance of full red above black: its share of white’s to the power of γ = 1.2.
  const share = resolved.matrix[1][0] / (1000 - 0.2)
  expect(targetXyz(resolved, [1, 0, 0])[1] - 0.2).toBeCloseTo((1000 - 0.2) * share ** 1.2, 6)
  for (const signal of [
    [0.3, 0.7, 0.1],
    [0.001, 0, 0],
  ] as const)
    for (const v of targetXyz(resolved, signal)) expect(Number.isFinite(v)).toBe(true)
})
