import { differenceCiede2000 } from 'culori'
import { uniformFrom } from '../basics/random'
import { deltaE2000 } from './deltaE2000'
import type { Lab } from './lab'
import { told } from '../test/told'

/** L1 a1 b1, L2 a2 b2, CIEDE2000. G. Sharma, W. Wu, E. N. Dalal, Color Res. Appl. 30 (1), 2005, table 1. */
const published: readonly (readonly number[])[] = [
  [50.0, 2.6772, -79.7751, 50.0, 0.0, -82.7485, 2.0425],
  [50.0, 3.1571, -77.2803, 50.0, 0.0, -82.7485, 2.8615],
  [50.0, 2.8361, -74.02, 50.0, 0.0, -82.7485, 3.4412],
  [50.0, -1.3802, -84.2814, 50.0, 0.0, -82.7485, 1.0],
  [50.0, -1.1848, -84.8006, 50.0, 0.0, -82.7485, 1.0],
  [50.0, -0.9009, -85.5211, 50.0, 0.0, -82.7485, 1.0],
  [50.0, 0.0, 0.0, 50.0, -1.0, 2.0, 2.3669],
  [50.0, -1.0, 2.0, 50.0, 0.0, 0.0, 2.3669],
  [50.0, 2.49, -0.001, 50.0, -2.49, 0.0009, 7.1792],
  [50.0, 2.49, -0.001, 50.0, -2.49, 0.001, 7.1792],
  [50.0, 2.49, -0.001, 50.0, -2.49, 0.0011, 7.2195],
  [50.0, 2.49, -0.001, 50.0, -2.49, 0.0012, 7.2195],
  [50.0, -0.001, 2.49, 50.0, 0.0009, -2.49, 4.8045],
  [50.0, -0.001, 2.49, 50.0, 0.001, -2.49, 4.8045],
  [50.0, -0.001, 2.49, 50.0, 0.0011, -2.49, 4.7461],
  [50.0, 2.5, 0.0, 50.0, 0.0, -2.5, 4.3065],
  [50.0, 2.5, 0.0, 73.0, 25.0, -18.0, 27.1492],
  [50.0, 2.5, 0.0, 61.0, -5.0, 29.0, 22.8977],
  [50.0, 2.5, 0.0, 56.0, -27.0, -3.0, 31.903],
  [50.0, 2.5, 0.0, 58.0, 24.0, 15.0, 19.4535],
  [50.0, 2.5, 0.0, 50.0, 3.1736, 0.5854, 1.0],
  [50.0, 2.5, 0.0, 50.0, 3.2972, 0.0, 1.0],
  [50.0, 2.5, 0.0, 50.0, 1.8634, 0.5757, 1.0],
  [50.0, 2.5, 0.0, 50.0, 3.2592, 0.335, 1.0],
  [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
  [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
  [61.2901, 3.7196, -5.3901, 61.4292, 2.248, -4.962, 1.8731],
  [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
  [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
  [36.4612, 47.858, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
  [90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441],
  [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
  [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
  [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
]

test('the 34 published pairs come out to the four digits that are printed', () => {
  expect(published).toHaveLength(34)
  let most = 0
  for (const [L1, a1, b1, L2, a2, b2, expected] of published) {
    const forth = deltaE2000([L1, a1, b1], [L2, a2, b2])
    expect(deltaE2000([L2, a2, b2], [L1, a1, b1])).toBeCloseTo(forth, 12)
    most = Math.max(most, Math.abs(forth - expected))
  }
  told('CIEDE2000 against the 34 published pairs', most)
  expect(most).toBeLessThanOrEqual(0.5001e-4)
})

test('random pairs agree with culori to 1e-9', () => {
  const theirs = differenceCiede2000()
  const uniform = uniformFrom(3)
  const lab = (): Lab => [uniform() * 100, uniform() * 200 - 100, uniform() * 200 - 100]
  let most = 0
  for (let i = 0; i < 2000; i++) {
    const [p, q] = [lab(), lab()]
    const color = ([l, a, b]: Lab) => ({ mode: 'lab65' as const, l, a, b })
    most = Math.max(most, Math.abs(deltaE2000(p, q) - theirs(color(p), color(q))))
  }
  told('CIEDE2000 against culori, 2,000 pairs', most)
  expect(most).toBeLessThan(1e-9)
})

test('a colour does not differ from itself, and greys without chroma give no NaN', () => {
  expect(deltaE2000([50, 10, -20], [50, 10, -20])).toBe(0)
  expect(deltaE2000([50, 0, 0], [60, 0, 0])).toBeGreaterThan(0)
})
