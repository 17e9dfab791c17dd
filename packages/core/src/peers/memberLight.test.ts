import { scale } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import type { RawCorners } from '../runs/level'
import { lightAtMost, type LightSeen } from './memberLight'

const black: XYZ = [0.1, 0.1, 0.14]
const corners: RawCorners = {
  white: [95, 100, 108],
  black,
  red: [42, 22, 2],
  green: [35, 70, 12],
  blue: [18, 8, 94],
}
/** A backlight that is not quite in proportion to its setting, with so much of its light left. */
const lightOf = (control: number, left = 1) => left * (4 + 2.5 * control - 0.004 * control ** 2)
const seen = (control: number, left = 1, whites: readonly number[] = []): LightSeen => {
  const times = lightOf(control, left) / 100
  const of = (xyz: XYZ) => scale(xyz, times)
  return {
    corners: {
      white: of(corners.white),
      black: of(corners.black),
      red: of(corners.red),
      green: of(corners.green),
      blue: of(corners.blue),
    },
    control,
    most: 100,
    whites: whites.map((c) => ({ control: c, luminance: lightOf(c, left) })),
  }
}

test('a display that was read at its highest setting is as bright as it was read', () => {
  const found = lightAtMost([seen(40, 1, [100])], true)!
  expect(found.by).toBe('read')
  expect(found.corners.white[1]).toBeCloseTo(lightOf(100), 9)
  // Everything goes up with white: chromaticities stay.
  expect(found.corners.red[0] / found.corners.red[1]).toBeCloseTo(42 / 22, 9)
  expect(found.corners.black[1]).toBeCloseTo((0.1 * lightOf(100)) / 100, 9)
  expect(lightAtMost([seen(100)], true)!.corners.white[1]).toBeCloseTo(lightOf(100), 9)
})

test('one that has aged since is reckoned by what it still has at a setting that was read before', () => {
  const before = seen(40, 1, [60, 100])
  for (const setting of [40, 47, 60, 80]) {
    const found = lightAtMost([seen(setting, 0.8), before], true)!
    expect(found.by).toBe('reckoned')
    // On the line between two settings that were read: within a hundredth.
    expect(found.corners.white[1] / lightOf(100, 0.8)).toBeCloseTo(1, 1)
    expect(Math.abs(found.corners.white[1] / lightOf(100, 0.8) - 1)).toBeLessThan(0.015)
  }
  // By the setting that is nearest to the highest, of those that both have read.
  const found = lightAtMost([seen(20, 0.8, [55]), before], true)!
  expect(Math.abs(found.corners.white[1] / lightOf(100, 0.8) - 1)).toBeLessThan(0.015)
})

test('nobody knows of one whose highest setting was never read, nor by settings below all that were', () => {
  expect(lightAtMost([], true)).toBeNull()
  expect(lightAtMost([seen(40), seen(50, 1, [70])], true)).toBeNull()
  expect(lightAtMost([seen(20), seen(40, 1, [100])], true)).toBeNull()
  // Another range of settings is another display's, or another firmware's.
  expect(
    lightAtMost([seen(40), { ...seen(40, 1, [100]), most: 255, whites: [{ control: 255, luminance: 600 }] }], true),
  ).toBeNull()
})

test('black that is not the backlight’s stays where it is', () => {
  const found = lightAtMost([seen(40, 1, [100])], false)!
  expect(found.corners.black).toEqual(seen(40).corners.black)
  const above = found.corners.red[1] - found.corners.black[1]
  const was = seen(40).corners.red[1] - seen(40).corners.black[1]
  expect(above / was).toBeCloseTo(lightOf(100) / lightOf(40), 9)
})
