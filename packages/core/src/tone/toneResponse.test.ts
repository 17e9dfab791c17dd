import { converter } from 'culori'
import { uniformFrom } from '../test/uniform'
import { invertRising, monotoneCurve } from './monotoneCurve'
import { toneCurve, type ToneResponse } from './toneResponse'

const tones: ToneResponse[] = [
  { kind: 'power', exponent: 1.8 },
  { kind: 'power', exponent: 2.6 },
  { kind: 'sRGB' },
  { kind: 'L*' },
  { kind: 'BT.1886' },
]

describe.each(tones.map((t) => [JSON.stringify(t), t] as const))('%s', (_, tone) => {
  test.each([0, 0.0005, 0.01])('decode and encode undo each other with black at %s of white', (black) => {
    const { decode, encode } = toneCurve(tone, black)
    for (let i = 0; i <= 200; i++) {
      expect(encode(decode(i / 200))).toBeCloseTo(i / 200, 9)
      expect(decode(encode(i / 200))).toBeCloseTo(i / 200, 9)
    }
  })

  test('rises from 0 to 1 and clamps beyond', () => {
    const { decode } = toneCurve(tone, 0.001)
    expect(decode(0)).toBe(0)
    expect(decode(1)).toBeCloseTo(1, 12)
    expect(decode(-1)).toBe(0)
    expect(decode(2)).toBeCloseTo(1, 12)
    for (let i = 1; i <= 200; i++) expect(decode(i / 200)).toBeGreaterThan(decode((i - 1) / 200))
  })
})

test('sRGB agrees with culori', () => {
  const linear = converter('lrgb')
  const { decode } = toneCurve({ kind: 'sRGB' })
  for (let i = 0; i <= 255; i++)
    expect(decode(i / 255)).toBeCloseTo(linear({ mode: 'rgb', r: i / 255, g: 0, b: 0 })!.r, 9)
})

test('L* puts a mid signal where CIELAB has L* 50: 18.4 % of the light', () => {
  expect(toneCurve({ kind: 'L*' }).decode(0.5)).toBeCloseTo(0.18419, 5)
})

test('BT.1886 is a power of 2.4 without black, and lifts the shadows with it', () => {
  const none = toneCurve({ kind: 'BT.1886' }, 0)
  const lifted = toneCurve({ kind: 'BT.1886' }, 0.001)
  for (const v of [0.1, 0.5, 0.9]) expect(none.decode(v)).toBeCloseTo(v ** 2.4, 12)
  // Annex 1 with Lw 100, Lb 0.1 cd/m²: L = 84.27…·(V + 0.0596…)^2.4.
  const a = (100 ** (1 / 2.4) - 0.1 ** (1 / 2.4)) ** 2.4
  const b = 0.1 ** (1 / 2.4) / (100 ** (1 / 2.4) - 0.1 ** (1 / 2.4))
  for (const v of [0.05, 0.3, 0.8]) expect(0.1 + lifted.decode(v) * 99.9).toBeCloseTo(a * (v + b) ** 2.4, 9)
})

describe('monotone curve', () => {
  test('goes through its points and never turns back between them', () => {
    const uniform = uniformFrom(5)
    for (let round = 0; round < 50; round++) {
      const xs = [0]
      const ys = [0]
      for (let i = 0; i < 12; i++) {
        xs.push(xs[i] + 0.01 + uniform())
        ys.push(ys[i] + (uniform() < 0.3 ? 0 : uniform() ** 3))
      }
      const f = monotoneCurve(xs, ys)
      xs.forEach((x, i) => expect(f(x)).toBeCloseTo(ys[i], 10))
      let last = -Infinity
      for (let i = 0; i <= 400; i++) {
        const y = f((i / 400) * xs[xs.length - 1])
        expect(y).toBeGreaterThanOrEqual(last - 1e-12)
        last = y
      }
    }
  })

  test('straight points give a straight line', () => {
    const f = monotoneCurve([0, 1, 3], [1, 3, 7])
    for (const x of [-1, 0.3, 2, 5]) expect(f(x)).toBeCloseTo(1 + 2 * x, 12)
  })

  test('inverts to the place it came from', () => {
    const f = (x: number) => x ** 2.2
    for (const x of [0, 0.013, 0.5, 1]) expect(invertRising(f, f(x))).toBeCloseTo(x, 10)
    expect(invertRising(f, 2)).toBe(1)
    expect(invertRising(f, -1)).toBe(0)
  })

  test('refuses points that do not rise', () => {
    expect(() => monotoneCurve([0, 0], [1, 2])).toThrow('must rise')
    expect(() => monotoneCurve([0], [1])).toThrow('two points')
  })
})
