import { resolveAim } from '../aims/aim'
import { compareSolids, volumeOf } from './gamutSolid'
import { solidOfEncoding } from './gamutOf'
import { isOutside, surfaceOfAim, surfaceOfEncoding, trianglesOutside } from './gamutSurface'

const [srgb, p3] = [surfaceOfEncoding('sRGB'), surfaceOfEncoding('Display P3')]

test('the surface encloses the volume that the same gamut has elsewhere', () => {
  expect(volumeOf(srgb.solid) / volumeOf(solidOfEncoding('sRGB'))).toBeCloseTo(1, 2)
  const aim = resolveAim(
    {
      white: { kind: 'standard', name: 'D65' },
      luminance: 200,
      toneResponse: { kind: 'power', exponent: 2.2 },
      primaries: { kind: 'standard', name: 'sRGB' },
    },
    { white: { x: 0.3, y: 0.3 }, primaries: null as never, black: [0, 0, 0] },
  )
  expect(volumeOf(surfaceOfAim(aim).solid) / volumeOf(srgb.solid)).toBeCloseTo(1, 3)
})

test('nothing of a gamut lies outside itself or a larger one; of the larger one much does, and only there', () => {
  expect(trianglesOutside(srgb, srgb.solid)).toHaveLength(0)
  expect(trianglesOutside(srgb, p3.solid).length / srgb.corners.length).toBeLessThan(0.01)
  const out = trianglesOutside(p3, srgb.solid)
  expect(out.length / p3.corners.length).toBeGreaterThan(0.3)
  let inside = 0
  for (let t = 0; t < out.length; t += 9) {
    const corners = [0, 3, 6].map((k) => [out[t + k], out[t + k + 1], out[t + k + 2]] as const)
    if (!corners.some((c) => isOutside(srgb.solid, c))) inside++
  }
  expect(inside).toBe(0)
})

test('coverage is never above 100 %, however large the gamut', () => {
  expect(compareSolids(p3.solid, srgb.solid).coverage).toBeLessThanOrEqual(100)
  expect(compareSolids(p3.solid, srgb.solid).volumeRatio).toBeGreaterThan(120)
})

test('screen colours lie within the screen, white where white is', () => {
  let white = 0
  expect(srgb.colors.every((v) => v >= 0 && v <= 1)).toBe(true)
  for (let i = 0; i < srgb.corners.length; i += 3) {
    if (srgb.corners[i] > 99.9 && [0, 1, 2].every((k) => srgb.colors[i + k] > 0.99)) white++
  }
  expect(white).toBeGreaterThan(0)
})
