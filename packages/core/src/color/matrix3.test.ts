import { uniformFrom } from '../basics/random'
import { identity3, invert, multiply, multiplyVector, type Matrix3, type Triple } from './matrix3'
import { bradfordMatrix } from './adaptation'
import { matrixOfPrimaries, pcsWhite, standardPrimaries, standardWhites } from './encodings'
import { convertChromaticityToXyz } from './chromaticity'
import { told } from '../test/told'

const uniform = uniformFrom(4)
const triple = (): Triple => [uniform() - 0.5, uniform() - 0.5, uniform() - 0.5]

test('a matrix times its inverse is the identity', () => {
  for (let i = 0; i < 100; i++) {
    const m = [triple(), triple(), triple()] as const
    multiply(m, invert(m)).forEach((row, r) => row.forEach((v, c) => expect(v).toBeCloseTo(identity3[r][c], 8)))
  }
  const flat: Matrix3 = [
    [1, 2, 3],
    [2, 4, 6],
    [0, 1, 0],
  ]
  expect(() => invert(flat)).toThrow('singular')
})

test('sRGB’s matrix is the one that IEC 61966-2-1 prints', () => {
  const m = matrixOfPrimaries(standardPrimaries.sRGB, convertChromaticityToXyz(standardWhites.D65))
  const printed = [
    [0.4124, 0.3576, 0.1805],
    [0.2126, 0.7152, 0.0722],
    [0.0193, 0.1192, 0.9505],
  ]
  const off = Math.max(...m.flatMap((row, r) => row.map((v, c) => Math.abs(v - printed[r][c]))))
  told('matrix of sRGB against IEC 61966-2-1’s four digits', off)
  expect(off).toBeLessThan(1.1e-4)
})

test('primaries on one line make no matrix', () => {
  const p = { x: 0.3, y: 0.3 }
  expect(() => matrixOfPrimaries({ red: p, green: p, blue: { x: 0.4, y: 0.4 } }, [0.95, 1, 1.09])).toThrow('singular')
})

test('Bradford from D65 to D50 is the matrix that ICC users know, and takes the white to the white', () => {
  const d65 = convertChromaticityToXyz(standardWhites.D65)
  const m = bradfordMatrix(d65, pcsWhite)
  // B. Lindbloom’s printed matrix D65 → D50, to four digits.
  const printed = [
    [1.0478, 0.0229, -0.0501],
    [0.0296, 0.9905, -0.0171],
    [-0.0092, 0.0151, 0.7519],
  ]
  const off = Math.max(...m.flatMap((row, r) => row.map((v, c) => Math.abs(v - printed[r][c]))))
  told('Bradford D65 → D50 against the printed four digits', off)
  expect(off).toBeLessThan(5e-4)
  multiplyVector(m, d65).forEach((v, k) => expect(v).toBeCloseTo(pcsWhite[k], 12))
})
