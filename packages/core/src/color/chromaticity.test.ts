import { converter } from 'culori'
import { uniformFrom } from '../basics/random'
import {
  convertChromaticityToUv,
  convertChromaticityToXyz,
  convertUvToChromaticity,
  convertXyzToChromaticity,
  convertXyzToUv,
  deltaUv,
} from './chromaticity'
import { standardWhites } from './encodings'
import { told } from '../test/told'

const uniform = uniformFrom(1)
const cases = Array.from({ length: 200 }, () => [uniform() * 2, 0.01 + uniform() * 2, uniform() * 2] as const)

test('xy and u′v′ come back from XYZ and from each other', () => {
  let most = 0
  for (const xyz of cases) {
    const c = convertXyzToChromaticity(xyz)
    const back = convertChromaticityToXyz(c, xyz[1])
    const round = convertUvToChromaticity(convertChromaticityToUv(c))
    most = Math.max(most, ...back.map((v, i) => Math.abs(v - xyz[i])), Math.abs(round.x - c.x), Math.abs(round.y - c.y))
    expect(deltaUv(convertXyzToUv(xyz), convertChromaticityToUv(c))).toBeLessThan(1e-12)
  }
  told('XYZ → xy → u′v′ and back', most)
  expect(most).toBeLessThan(1e-9)
})

test('D65 has the u′v′ that CIE 15 prints, 0.1978 and 0.4683', () => {
  const { u, v } = convertChromaticityToUv(standardWhites.D65)
  const off = Math.max(Math.abs(u - 0.1978), Math.abs(v - 0.4683))
  told('u′v′ of D65 against CIE 15’s four digits', off)
  expect(off).toBeLessThan(0.5e-4)
})

test('u′v′ of sRGB colours agrees with culori’s CIELUV about its white', () => {
  const toLuv = converter('luv')
  const luv = toLuv({ mode: 'xyz50', x: 0.2, y: 0.3, z: 0.4 })!
  const white = convertXyzToUv([0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585])
  const { u, v } = convertXyzToUv([0.2, 0.3, 0.4])
  expect(luv.u!).toBeCloseTo(13 * luv.l! * (u - white.u), 6)
  expect(luv.v!).toBeCloseTo(13 * luv.l! * (v - white.v), 6)
})

test('no light, no chromaticity', () => {
  expect(() => convertXyzToChromaticity([0, 0, 0])).toThrow('no chromaticity')
  expect(() => convertXyzToUv([0, 0, 0])).toThrow('no chromaticity')
  expect(() => convertChromaticityToXyz({ x: 0.3, y: 0 })).toThrow('above 0')
})
