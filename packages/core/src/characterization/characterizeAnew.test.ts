import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { predictLab, type Characterization } from './characterization'
import { characterize } from './characterize'
import { characterizeAnew } from './characterizeAnew'

const young = testPanel({ coupling: 0.03 })
/** Dimmer, bluer gone, its tone a little steeper: the same panel after years. */
const old = testPanel({
  coupling: 0.03,
  luminance: 126,
  black: 0.12,
  white: { x: 0.307, y: 0.324 },
  exponents: [2.215, 2.15, 2.35],
})
const uniform = uniformFrom(5)
const unseen = Array.from({ length: 200 }, (): Triple => [uniform(), uniform(), uniform()])

function error(c: Characterization, panel: (d: Triple) => XYZ) {
  const all = unseen.map((rgb) => deltaE2000(convertXyzToLab(panel(rgb), c.white), predictLab(c, rgb)))
  return all.reduce((a, b) => a + b, 0) / all.length
}

/** A few readings of the old panel: the corners, greys, and some colours. */
const few = readingsOf(old, 40, 7)
const before = characterize(readingsOf(young, 220))

test('a few readings and what was known before tell more than the few alone, and nearly as much as many', () => {
  const anew = error(characterizeAnew(before, few), old)
  expect(anew).toBeLessThan(0.6 * error(characterize(few), old))
  expect(anew).toBeLessThan(0.08)
})

test('what was known before alone would be far off', () => {
  expect(error(before, old)).toBeGreaterThan(10 * error(characterizeAnew(before, few), old))
})

test('a panel that has not changed is known as well as before', () => {
  expect(error(characterizeAnew(before, readingsOf(young, 40, 7)), young)).toBeLessThan(
    1.3 * error(before, young) + 0.01,
  )
})

test.each([
  ['white', [1, 1, 1]],
  ['black', [0, 0, 0]],
])('without %s nothing can be told, and that is said', (name, rgb) => {
  const without = few.filter((p) => p.rgb.some((v, i) => v !== rgb[i]))
  expect(() => characterizeAnew(before, without)).toThrow(`no ${name}`)
})
