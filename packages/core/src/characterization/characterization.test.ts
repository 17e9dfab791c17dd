import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab, type Lab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { fitAdditiveModel } from './additiveModel'
import { makePlan } from '../runs/plan/patchPlan'
import { predictLab, predictXyz } from './characterization'
import { characterize, leastCertainColors } from './characterize'
import { crossValidate } from './crossValidate'
import { invertLab, invertXyz, makeInverter } from './inversion'

const panel = testPanel({ coupling: 0.04 })
const readings = readingsOf(panel, 200)
const c = characterize(readings)
const uniform = uniformFrom(51)
const colors = Array.from({ length: 500 }, (): Triple => [uniform(), uniform(), uniform()])
const off = (rgb: Triple) => deltaE2000(convertXyzToLab(panel(rgb), c.white), predictLab(c, rgb))
const average = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

describe('from 200 noise-free readings of a panel with 4 % crosstalk and unequal curves', () => {
  test('predicts 500 other colours: average within 0.25, worst within 1', () => {
    const errors = colors.map(off)
    told('characterization, 200 readings, 500 colours, worst ΔE2000', Math.max(...errors))
    told('the same, average ΔE2000', average(errors))
    expect(average(errors)).toBeLessThan(0.25)
    expect(Math.max(...errors)).toBeLessThan(1)
  })

  test('does far better than matrix and curves alone: the residual is what takes the crosstalk up', () => {
    const { black, matrix, curves } = fitAdditiveModel(readings)
    const plain = colors.map((rgb) => {
      const light = rgb.map((v, k) => curves[k](v))
      const xyz = matrix.map((row, k) => black[k] + row[0] * light[0] + row[1] * light[1] + row[2] * light[2])
      return deltaE2000(convertXyzToLab(panel(rgb), c.white), convertXyzToLab(xyz as unknown as Triple, c.white))
    })
    expect(average(plain)).toBeGreaterThan(5 * average(colors.map(off)))
  })

  test('tells its own error by leaving readings out: neither assumed nor far from the truth @long', () => {
    const told5 = crossValidate(readings)!
    const truth = average(colors.map(off))
    expect(told5.averageDeltaE).toBeGreaterThan(truth / 3)
    expect(told5.averageDeltaE).toBeLessThan(truth * 4)
    expect(told5.worstDeltaE).toBeGreaterThanOrEqual(told5.percentile95DeltaE)
    expect(crossValidate(readings.slice(0, 30))).toBeNull()
  })

  test('goes through white and black as they were read', () => {
    predictXyz(c, [1, 1, 1]).forEach((v, k) => expect(Math.abs(v - panel([1, 1, 1])[k]) / v).toBeLessThan(2e-3))
    predictXyz(c, [0, 0, 0]).forEach((v, k) => expect(Math.abs(v - panel([0, 0, 0])[k])).toBeLessThan(0.01))
  })
})

test.each([51, 52, 53])(
  'noise is evened out: with 0.3 % in every X, Y and Z (seed %i) the error is less than its own @long',
  (seed) => {
    const uniform = uniformFrom(seed)
    const noisy = readings.map((r) => ({
      ...r,
      xyz: r.xyz.map((v) => v * (1 + 0.003 * (uniform() + uniform() + uniform() - 1.5) * 2)) as unknown as Triple,
    }))
    const model = characterize(noisy)
    const errors = colors.map((rgb) => deltaE2000(convertXyzToLab(panel(rgb), model.white), predictLab(model, rgb)))
    const own = noisy.map((r, i) =>
      deltaE2000(convertXyzToLab(r.xyz, c.white), convertXyzToLab(readings[i].xyz, c.white)),
    )
    expect(average(errors)).toBeLessThan(0.9 * average(own))
  },
)

test('a panel without crosstalk is additive, and found to be', () => {
  const plain = testPanel()
  const model = characterize(readingsOf(plain, 60))
  const errors = colors.map((rgb) => deltaE2000(convertXyzToLab(plain(rgb), model.white), predictLab(model, rgb)))
  expect(average(errors)).toBeLessThan(0.05)
})

test('a full grid of thousands is fitted as well, from as many as the time allows @long', () => {
  const grid = makePlan([
    { part: 'grid', count: 15 },
    { part: 'greys', count: 30 },
  ]).map(({ name, rgb }) => ({ name, rgb, xyz: panel(rgb) }))
  expect(grid.length).toBeGreaterThan(3000)
  const model = characterize(grid)
  expect(model.readings).toBe(grid.length)
  const errors = colors.map((rgb) => deltaE2000(convertXyzToLab(panel(rgb), model.white), predictLab(model, rgb)))
  expect(average(errors)).toBeLessThan(average(colors.map(off)))
})

test('says which reading is missing', () => {
  const without = (rgb: Triple) => readings.filter((r) => r.rgb.some((v, k) => v !== rgb[k]))
  expect(() => characterize(without([0, 0, 1]))).toThrow('The readings hold no blue (RGB 0 0 100 %).')
  expect(() => characterize(readings.filter(({ rgb: [r, g] }) => r !== g || r === 0 || r === 1))).toThrow('two greys')
})

describe('the way back', () => {
  test('finds the signal of every colour that the display shows', () => {
    const left = colors.map((rgb) => invertLab(c, predictLab(c, rgb)).left)
    told('signal → colour → signal, ΔE76 left, worst of 500', Math.max(...left))
    expect(Math.max(...left)).toBeLessThan(0.2)
    expect(left.filter((v) => v > 0.01).length).toBeLessThan(10)
    expect(invertXyz(c, panel([0.4, 0.5, 0.6])).rgb[1]).toBeCloseTo(0.5, 2)
  })

  test('keeps the hue of what the display cannot show, and stays at its edge', () => {
    const turns: number[] = []
    for (let i = 0; i < 400; i++) {
      const [L, C, h] = [15 + 75 * uniform(), 90 + 60 * uniform(), 2 * Math.PI * uniform()]
      const { rgb, left } = invertLab(c, [L, C * Math.cos(h), C * Math.sin(h)])
      if (left < 3) continue
      // A dark channel may rest a hair inside: there its light starts flat.
      expect(Math.min(...rgb) < 0.01 || Math.max(...rgb) === 1).toBe(true)
      const [, a, b] = predictLab(c, rgb)
      if (Math.hypot(a, b) < 10) continue
      const turn = Math.atan2(b, a) - h
      turns.push((Math.abs(Math.atan2(Math.sin(turn), Math.cos(turn))) * 180) / Math.PI)
    }
    told('hue turned by gamut mapping, average of colours out of reach, degrees', average(turns))
    told('the same, worst, degrees', Math.max(...turns))
    expect(turns.length).toBeGreaterThan(200)
    expect(average(turns)).toBeLessThan(1)
    expect(Math.max(...turns)).toBeLessThan(10)
  })

  test('no other signal comes nearer by the measure that it makes small @long', () => {
    const out = new Float64Array(3)
    const { intoSignal } = makeInverter(c)
    const measure = (rgb: Triple, [L, a, b]: Lab) => {
      const [l, p, q] = predictLab(c, rgb)
      const C = Math.hypot(a, b)
      const dC = ((p - a) * a + (q - b) * b) / C / (1 + 0.045 * C)
      const dH = (4 * ((q - b) * a - (p - a) * b)) / C / (1 + 0.015 * C)
      return Math.hypot(l - L, dC, dH)
    }
    for (const lab of [
      [60, 90, 60],
      [40, -80, 20],
      [30, 20, -110],
      [90, -40, 110],
    ] as Lab[]) {
      intoSignal(lab[0], lab[1], lab[2], out)
      const best = measure([out[0], out[1], out[2]], lab)
      for (let i = 0; i < 3000; i++)
        expect(measure([uniform(), uniform(), uniform()], lab)).toBeGreaterThan(best - 1e-3)
    }
  })
})

describe('what to read next', () => {
  test('is spread over what the readings left open, the same for the same seed', () => {
    const sparse = readingsOf(panel, 40)
    const next = leastCertainColors(sparse, 12, 3)
    expect(next).toHaveLength(12)
    expect(leastCertainColors(sparse, 12, 3)).toEqual(next)
    const near = next.filter((p) => sparse.some(({ rgb }) => Math.hypot(...rgb.map((v, k) => v - p[k])) < 0.05))
    expect(near).toHaveLength(0)
  })

  test('helps more than reading anywhere @long', () => {
    const sparse = readingsOf(panel, 40)
    const withColors = (more: readonly Triple[]) =>
      characterize([...sparse, ...more.map((rgb) => ({ name: '', rgb, xyz: panel(rgb) }))])
    const error = (more: readonly Triple[]) => {
      const model = withColors(more)
      return average(colors.map((rgb) => deltaE2000(convertXyzToLab(panel(rgb), c.white), predictLab(model, rgb))))
    }
    const chosen = error(leastCertainColors(sparse, 30))
    const anywhere = [1, 2, 3].map((seed) => {
      const u = uniformFrom(seed)
      return error(Array.from({ length: 30 }, (): Triple => [u(), u(), u()]))
    })
    expect(chosen).toBeLessThan(average(anywhere))
  })
})
