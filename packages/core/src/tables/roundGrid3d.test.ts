import { uniformFrom } from '../basics/random'
import type { Triple } from '../color/matrix3'
import { roundGrid3d, type RoundedFor } from './roundGrid3d'
import { toInteger } from './slotTables'
import { applyTetrahedral, tabulate3d, type Table3D } from './table3d'

const bent = ([r, g, b]: Triple): Triple => [0.8 * r ** 1.1 + 0.1 * g * b, 0.9 * g + 0.05 * r, 0.7 * b ** 0.9 + 0.1 * r]
/** What a channel's value does to three terms of a colour: each to all of them. */
const mixed = [3, 1, 0.5, -1, 2, 0.7, 0.2, -0.8, 2.5]

/** Samples at random of what a table itself gives. */
function samplesOf(table: Table3D, count: number, slopes: readonly number[], seed = 3): RoundedFor {
  const uniform = uniformFrom(seed)
  const places = Float64Array.from({ length: 3 * count }, () => uniform())
  const wanted = new Float64Array(3 * count)
  for (let s = 0; s < count; s++)
    wanted.set(applyTetrahedral(table, [places[3 * s], places[3 * s + 1], places[3 * s + 2]]), 3 * s)
  return { places, wanted, slopes: Float64Array.from({ length: 9 * count }, (_, i) => slopes[i % 9]) }
}

/** Mean square of what is seen to be off at samples. */
function offBy(size: number, codes: readonly number[], bits: number, { places, wanted, slopes }: RoundedFor): number {
  const table = { size, values: Float64Array.from(codes, (c) => c / (2 ** bits - 1)) }
  let sum = 0
  for (let s = 0; s < wanted.length / 3; s++) {
    const got = applyTetrahedral(table, [places[3 * s], places[3 * s + 1], places[3 * s + 2]])
    for (let k = 0; k < 3; k++) {
      let seen = 0
      for (let c = 0; c < 3; c++) seen += slopes[9 * s + 3 * c + k] * (got[c] - wanted[3 * s + c])
      sum += seen ** 2
    }
  }
  return (3 * sum) / wanted.length
}

const nearest = ({ values }: Table3D, bits: number) => Array.from(values, (v) => toInteger(v, bits))

test.each([
  [9, 8],
  [17, 8],
  [9, 6],
])(
  '%d nodes in %d bits: less is off than with the nearest, at colours that it was not fitted to as well @long',
  (size, bits) => {
    const table = tabulate3d(size, bent)
    const [fitted, others] = [samplesOf(table, 8 * size ** 3, mixed), samplesOf(table, 4000, mixed, 8)]
    const codes = roundGrid3d(table, fitted, bits)
    expect(offBy(size, codes, bits, fitted)).toBeLessThan(0.85 * offBy(size, nearest(table, bits), bits, fitted))
    expect(offBy(size, codes, bits, others)).toBeLessThan(0.95 * offBy(size, nearest(table, bits), bits, others))
  },
)

test('of so few nodes that all ways can be tried, what it finds is near the best @long', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const uniform = uniformFrom(seed)
    const table: Table3D = { size: 2, values: Float64Array.from({ length: 24 }, () => uniform()) }
    // Only red is seen: eight values, each of which goes up or down.
    const samples = samplesOf(table, 60, [1, 0, 0, 0, 0, 0, 0, 0, 0], seed)
    let best = Infinity
    for (let n = 0; n < 256; n++) {
      const codes = Array.from(table.values, (v, i) => (i % 3 ? 0 : Math.floor(v * 15) + ((n >> (i / 3)) & 1)))
      best = Math.min(best, offBy(2, codes, 4, samples))
    }
    const found = offBy(2, roundGrid3d(table, samples, 4), 4, samples)
    expect(found).toBeLessThan(2 * best)
    expect(found).toBeLessThanOrEqual(offBy(2, nearest(table, 4), 4, samples) + 1e-12)
  }
})

test('every integer is one that the table has, near what it stands for, and greys never step back @long', () => {
  const size = 9
  const table = tabulate3d(size, ([r, g, b]) => [r ** 2.2, (r + g + b) / 3, b ** 0.5])
  const codes = roundGrid3d(table, samplesOf(table, 5000, mixed), 5)
  codes.forEach((code, i) => {
    expect(Number.isInteger(code) && code >= 0 && code <= 31).toBe(true)
    expect(Math.abs(code - table.values[i] * 31)).toBeLessThanOrEqual(1.5)
  })
  for (let n = 1; n < size; n++)
    for (let c = 0; c < 3; c++) {
      const at = (k: number) => codes[3 * k * (size * size + size + 1) + c]
      expect(at(n)).toBeGreaterThanOrEqual(at(n - 1))
    }
})

test('what no sample sees stays the nearest', () => {
  const table = tabulate3d(9, bent)
  const none: RoundedFor = { places: new Float64Array(0), wanted: new Float64Array(0), slopes: new Float64Array(0) }
  expect(roundGrid3d(table, none, 8)).toEqual(nearest(table, 8))
})
