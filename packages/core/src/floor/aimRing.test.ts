import { convertChromaticityToUv, deltaUv } from '../color/chromaticity'
import { standardWhites } from '../color/encodings'
import { aimRingFactor, cssOfWhite, enlargedWhite } from './aimRing'

const rgbOf = (css: string) => css.match(/\d+/g)!.map(Number)

test('D65 is drawn neutral, D50 warm, D93 cool', () => {
  const [r, g, b] = rgbOf(cssOfWhite(standardWhites.D65))
  expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThanOrEqual(1)
  const warm = rgbOf(cssOfWhite(standardWhites.D50))
  expect(warm[0]).toBeGreaterThan(warm[2] + 20)
  const cool = rgbOf(cssOfWhite(standardWhites.D93))
  expect(cool[2]).toBeGreaterThan(cool[0] + 20)
})

test('a difference is drawn as many times as large as is stated, in its direction', () => {
  const aim = standardWhites.D65
  const measured = { x: aim.x + 0.001, y: aim.y + 0.0005 }
  const from = convertChromaticityToUv(aim)
  const drawn = convertChromaticityToUv(enlargedWhite(aim, measured))
  const real = convertChromaticityToUv(measured)
  expect(deltaUv(drawn, from) / deltaUv(real, from)).toBeCloseTo(aimRingFactor, 9)
  expect((drawn.u - from.u) / (drawn.v - from.v)).toBeCloseTo((real.u - from.u) / (real.v - from.v), 9)
  expect(enlargedWhite(aim, aim).x).toBeCloseTo(aim.x, 12)
})

test('a white far off keeps its direction and stays a colour', () => {
  const drawn = enlargedWhite(standardWhites.D65, { x: 0.5, y: 0.4 })
  expect(rgbOf(cssOfWhite(drawn)).every((v) => v >= 0 && v <= 255)).toBe(true)
})
