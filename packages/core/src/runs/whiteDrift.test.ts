import type { XYZ } from '../color/chromaticity'
import { scale } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import { repeatabilityOf, withoutDrift } from './whiteDrift'

const first: XYZ = [114, 120, 131]
const truth: XYZ[] = [
  [50, 52, 57],
  [20, 10, 3],
  [0.4, 0.42, 0.5],
  [70, 90, 30],
]

test('readings taken while white dims steadily come out as if it had not', () => {
  const dimmed = (t: number): XYZ => [0.99 - 0.02 * t, 0.992 - 0.016 * t, 0.985 - 0.03 * t]
  const through = (xyz: XYZ, t: number): XYZ => [xyz[0] * dimmed(t)[0], xyz[1] * dimmed(t)[1], xyz[2] * dimmed(t)[2]]
  const readings = truth.map((xyz, i) => ({ name: String(i), xyz: through(xyz, (i + 1) / (truth.length + 1)) }))
  const found = withoutDrift(readings, { first, before: through(first, 0), after: through(first, 1) })
  found.forEach(({ xyz, name }, i) => {
    expect(name).toBe(String(i))
    xyz.forEach((v, k) => expect(v / truth[i][k]).toBeCloseTo(1, 12))
  })
})

test('what noise alone may have done is left alone', () => {
  const readings = truth.map((xyz) => ({ xyz }))
  const looks = { first, before: scale(first, 1.002), after: scale(first, 0.998) }
  expect(withoutDrift(readings, looks)).toEqual(readings)
})

test('repeatability is that of the noise, whatever drifts below it', () => {
  const uniform = uniformFrom(4)
  const noise = () => 1 + 0.001 * (uniform() + uniform() + uniform() - 1.5)
  const looks = (drift: number) =>
    Array.from({ length: 60 }, (_, i) => first.map((v) => v * noise() * (1 - drift * i)) as unknown as XYZ)
  const still = repeatabilityOf(looks(0))!
  expect(still).toBeGreaterThan(0.01)
  expect(still).toBeLessThan(0.3)
  expect(repeatabilityOf(looks(0.0001))! / still).toBeLessThan(1.5)
  expect(repeatabilityOf([first, first, first])).toBeNull()
  expect(repeatabilityOf(Array(5).fill(first))).toBe(0)
})
