import { converter } from 'culori'
import { uniformFrom } from '../basics/random'
import { decodeHlg, encodeHlg, hlgSystemGamma } from './hlg'
import { decodePq, encodePq } from './pq'
import { told } from '../test/told'
import { invertRising, monotoneCurve } from './monotoneCurve'
import { toneCurve, type ToneResponse } from './toneResponse'

const tones: ToneResponse[] = [
  { kind: 'power', exponent: 1.8 },
  { kind: 'power', exponent: 2.6 },
  { kind: 'sRGB' },
  { kind: 'L*' },
  { kind: 'BT.1886' },
  { kind: 'HLG' },
  {
    kind: 'curve',
    points: [
      [0, 0],
      [0.3, 0.05],
      [0.55, 0.2],
      [1, 1],
    ],
  },
]

describe.each(tones.map((t) => [JSON.stringify(t), t] as const))('%s', (_, tone) => {
  test.each([0, 0.0005, 0.01])('decode and encode undo each other with black at %s of white', (black) => {
    const { decode, encode } = toneCurve(tone, { blackRatio: black })
    let off = 0
    for (let i = 0; i <= 200; i++) {
      const v = i / 200
      off = Math.max(off, Math.abs(encode(decode(v)) - v), Math.abs(decode(encode(v)) - v))
    }
    told(`tone response ${tone.kind}, there and back, black ${black}`, off)
    expect(off).toBeLessThan(1e-9)
  })

  test('rises from 0 to 1 and clamps beyond', () => {
    const { decode } = toneCurve(tone, { blackRatio: 0.001 })
    expect(decode(0)).toBe(0)
    expect(decode(1)).toBeCloseTo(1, 12)
    expect(decode(-1)).toBe(0)
    expect(decode(2)).toBeCloseTo(1, 12)
    for (let i = 1; i <= 200; i++) expect(decode(i / 200)).toBeGreaterThan(decode((i - 1) / 200))
  })
})

describe('PQ', () => {
  // SMPTE ST 2084 and ITU-R BT.2408 table 1: signal of some luminances.
  test.each([
    [0, 0],
    [0.1, 0.0623],
    [1, 0.15],
    [10, 0.3],
    [100, 0.508],
    [203, 0.581],
    [1000, 0.752],
    [4000, 0.903],
    [10000, 1],
  ])('%s cd/m² is %s of the signal', (luminance, signal) => {
    told(`PQ signal of ${luminance} cd/m² against the printed digits`, Math.abs(encodePq(luminance) - signal))
    expect(encodePq(luminance)).toBeCloseTo(signal, 3)
    expect(decodePq(encodePq(luminance))).toBeCloseTo(luminance, 6)
  })

  test('on a display it is absolute, and clipped where the display ends', () => {
    const { decode, encode } = toneCurve({ kind: 'PQ' }, { peak: 120 })
    for (let v = 0; v < encodePq(120); v += 0.01) {
      expect(decode(v) * 120).toBeCloseTo(decodePq(v), 9)
      expect(encode(decode(v))).toBeCloseTo(v, 9)
    }
    expect(decode(0.9)).toBe(1)
  })
})

describe('HLG', () => {
  test('has the points of ITU-R BT.2100 and BT.2408: half a signal is a twelfth of the light, 75 % is 203 cd/m² of 1,000', () => {
    expect(decodeHlg(0.5)).toBeCloseTo(1 / 12, 12)
    expect(decodeHlg(1)).toBeCloseTo(1, 6)
    expect(hlgSystemGamma(1000)).toBe(1.2)
    const { decode } = toneCurve({ kind: 'HLG' }, { peak: 1000 })
    told('HLG at 75 % on 1,000 cd/m² against BT.2408’s 203, cd/m²', Math.abs(decode(0.75) * 1000 - 203))
    expect(decode(0.75) * 1000).toBeCloseTo(203, 0)
  })

  test('inverts exactly, and its system gamma grows with the display', () => {
    for (let i = 0; i <= 100; i++) expect(decodeHlg(encodeHlg(i / 100))).toBeCloseTo(i / 100, 12)
    expect(hlgSystemGamma(100)).toBeLessThan(1)
    // BT.2100-2 note 5f: 1.2 + 0.42·log10(Lw/1000) between 400 and 2,000 cd/m².
    for (const peak of [400, 1000, 2000])
      expect(Math.abs(hlgSystemGamma(peak) - (1.2 + 0.42 * Math.log10(peak / 1000)))).toBeLessThan(0.03)
  })
})

test('a curve whose points do not rise is refused', () => {
  expect(() =>
    toneCurve({
      kind: 'curve',
      points: [
        [0.5, 0],
        [0.5, 1],
      ],
    }),
  ).toThrow('must rise')
})

test('sRGB agrees with culori', () => {
  const linear = converter('lrgb')
  const { decode } = toneCurve({ kind: 'sRGB' })
  const off = Math.max(
    ...Array.from({ length: 256 }, (_, i) =>
      Math.abs(decode(i / 255) - linear({ mode: 'rgb', r: i / 255, g: 0, b: 0 })!.r),
    ),
  )
  told('sRGB tone response against culori', off)
  expect(off).toBeLessThan(1e-9)
})

test('L* puts a mid signal where CIELAB has L* 50: 18.4 % of the light', () => {
  expect(toneCurve({ kind: 'L*' }).decode(0.5)).toBeCloseTo(0.18419, 5)
})

test('BT.1886 is a power of 2.4 without black, and lifts the shadows with it', () => {
  const none = toneCurve({ kind: 'BT.1886' }, { blackRatio: 0 })
  const lifted = toneCurve({ kind: 'BT.1886' }, { blackRatio: 0.001 })
  for (const v of [0.1, 0.5, 0.9]) expect(none.decode(v)).toBeCloseTo(v ** 2.4, 12)
  // Annex 1 with Lw 100, Lb 0.1 cd/m²: L = 84.27…·(V + 0.0596…)^2.4.
  const a = (100 ** (1 / 2.4) - 0.1 ** (1 / 2.4)) ** 2.4
  const b = 0.1 ** (1 / 2.4) / (100 ** (1 / 2.4) - 0.1 ** (1 / 2.4))
  for (const v of [0.05, 0.3, 0.8]) expect(0.1 + lifted.decode(v) * 99.9).toBeCloseTo(a * (v + b) ** 2.4, 9)
})

describe('monotone curve', () => {
  test('goes through its points and never turns back between them @long', () => {
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
