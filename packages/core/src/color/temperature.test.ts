import { convertXyzToChromaticity } from './chromaticity'
import { standardWhites } from './encodings'
import { convertSpectrumToXyz, fineObserver1931, observer1931, wavelengths } from './observer'
import { convertChromaticityToUv, type Chromaticity } from './chromaticity'
import { blackbodySpectrum, daylightChromaticity, daylightSpectrum } from './spectra'
import { isRealChromaticity, spectralLocus } from './spectralLocus'
import {
  blackbodyChromaticity,
  chromaticityOfTemperature,
  correlatedColorTemperature,
  mccamyTemperature,
  locusNote,
  whiteOfTemperature,
} from './temperature'
import { told } from '../test/told'

describe('correlated colour temperature', () => {
  // CIE 15:2018 tables T.3 and T.8: illuminants with their temperatures.
  test.each([
    ['A', { x: 0.44758, y: 0.40745 }, 2856],
    ['D50', { x: 0.34567, y: 0.3585 }, 5003],
    ['D55', { x: 0.33243, y: 0.34744 }, 5503],
    ['D65', { x: 0.31272, y: 0.32903 }, 6504],
    ['D75', { x: 0.29903, y: 0.31488 }, 7504],
  ])(
    '%s is what CIE prints, to 0.05 %% (daylight is named by a temperature that is nominal)',
    (name, chromaticity, kelvin) => {
      const { cct } = correlatedColorTemperature(chromaticity)!
      told(`correlated colour temperature of ${name} against CIE 15, K`, Math.abs(cct - kelvin))
      expect(Math.abs(cct - kelvin) / kelvin).toBeLessThan(0.0005)
    },
  )

  test('is the temperature of the nearest blackbody, found by walking the locus in steps of 0.05 K', () => {
    const uv = (c: Chromaticity) => {
      const { u, v } = convertChromaticityToUv(c)
      return [u, (2 / 3) * v] as const
    }
    let worst = 0
    for (const cct of [2000, 2400, 3100, 4200, 5003, 6504, 8200, 9300, 12000, 16000, 20000])
      for (const duv of [-0.02, -0.005, 0, 0.0032, 0.02]) {
        const p = uv(chromaticityOfTemperature({ cct, duv }))
        let [nearest, distance] = [0, Infinity]
        for (let kelvin = cct - 4; kelvin <= cct + 4; kelvin += 0.05) {
          const q = uv(blackbodyChromaticity(kelvin))
          const d = Math.hypot(p[0] - q[0], p[1] - q[1])
          if (d < distance) [nearest, distance] = [kelvin, d]
        }
        const found = correlatedColorTemperature(chromaticityOfTemperature({ cct, duv }))!
        worst = Math.max(worst, Math.abs(found.cct - nearest))
        expect(Math.abs(Math.abs(found.duv) - distance)).toBeLessThan(1e-6)
      }
    told('correlated colour temperature, 2,000–20,000 K, against a walk along the locus, K', worst)
    expect(worst).toBeLessThan(1)
  })

  test('temperature and Duv lead to a chromaticity and back', () => {
    let [kelvin, distance] = [0, 0]
    for (let cct = 2000; cct <= 20000; cct += 400)
      for (const duv of [-0.04, -0.01, 0.003, 0.03]) {
        const found = correlatedColorTemperature(chromaticityOfTemperature({ cct, duv }))!
        kelvin = Math.max(kelvin, Math.abs(found.cct - cct))
        distance = Math.max(distance, Math.abs(found.duv - duv))
      }
    told('temperature → xy → temperature, K', kelvin)
    told('the same, Duv', distance)
    expect(kelvin).toBeLessThan(0.01)
    expect(distance).toBeLessThan(1e-8)
    expect(() => chromaticityOfTemperature({ cct: 900, duv: 0 })).toThrow('1,667')
    expect(() => chromaticityOfTemperature({ cct: 5000, duv: 0.2 })).toThrow('Duv')
  })

  test('McCamy’s estimate is some kelvins off near daylight, which is why it is only for comparison', () => {
    const off = Math.abs(mccamyTemperature(standardWhites.D65) - correlatedColorTemperature(standardWhites.D65)!.cct)
    expect(off).toBeGreaterThan(0.1)
    expect(off).toBeLessThan(15)
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

test('CIE daylight has the spectrum that CIE prints for D65', () => {
  // CIE 15:2018 table T.1, D65 at 400, 450, 500, 560, 600, 700 nm.
  const printed: readonly (readonly [number, number])[] = [
    [400, 82.7549],
    [450, 117.008],
    [500, 109.354],
    [560, 100],
    [600, 90.0062],
    [700, 71.6091],
  ]
  const spectrum = daylightSpectrum(6504)
  const off = printed.map(([nm, value]) => Math.abs(spectrum[wavelengths.indexOf(nm)] - value))
  told('spectrum of D65 against CIE 15, of 100', Math.max(...off))
  expect(Math.max(...off)).toBeLessThan(0.06)
  const { x, y } = convertXyzToChromaticity(convertSpectrumToXyz(spectrum))
  expect(x).toBeCloseTo(0.3127, 4)
  expect(y).toBeCloseTo(0.3291, 4)
})

test('a blackbody radiates as Planck’s law says: Wien’s peak, and the ratio of two wavelengths', () => {
  const spectrum = blackbodySpectrum(5000)
  // Wien: 2.8978e-3 m·K ÷ 5,000 K = 579.6 nm.
  expect(wavelengths[spectrum.indexOf(Math.max(...spectrum))]).toBe(580)
  const ratio = spectrum[wavelengths.indexOf(700)] / spectrum[wavelengths.indexOf(500)]
  const planck = (nm: number) => 1 / (nm ** 5 * (Math.exp(1.4388e7 / (nm * 5000)) - 1))
  expect(ratio).toBeCloseTo(planck(700) / planck(500), 9)
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
  test('in 5 nm steps has the sums that CIE 15 prints, 21.3715 21.3713 21.3715, and makes illuminant A', () => {
    const sums = [0, 1, 2].map((k) => fineObserver1931.reduce((sum, row) => sum + row[k], 0))
    ;[21.3715, 21.3713, 21.3715].forEach((printed, k) => expect(sums[k]).toBeCloseTo(printed, 4))
    const { x, y } = blackbodyChromaticity(2855.5)
    expect(x).toBeCloseTo(0.44758, 5)
    expect(y).toBeCloseTo(0.40745, 5)
  })

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

test('near 4,000 K it is said which locus a white is on, and by how much the other would be elsewhere', () => {
  expect(locusNote(3900)).toMatch(/^Below 4,000 K it is a lamp’s white/)
  expect(locusNote(4000)).toMatch(/^From 4,000 K on it is daylight’s white/)
  for (const kelvin of [2000, 3699, 4301, 6500, NaN]) expect(locusNote(kelvin)).toBeNull()
  const [said] = /0\.\d{4}/.exec(locusNote(4100)!)!
  const [day, lamp] = [whiteOfTemperature(4000), blackbodyChromaticity(4000)]
  // u′ = 4x ÷ (−2x + 12y + 3), v′ = 9y ÷ (same), CIE 15:2018 §8.2.
  const uv = ({ x, y }: typeof day) => [(4 * x) / (-2 * x + 12 * y + 3), (9 * y) / (-2 * x + 12 * y + 3)]
  const [a, b] = [uv(day), uv(lamp)]
  expect(Number(said)).toBeCloseTo(Math.hypot(a[0] - b[0], a[1] - b[1]), 4)
})
