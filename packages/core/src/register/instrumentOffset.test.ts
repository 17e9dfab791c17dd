import { convertChromaticityToXyz, convertXyzToUv, standardWhites, type XYZ } from '../color'
import { withoutOffset } from './instrumentOffset'

test('a white that an instrument reads brighter and redder is what it is once that is taken out', () => {
  const truth = convertChromaticityToXyz(standardWhites.D65, 120)
  const own = convertXyzToUv(truth)
  const offset = { luminance: 0.012, u: 0.0012, v: -0.0007 }
  const [u, v] = [own.u + offset.u, own.v + offset.v]
  // u′ = 4X ÷ (X + 15Y + 3Z), v′ = 9Y ÷ (X + 15Y + 3Z), solved for X and Z at the Y that was read.
  const y = 120 * 1.012
  const read: XYZ = [(9 * y * u) / (4 * v), y, (y * (12 - 3 * u - 20 * v)) / (4 * v)]
  withoutOffset(offset)(read).forEach((c, k) => expect(c).toBeCloseTo(truth[k], 9))
})

test('nothing is taken out of an instrument that reads like the others, and black stays black', () => {
  const same = withoutOffset({ luminance: 0, u: 0, v: 0 })
  same([3, 4, 5]).forEach((c, k) => expect(c).toBeCloseTo([3, 4, 5][k], 12))
  expect(withoutOffset({ luminance: 0.1, u: 0.01, v: 0.01 })([0, 0, 0])).toEqual([0, 0, 0])
})

test.each([2700, 4000, 9300])('other whites come near to what they are: %d K', (kelvin) => {
  // A grating that is off does much the same to all whites: a share of X and of Z.
  const white =
    kelvin === 2700 ? { x: 0.46, y: 0.41 } : kelvin === 4000 ? { x: 0.38, y: 0.377 } : { x: 0.283, y: 0.297 }
  const truth = convertChromaticityToXyz(white, 80)
  const read: XYZ = [1.004 * truth[0], 1.006 * truth[1], 0.995 * truth[2]]
  const d65 = convertChromaticityToXyz(standardWhites.D65, 1)
  const [a, b] = [convertXyzToUv(d65), convertXyzToUv([1.004 * d65[0], 1.006 * d65[1], 0.995 * d65[2]])]
  const back = withoutOffset({ luminance: 0.006, u: b.u - a.u, v: b.v - a.v })(read)
  back.forEach((c, k) => expect(c / truth[k]).toBeCloseTo(1, 9))
})
