import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import { add, invert, multiplyVector, scale, subtract, transpose, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { predictXyz } from './characterization'
import { characterize } from './characterize'
import { fitWithSharedLight, unshareLight } from './sharedLight'

const plain = testPanel({ coupling: 0.015 })
const exponents = [2.2, 2.14, 2.32]
/** White light of 90 cd/m², bluer than the panel's own, that comes with the least of the channels. */
const subpixel: XYZ = [84, 90, 103]
const withSubpixel = (drive: Triple): XYZ =>
  add(plain(drive), scale(subpixel, Math.min(...drive.map((d, c) => d ** exponents[c]))))

const off = (panel: (d: Triple) => XYZ, count: number) => {
  const c = characterize(readingsOf(panel, count))
  const uniform = uniformFrom(9)
  const white = panel([1, 1, 1])
  const all = Array.from({ length: 300 }, () => {
    const rgb: Triple = [uniform(), uniform(), uniform()]
    return deltaE2000(convertXyzToLab(predictXyz(c, rgb), white), convertXyzToLab(panel(rgb), white))
  })
  return all.reduce((a, b) => a + b, 0) / all.length
}

test('what shines with the least channel is found, and the curves besides', () => {
  const model = fitWithSharedLight(readingsOf(withSubpixel, 40))!
  model.shared.forEach((v, k) => expect(Math.abs(v / subpixel[k] - 1)).toBeLessThan(0.03))
  // Crosstalk leaves greys alone, so that they show the channels' own tone.
  for (const v of [0.25, 0.5, 0.8])
    model.curves.forEach((curve, c) => expect(curve(v)).toBeCloseTo(v ** exponents[c], 2))
})

test('a display with a white subpixel is predicted nearly as well as one without @long', () => {
  const [without, withIt] = [off(plain, 200), off(withSubpixel, 200)]
  told('characterization of a display with a white subpixel, 200 readings, average ΔE2000', withIt)
  expect(without).toBeLessThan(0.1)
  expect(withIt).toBeLessThan(0.25)
})

test.each([0.04, 0.08, 0.12])(
  'a faint white subpixel, %d of white, is told from crosstalk by the colours @long',
  (share) => {
    const light = share / (1 - share)
    const white = subtract(plain([1, 1, 1]), plain([0, 0, 0]))
    const faint = (drive: Triple): XYZ =>
      add(plain(drive), scale(white, light * Math.min(...drive.map((d, c) => d ** exponents[c]))))
    expect(Math.max(...characterize(readingsOf(faint, 130)).shared)).toBeGreaterThan(share / 2)
    const withIt = off(faint, 130)
    told(`characterization with a white subpixel of ${share}, 130 readings, average ΔE2000`, withIt)
    expect(withIt).toBeLessThan(0.1)
  },
)

test.each([0.03, 0.06, 0.09])(
  'crosstalk of %d, in which white is more than its primaries too, is not taken for one',
  (coupling) => {
    const coupled = testPanel({ coupling })
    expect([...characterize(readingsOf(coupled, 130)).shared]).toEqual([0, 0, 0])
  },
)

test('a display whose primaries make its white has none, nor has one that lacks a corner', () => {
  expect(fitWithSharedLight(readingsOf(plain, 40))).toBeNull()
  const readings = readingsOf(withSubpixel, 40)
  expect(fitWithSharedLight(readings.filter((r) => r.rgb.join() !== '1,0,0'))).toBeNull()
  expect(
    fitWithSharedLight(readings.filter((r) => new Set(r.rgb).size > 1 || r.rgb[0] === 0 || r.rgb[0] === 1)),
  ).toBeNull()
})

test('the channels of a light are found exactly, however much of white the subpixel makes, over 2,000 random displays @long @long', () => {
  const uniform = uniformFrom(21)
  const primaries: XYZ[] = [
    [41, 21, 2],
    [36, 72, 12],
    [18, 7, 95],
  ]
  for (let n = 0; n < 2000; n++) {
    // Up to nine times as much as the primaries together, and of another white.
    const share = 0.9 * uniform()
    const white: XYZ = [95 * (0.9 + 0.2 * uniform()), 100, 109 * (0.9 + 0.2 * uniform())]
    const shared = scale(white, share / (1 - share))
    const matrix = transpose(primaries as [XYZ, XYZ, XYZ])
    const v: Triple = [uniform() ** 3, uniform() ** 3, uniform() ** 3]
    const light = add(multiplyVector(matrix, v), scale(shared, Math.min(...v)))
    const back = invert(matrix)
    unshareLight(back, multiplyVector(back, shared), light).forEach((found, c) => expect(found).toBeCloseTo(v[c], 9))
  }
})

test('light below black leaves the subpixel dark', () => {
  const back = invert(
    transpose([
      [41, 21, 2],
      [36, 72, 12],
      [18, 7, 95],
    ] as [XYZ, XYZ, XYZ]),
  )
  const light: XYZ = [-0.2, -0.1, -0.3]
  expect(unshareLight(back, [0.8, 0.9, 1], light)).toEqual(multiplyVector(back, light))
})

test.each([0.5, 0.6, 0.75])(
  'a white subpixel that makes %d of white is predicted like one that makes less @long',
  (share) => {
    const white = plain([1, 1, 1])
    const strong: XYZ = [1.02 * white[0], white[1], 0.97 * white[2]]
    const panel = (drive: Triple): XYZ =>
      add(plain(drive), scale(strong, (share / (1 - share)) * Math.min(...drive.map((d, c) => d ** exponents[c]))))
    const average = off(panel, 200)
    told(`characterization with a white subpixel of ${share}, 200 readings, average ΔE2000`, average)
    expect(average).toBeLessThan(0.35)
  },
)
