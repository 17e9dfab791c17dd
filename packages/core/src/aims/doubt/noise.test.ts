import { normalFrom, uniformFrom } from '../../basics/random'
import type { XYZ } from '../../color/chromaticity'
import { noiseByLevel, noiseOfRepeats, type Repeat } from './noise'

const normal = normalFrom(uniformFrom(11))
const noisy = (xyz: XYZ): XYZ => {
  const all = 1 + 0.003 * normal()
  return [xyz[0] * all * (1 + 0.001 * normal()), xyz[1] * all, xyz[2] * all * (1 + 0.002 * normal())]
}

test('noise is found from readings taken twice, whatever else happened once', () => {
  const repeats = Array.from({ length: 400 }, (): Repeat => [noisy([114, 120, 130]), noisy([114, 120, 130])])
  const noise = noiseOfRepeats([
    ...repeats,
    [
      [114, 120, 130],
      [80, 90, 99],
    ],
  ])!
  expect(Math.abs(noise.luminance - 0.003)).toBeLessThan(0.0004)
  expect(Math.abs(noise.x - 0.001)).toBeLessThan(0.00015)
  expect(Math.abs(noise.z - 0.002)).toBeLessThan(0.0003)
  expect(noiseOfRepeats(repeats.slice(0, 7))).toBeNull()
})

describe('noise by level', () => {
  const of = { luminance: 0.002, x: 0.001, z: 0.0015 }

  test('is what white was seen to repeat to at white', () => {
    const white = noiseByLevel(of, 120)(120)
    expect(white.luminance).toBeCloseTo(0.002, 5)
    expect(white.x).toBeCloseTo(0.001, 5)
  })

  test('rises as light falls, as photons and then the dark signal have it', () => {
    const at = noiseByLevel(of, 120)
    const shares = [120, 60, 10, 1, 0.1, 0.01].map((y) => at(y).luminance)
    expect(shares).toEqual([...shares].sort((a, b) => a - b))
    // In the dark it is a luminance, whatever the light.
    expect((at(1e-4).luminance * 1e-4) / 0.001).toBeCloseTo(1, 1)
    // Photons: at a hundredth of the light ten times the share, for the half that is theirs.
    expect(at(1.2).luminance / (0.002 * Math.sqrt(0.5 + 0.5 * 100))).toBeCloseTo(1, 1)
  })

  test('is a usual instrument’s while nothing is known, and finite in the dark', () => {
    const at = noiseByLevel(null, 100)
    expect(at(100).luminance).toBeGreaterThan(0.0005)
    expect(Number.isFinite(at(0).luminance)).toBe(true)
  })
})
