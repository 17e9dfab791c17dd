import { testPanel } from '../test/panel'
import type { Triple } from '../color/matrix3'
import { ownProfilePatches, withoutBlack } from './profileReadings'

test('without black the display’s black is nothing and its light above black the same', () => {
  const panel = testPanel()
  const readings = [
    { name: 'Black', rgb: [0, 0, 0] as Triple, xyz: panel([0, 0, 0]) },
    { name: 'White', rgb: [1, 1, 1] as Triple, xyz: panel([1, 1, 1]) },
  ]
  const [black, white] = withoutBlack(readings)
  expect(black.xyz).toEqual([0, 0, 0])
  expect(white.xyz[1]).toBeCloseTo(panel([1, 1, 1])[1] - panel([0, 0, 0])[1], 12)
})

test('a profile’s own set begins with white and has each colour once', () => {
  expect(ownProfilePatches()[0].rgb).toEqual([1, 1, 1])
  const keys = ownProfilePatches().map((p) => p.rgb.join(' '))
  expect(new Set(keys).size).toBe(keys.length)
})
