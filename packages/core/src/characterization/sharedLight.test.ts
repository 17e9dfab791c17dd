import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import { add, scale, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { predictXyz } from './characterization'
import { characterize } from './characterize'
import { fitWithSharedLight } from './sharedLight'

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

test('a display with a white subpixel is predicted nearly as well as one without', () => {
  const [without, withIt] = [off(plain, 200), off(withSubpixel, 200)]
  told('characterization of a display with a white subpixel, 200 readings, average ΔE2000', withIt)
  expect(without).toBeLessThan(0.1)
  expect(withIt).toBeLessThan(0.25)
})

test('a display whose primaries make its white has none, nor has one that lacks a corner', () => {
  expect(fitWithSharedLight(readingsOf(plain, 40))).toBeNull()
  const readings = readingsOf(withSubpixel, 40)
  expect(fitWithSharedLight(readings.filter((r) => r.rgb.join() !== '1,0,0'))).toBeNull()
  expect(
    fitWithSharedLight(readings.filter((r) => new Set(r.rgb).size > 1 || r.rgb[0] === 0 || r.rgb[0] === 1)),
  ).toBeNull()
})
