import type { XYZ } from '../color/chromaticity'
import { placeName, positionOf, screenCentre, uniformityOf, uniformityPlaces, type PlaceReading } from './uniformity'

const white: XYZ = [114, 120, 131]
const read = (of: (p: { x: number; y: number }) => XYZ): PlaceReading[] =>
  [...uniformityPlaces, screenCentre].map((p) => ({ ...p, xyz: of(positionOf(p)) }))

test('25 places, each once, the centre first, hands moving one step at a time within a row', () => {
  expect(uniformityPlaces).toHaveLength(25)
  expect(new Set(uniformityPlaces.map(placeName)).size).toBe(25)
  expect(placeName(uniformityPlaces[0])).toBe('Centre')
  expect(positionOf({ row: 1, column: 5 })).toEqual({ x: 0.8, y: 0.8 })
  expect(positionOf(screenCentre)).toEqual({ x: 0, y: 0 })
})

test('a screen that falls towards its corners: each place off by what was taken from it', () => {
  const map = uniformityOf(read(({ x, y }) => white.map((v) => v * (1 - 0.1 * (x * x + y * y))) as never))
  expect(map.places).toHaveLength(25)
  const corner = map.places.find((p) => p.row === 1 && p.column === 1)!
  expect(corner.luminanceOff).toBeCloseTo(-12.8, 9)
  expect(corner.luminance).toBeCloseTo(120 * 0.872, 9)
  expect(Math.abs(map.worstLuminance.luminanceOff)).toBeCloseTo(12.8, 9)
  expect(map.worstUv.deltaUv).toBeLessThan(1e-12)
})

test('a tint from top to bottom shows as Δu′v′ and not as luminance', () => {
  const map = uniformityOf(read(({ y }) => [white[0], white[1], white[2] * (1 - 0.05 * y)]))
  expect(map.worstUv.deltaUv).toBeGreaterThan(0.003)
  expect([1, 5]).toContain(map.worstUv.row)
  expect(Math.abs(map.worstLuminance.luminanceOff)).toBeLessThan(1e-9)
})

test('white that drifts while hands move is not taken for unevenness', () => {
  const steady = read(() => white)
  const drifting = steady.map((r, i) => ({ ...r, xyz: r.xyz.map((v) => v * (1 - 0.001 * i)) as never }))
  expect(Math.abs(uniformityOf(drifting).worstLuminance.luminanceOff)).toBeLessThan(1e-9)
  expect(() => uniformityOf(steady.slice(1, 9))).toThrow('The centre of the screen was not read')
})
