import { testPanel } from '../test/panel'
import type { Triple } from '../color/matrix3'
import { ownProfilePatches, signalsOfDrives, withoutBlack } from './profileReadings'

test('drives are told as the signals that the card’s curves turn into them', () => {
  const curve = (exponent: number, top: number) =>
    Float64Array.from({ length: 256 }, (_, i) => top * (i / 255) ** exponent)
  const curves = [curve(1, 1), curve(1.4, 0.9), curve(0.8, 0.85)] as const
  const signals: Triple[] = [
    [0, 0, 0],
    [1, 1, 1],
    [0.31, 0.62, 0.87],
  ]
  const panel = testPanel()
  const drives = signals.map((s): Triple => [s[0], 0.9 * s[1] ** 1.4, 0.85 * s[2] ** 0.8])
  const found = signalsOfDrives(
    drives.map((rgb, i) => ({ name: String(i), rgb, xyz: panel(rgb) })),
    curves,
  )
  found.forEach((p, i) => p.rgb.forEach((v, c) => expect(v).toBeCloseTo(signals[i][c], 3)))
  expect(found.map((p) => p.xyz)).toEqual(drives.map(panel))
})

test('drives beyond the curves’ reach are left out', () => {
  const half = Float64Array.from({ length: 16 }, (_, i) => i / 30)
  expect(signalsOfDrives([{ name: 'White', rgb: [1, 1, 1], xyz: [1, 1, 1] }], [half, half, half])).toEqual([])
})

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
