import type { Triple } from '../color/matrix3'
import { testPanel } from '../test/panel'
import type { RawCorners } from './level'
import { characterize } from '../characterization/characterize'
import { predictXyz } from '../characterization/characterization'
import { carryOver, readingsOfMemory } from './shapeMemory'

const cornersOf = (panel: ReturnType<typeof testPanel>): RawCorners => ({
  white: panel([1, 1, 1]),
  black: panel([0, 0, 0]),
  red: panel([1, 0, 0]),
  green: panel([0, 1, 0]),
  blue: panel([0, 0, 1]),
})
const drives: Triple[] = [
  [0.2, 0.2, 0.2],
  [0.7, 0.65, 0.6],
  [1, 0.3, 0.1],
]

test('readings of a panel without crosstalk are carried over to what it shows once its light, white and black have changed', () => {
  const before = testPanel()
  const now = testPanel({ luminance: 117, white: { x: 0.31, y: 0.33 }, black: 0.2 })
  const carried = carryOver(
    drives.map((drive) => ({ drive, xyz: before(drive) })),
    cornersOf(before),
    cornersOf(now),
  )
  carried.forEach(({ drive, xyz }) => xyz.forEach((v, k) => expect(v / now(drive)[k]).toBeCloseTo(1, 9)))
})

test('where nothing has changed, nothing is', () => {
  const panel = testPanel({ coupling: 0.03 })
  const readings = drives.map((drive) => ({ drive, xyz: panel(drive) }))
  carryOver(readings, cornersOf(panel), cornersOf(panel)).forEach(({ xyz }, i) =>
    xyz.forEach((v, k) => expect(v).toBeCloseTo(readings[i].xyz[k], 9)),
  )
})

test('what a run by greys remembers describes the panel as a whole, corners and all', () => {
  const panel = testPanel()
  const reading = (drive: Triple) => ({ drive, xyz: panel(drive) })
  const greys = [0.1, 0.2, 0.35, 0.5, 0.7, 0.85].map((v) => reading([v, v, v]))
  const memory = { kind: 'greys' as const, corners: cornersOf(panel), greys, colors: drives.map(reading) }
  const c = characterize(readingsOfMemory(memory))
  for (const drive of [
    [0.5, 0.2, 0.9],
    [1, 1, 0],
    [0, 0, 0],
  ] as Triple[])
    predictXyz(c, drive).forEach((v, k) => expect(Math.abs(v / panel(drive)[k] - 1)).toBeLessThan(0.03))
})

test('what a run by model remembers is its readings', () => {
  const readings = [{ name: 'White', rgb: [1, 1, 1] as Triple, xyz: testPanel()([1, 1, 1]) }]
  expect(readingsOfMemory({ kind: 'model', readings })).toEqual(readings)
})
