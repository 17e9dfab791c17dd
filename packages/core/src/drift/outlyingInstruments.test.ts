import { instrumentStandings } from './outlyingInstruments'
import type { InstrumentShift } from './slotTrends'

/** Shifts of one instrument in slots, in % of light. */
const shifts = (instrumentId: number, luminance: readonly number[], more: { x?: number; z?: number } = {}) =>
  luminance.map((percent): InstrumentShift => ({
    instrumentId,
    readings: 4,
    luminance: percent / 100,
    x: (more.x ?? 0) / 100,
    z: (more.z ?? 0) / 100,
  }))

test('an instrument stands out by three slots, a whole per cent and three and a half of its own errors', () => {
  const stands = (luminance: readonly number[], more?: { x?: number; z?: number }) =>
    instrumentStandings(shifts(1, luminance, more))[0].stands
  expect(stands([1.5, 1.5, 1.5])).toBe(true)
  expect(stands([1.5, 1.5])).toBe(false)
  expect(stands([-1.5, -1.5, -1.5])).toBe(true)
  expect(stands([0.99, 0.99, 0.99])).toBe(false)
  // Its blue alone is enough, and its red.
  expect(stands([0, 0, 0], { z: 1.01 })).toBe(true)
  expect(stands([0, 0, 0], { x: -1.01 })).toBe(true)
  expect(stands([0, 0, 0], { z: 0.99, x: 0.99 })).toBe(false)
  // Slots that differ as much as this leave 1.5 % to chance.
  expect(stands([0.2, 1.5, 3.4])).toBe(false)
})

test('the error of a median: 1.2533 times the deviation, over the root of the slots, and at least 0.05 %', () => {
  const [told] = instrumentStandings(shifts(7, [1, 2, 3, 4, 100, 5, 6, 7, 8]))
  // Median 5, distances 4 3 2 1 95 0 1 2 3, theirs 2.
  expect(told).toMatchObject({ instrumentId: 7, slots: 9, readings: 36, luminance: 5 })
  expect(told.errors.luminance).toBeCloseTo((Math.sqrt(Math.PI / 2) * 1.4826 * 2) / 3, 9)
  expect(told.errors.x).toBe(0.05)
  const [sure] = instrumentStandings(shifts(7, [1, 1.001, 1.002]))
  expect(sure.errors.luminance).toBe(0.05)
})

test('those that stand out come first, and among equals those that are furthest off, whichever way', () => {
  const order = instrumentStandings([
    ...shifts(1, [0.2, 0.2, 0.2]),
    ...shifts(2, [-0.6, -0.6, -0.6]),
    ...shifts(3, [5, 5]),
    ...shifts(4, [1.2, 1.2, 1.2]),
    ...shifts(5, [-2, -2, -2]),
  ]).map((s) => [s.instrumentId, s.stands])
  expect(order).toEqual([
    [5, true],
    [4, true],
    [3, false],
    [2, false],
    [1, false],
  ])
})
