import { Color } from '../test/colorjs'
import { differenceCie94, differenceCiede2000, differenceEuclidean } from 'culori'
import { uniformFrom } from '../basics/random'
import { told } from '../test/told'
import { deltaE2000 } from './deltaE2000'
import { deltaE2000Pairs } from './deltaE2000Pairs'
import { deltaChroma, deltaE76, deltaE94, deltaEItp, deltaLightness, deltaOfXyz } from './differences'
import { convertXyzToICtCp } from './ictcp'
import { convertLabToXyz, type Lab } from './lab'
import { matrixOfEncoding } from './encodings'
import { multiplyVector, scale, type Triple } from './matrix3'

const uniform = uniformFrom(23)
const some = (): Lab => [100 * uniform(), 200 * uniform() - 100, 200 * uniform() - 100]
const pairs = Array.from({ length: 4000 }, (_, i): [Lab, Lab] => {
  const a = some()
  // Half of them near each other, as readings are; some grey.
  const b: Lab = i % 2 ? [a[0] + uniform(), a[1] + uniform() - 0.5, a[2] + uniform() - 0.5] : some()
  return i % 50 === 0 ? [[a[0], 0, 0], b] : [a, b]
})
const culoriLab = ([l, a, b]: Lab) => ({ mode: 'lab65' as const, l, a, b })
const worst = (of: (a: Lab, b: Lab) => number) => Math.max(...pairs.map(([a, b]) => of(a, b)))

test('ΔE76 and ΔE94 are those of culori', () => {
  const euclidean = differenceEuclidean('lab65')
  const cie94 = differenceCie94()
  const off76 = worst((a, b) => Math.abs(deltaE76(a, b) - euclidean(culoriLab(a), culoriLab(b))))
  const off94 = worst((a, b) => Math.abs(deltaE94(a, b) - cie94(culoriLab(a), culoriLab(b))))
  told('ΔE76 against culori', off76)
  told('ΔE94 against culori', off94)
  expect(off76).toBeLessThan(1e-9)
  expect(off94).toBeLessThan(1e-9)
})

test('ΔE ITP is that of colorjs.io', () => {
  // Colours of the BT.2020 triangle; beyond it its cones go dark, and colorjs.io gives no number.
  const inside = ([L, a, b]: Lab): Triple =>
    scale(multiplyVector(matrixOfEncoding('BT.2020'), [L / 100, (a + 100) / 200, (b + 100) / 200]), 120)
  const theirs = (a: Triple, b: Triple) =>
    new Color('xyz-abs-d65', [...a]).deltaE(new Color('xyz-abs-d65', [...b]), 'ITP')
  const off = Math.max(
    ...pairs.slice(0, 500).map(([a, b]) => {
      const [p, q] = [inside(a), inside(b)]
      const ours = deltaEItp(convertXyzToICtCp(p), convertXyzToICtCp(q))
      return Math.abs(ours - theirs(p, q)) / Math.max(1, ours)
    }),
  )
  told('ΔE ITP against colorjs.io, relative', off)
  expect(off).toBeLessThan(1e-3)
})

describe('ΔE2000 of many pairs', () => {
  const flat = (k: 0 | 1) => Float64Array.from(pairs.flatMap((p) => p[k]))

  test('equals the plain formula and culori within 1e-9', () => {
    const fast = deltaE2000Pairs(flat(0), flat(1), new Float64Array(pairs.length))
    const culori = differenceCiede2000()
    const [plain, other] = [0, 0].map((_, which) =>
      Math.max(
        ...pairs.map(([a, b], i) =>
          Math.abs(fast[i] - (which ? culori(culoriLab(a), culoriLab(b)) : deltaE2000(a, b))),
        ),
      ),
    )
    told('ΔE2000 of many pairs against the plain formula', plain)
    told('ΔE2000 of many pairs against culori', other)
    expect(plain).toBeLessThan(1e-9)
    expect(other).toBeLessThan(1e-9)
  })

  test('keeps to the formula where hues stand opposite, where one side is grey, and where nothing differs', () => {
    const hard: [Lab, Lab][] = [
      [
        [50, 2.49, -0.001],
        [50, -2.49, 0.001],
      ],
      [
        [50, 30, 0],
        [50, -30, 1e-9],
      ],
      [
        [50, 0, 0],
        [60, 0, 0],
      ],
      [
        [50, 0, 0],
        [50, 12, -9],
      ],
      [
        [50, 20, -60],
        [50, 20, -60],
      ],
      [
        [0, 0, 0],
        [0, 0, 0],
      ],
      [
        [30, 40, -90],
        [32, 35, -95],
      ],
    ]
    const [a, b] = [0, 1].map((k) => Float64Array.from(hard.flatMap((p) => p[k])))
    deltaE2000Pairs(a, b, new Float64Array(hard.length)).forEach((v, i) =>
      expect(Math.abs(v - deltaE2000(...hard[i]))).toBeLessThan(1e-9),
    )
  })

  test('refuses sides of unequal length', () => {
    expect(() => deltaE2000Pairs(new Float64Array(3), new Float64Array(6), new Float64Array(1))).toThrow('three values')
  })
})

test('the parts of a difference: chroma without lightness, lightness with its sign', () => {
  expect(deltaChroma([50, 1, 2], [70, 4, 6])).toBe(5)
  expect(deltaLightness([50, 1, 2], [47.5, 1, 2])).toBe(-2.5)
})

test('one name for each formula, from XYZ in cd/m²', () => {
  const white: Triple = [114, 120, 130]
  const [a, b]: Lab[] = [
    [50, 10, -10],
    [52, 12, -14],
  ]
  const [p, q] = [convertLabToXyz(a, white), convertLabToXyz(b, white)]
  expect(deltaOfXyz('de76', p, q, white)).toBeCloseTo(deltaE76(a, b), 9)
  expect(deltaOfXyz('de94', p, q, white)).toBeCloseTo(deltaE94(a, b), 9)
  expect(deltaOfXyz('de2000', p, q, white)).toBeCloseTo(deltaE2000(a, b), 9)
  expect(deltaOfXyz('deitp', p, q, white)).toBeCloseTo(deltaEItp(convertXyzToICtCp(p), convertXyzToICtCp(q)), 12)
})
