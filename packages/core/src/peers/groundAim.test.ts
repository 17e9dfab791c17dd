import { standardPrimaries, standardWhites } from '../color/encodings'
import { resolveAim } from '../aims/aim'
import { convertChromaticityToXyz } from '../color/chromaticity'
import { aimOfGround, howGroundMoved, roundedBlack, roundedLight } from './groundAim'
import type { CommonGround } from './commonGround'

const ground: CommonGround = {
  luminance: 163.7,
  primaries: standardPrimaries['Display P3'],
  standard: 'Display P3',
  black: 0.1834,
  members: [],
}
const asked = { white: { kind: 'standard', name: 'D65' }, toneResponse: { kind: 'power', exponent: 2.2 } } as const

test('an aim is never brighter than the ground, nor its black darker', () => {
  for (const light of [0.37, 5.29, 19.96, 20, 163.7, 999.999]) {
    expect(roundedLight(light)).toBeLessThanOrEqual(light)
    expect(roundedLight(light)).toBeGreaterThan(light < 20 ? light - 0.1001 : light - 1)
  }
  for (const black of [0.00012345, 0.0203, 0.1834, 0.5, 1.21, 12.01]) {
    expect(roundedBlack(black)).toBeGreaterThanOrEqual(black)
    expect(roundedBlack(black)).toBeLessThanOrEqual(black * 1.1)
  }
  expect(roundedBlack(0)).toBe(0)
})

test('the aim of a ground is one that a display can resolve, with its light, its gamut, and black where all are lifted', () => {
  const panel = {
    white: standardWhites.D65,
    primaries: standardPrimaries['BT.2020'],
    black: convertChromaticityToXyz(standardWhites.D65, 0.05),
  }
  const own = resolveAim(aimOfGround({ ...ground, black: null }, asked), panel)
  expect(own.white[1]).toBeCloseTo(163, 6)
  expect(own.black[1]).toBeCloseTo(0.05, 6)
  const lifted = resolveAim(aimOfGround(ground, asked), panel)
  expect(lifted.black[1]).toBeCloseTo(0.19, 6)
  const shared = { red: { x: 0.641234567, y: 0.33 }, green: { x: 0.3, y: 0.6 }, blue: { x: 0.15, y: 0.06 } }
  const { primaries } = aimOfGround({ ...ground, standard: null, primaries: shared, black: null }, asked)
  expect(primaries).toEqual({ kind: 'xy', ...shared, red: { x: 0.64123, y: 0.33 } })
})

test('how a ground has moved: less at once, more when it is worth it', () => {
  const moved = (change: Partial<CommonGround>, black: number | null = 0.1834) =>
    howGroundMoved({ ...ground, black }, { ...ground, ...change })
  expect(moved({})).toEqual([])
  expect(moved({ luminance: 162.5 })).toEqual([])
  expect(moved({ luminance: 160 })).toEqual(['less light'])
  expect(moved({ luminance: 170 })).toEqual([])
  expect(moved({ luminance: 180 })).toEqual(['more light'])
  expect(moved({ primaries: standardPrimaries.sRGB, standard: null })).toEqual(['less gamut'])
  expect(moved({ primaries: standardPrimaries['BT.2020'], standard: null })).toEqual(['more gamut'])
  expect(moved({ black: 0.25 })).toEqual(['more black'])
  // Where each keeps its own, nobody is lifted.
  expect(moved({ black: 0.25 }, null)).toEqual([])
  expect(howGroundMoved(ground, null)).toEqual(['none'])
})
