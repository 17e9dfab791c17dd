import { convertXyzToChromaticity } from './chromaticity'
import { standardWhites } from './encodings'
import { convertSpectrumToXyz, observer1931, wavelengths } from './observer'
import {
  blackbodyChromaticity,
  correlatedColorTemperature,
  daylightChromaticity,
  isRealChromaticity,
  spectralLocus,
  whiteOfTemperature,
} from './temperature'

describe('correlated colour temperature', () => {
  // CIE 15:2018 tables T.3 and T.8: illuminants with their temperatures.
  test.each([
    ['A', { x: 0.44758, y: 0.40745 }, 2856],
    ['D50', { x: 0.34567, y: 0.3585 }, 5003],
    ['D55', { x: 0.33243, y: 0.34744 }, 5503],
    ['D65', { x: 0.31272, y: 0.32903 }, 6504],
    ['D75', { x: 0.29903, y: 0.31488 }, 7504],
  ])('%s is within 0.1 %% of what CIE prints', (_, chromaticity, kelvin) => {
    const { cct } = correlatedColorTemperature(chromaticity)!
    expect(Math.abs(cct - kelvin) / kelvin).toBeLessThan(0.001)
  })

  test('blackbodies have no Duv, daylight lies about 0.003 above them', () => {
    for (const kelvin of [2000, 2856, 4000, 6500, 10000]) {
      const found = correlatedColorTemperature(blackbodyChromaticity(kelvin))!
      expect(Math.abs(found.cct - kelvin) / kelvin).toBeLessThan(0.002)
      expect(Math.abs(found.duv)).toBeLessThan(2e-4)
    }
    expect(correlatedColorTemperature(standardWhites.D65)!.duv).toBeCloseTo(0.0032, 3)
  })

  test('says nothing where a temperature means nothing', () => {
    expect(correlatedColorTemperature({ x: 0.15, y: 0.06 })).toBeNull()
    expect(correlatedColorTemperature({ x: 0.3, y: 0.6 })).toBeNull()
  })
})

test('CIE daylight at 6504 K is D65', () => {
  const { x, y } = daylightChromaticity(6504)
  expect(x).toBeCloseTo(0.3127, 4)
  expect(y).toBeCloseTo(0.3291, 4)
})

test('whites by temperature stay inside what is defined', () => {
  expect(() => daylightChromaticity(3000)).toThrow('4,000')
  expect(() => whiteOfTemperature(1000)).toThrow('2,000')
  expect(whiteOfTemperature(3000)).toEqual(blackbodyChromaticity(3000))
})

describe('the observer', () => {
  test('equal energy is white at one third each, to the precision of the table', () => {
    const { x, y } = convertXyzToChromaticity(convertSpectrumToXyz(wavelengths.map(() => 1)))
    expect(x).toBeCloseTo(1 / 3, 3)
    expect(y).toBeCloseTo(1 / 3, 3)
  })

  test('light adds: the XYZ of a sum is the sum of the XYZ', () => {
    const a = wavelengths.map((_, i) => i % 7)
    const b = wavelengths.map((_, i) => (i * i) % 5)
    const sum = convertSpectrumToXyz(a.map((v, i) => v + b[i]))
    const parts = [convertSpectrumToXyz(a), convertSpectrumToXyz(b)]
    sum.forEach((v, k) => expect(v).toBeCloseTo(parts[0][k] + parts[1][k], 6))
  })

  test('one watt at 555 nm is about 683 lumens', () => {
    const single = wavelengths.map((nm) => (nm === 550 || nm === 560 ? 0.05 : 0))
    expect(convertSpectrumToXyz(single)[1]).toBeCloseTo(683 * 0.995, -1)
    expect(observer1931).toHaveLength(41)
    expect(() => convertSpectrumToXyz([1, 2])).toThrow('41 values')
  })
})

test('the standard whites are real, colours beyond the spectral locus are not', () => {
  for (const white of Object.values(standardWhites)) expect(isRealChromaticity(white)).toBe(true)
  // The primaries of ITU-R BT.2020 are single wavelengths, on the locus itself.
  for (const [x, y] of [
    [0.708, 0.292],
    [0.17, 0.797],
    [0.131, 0.046],
    [0.68, 0.32],
  ])
    expect(isRealChromaticity({ x, y })).toBe(true)
  for (const [x, y] of [
    [0.8, 0.1],
    [0.1, 0.9],
    [0.05, 0.05],
    [0.3, 0],
    [-0.1, 0.5],
  ])
    expect(isRealChromaticity({ x, y })).toBe(false)
  expect(spectralLocus().length).toBeGreaterThan(25)
})
