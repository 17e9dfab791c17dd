import { converter } from 'culori'
import type { Triple } from '../../color/matrix3'
import { makePlan, parsePlan, samplings } from './patchPlan'
import { planCost, readingMs, type InstrumentTiming } from './planTime'
import { spaceFillingColors } from './spaceFilling'

const keys = (plan: readonly { rgb: Triple }[]) => plan.map((p) => p.rgb.join(' '))

test.each(Object.entries(samplings))(
  'the sampling “%s” is the same every time, each colour once, all within 0–1 @long',
  (_, parts) => {
    const plan = makePlan(parts, 7)
    expect(makePlan(parts, 7)).toEqual(plan)
    expect(new Set(keys(plan)).size).toBe(plan.length)
    expect(plan.every((p) => p.rgb.every((v) => v >= 0 && v <= 1) && p.name)).toBe(true)
    for (const needed of ['0 0 0', '1 1 1', '1 0 0', '0 1 0', '0 0 1']) expect(keys(plan)).toContain(needed)
  },
)

test('samplings grow: brief, usual, deep, overnight @long', () => {
  const sizes = (['brief', 'usual', 'deep', 'overnight'] as const).map((s) => makePlan(samplings[s]).length)
  expect(sizes).toEqual([...sizes].sort((a, b) => a - b))
  expect(sizes[0]).toBeLessThanOrEqual(110)
  expect(sizes[1]).toBeLessThanOrEqual(220)
  expect(sizes[2]).toBeLessThanOrEqual(700)
  expect(sizes[3]).toBe(17 ** 3)
})

test('parts hold what they say', () => {
  const part = (text: string) => makePlan(parsePlan(text))
  expect(part('greys:5').map((p) => p.rgb[0])).toEqual([0, 0.25, 0.5, 0.75, 1])
  expect(part('grid:3')).toHaveLength(27)
  expect(part('dark-greys:6').every((p) => p.rgb[0] <= 0.1 && p.rgb[0] === p.rgb[1])).toBe(true)
  expect(part('channels:4')).toHaveLength(12)
  const steps = part('hues:4')
  expect(steps).toHaveLength(24)
  // Saturation as HSV counts it, by culori.
  const hsv = converter('hsv')
  const found = steps.map(({ rgb: [r, g, b] }) => hsv({ mode: 'rgb', r, g, b })!.s)
  expect([...new Set(found.map((s) => s!.toFixed(2)))].sort()).toEqual(['0.25', '0.50', '0.75', '1.00'])
})

test('even greys are even in L*, by culori, on a nominal display', () => {
  const lab = converter('lab65')
  const levels = makePlan(parsePlan('even-greys:11')).map(({ rgb: [v] }) => {
    const y = v ** 2.2
    return lab({ mode: 'xyz65', x: 0.95047 * y, y, z: 1.08883 * y })!.l
  })
  levels.forEach((L, i) => expect(L).toBeCloseTo(10 * i, 1))
})

test('colours that fill the space keep their distance, from each other and from those that are there', () => {
  const lab = converter('lab65')
  const at = ([r, g, b]: Triple) => lab({ mode: 'rgb', r, g, b })!
  const nearest = (colors: readonly Triple[]) => {
    const labs = colors.map(at)
    return Math.min(...labs.flatMap((p, i) => labs.slice(0, i).map((q) => Math.hypot(p.l - q.l, p.a - q.a, p.b - q.b))))
  }
  const corners: Triple[] = [0, 1].flatMap((r) => [0, 1].flatMap((g) => [0, 1].map((b): Triple => [r, g, b])))
  const filled = [...corners, ...spaceFillingColors(60, 3, corners)]
  expect(nearest(filled)).toBeGreaterThan(12)
  expect(spaceFillingColors(60, 3, corners)).toEqual(filled.slice(8))
  expect(spaceFillingColors(60, 4, corners)).not.toEqual(filled.slice(8))
})

test.each([
  ['greys', '“greys” needs a whole number from 2 to 1024 behind a colon, as in greys:2.'],
  ['greys:1.5', '“greys” needs a whole number'],
  ['grid:40', '“grid” needs a whole number from 2 to 21'],
  ['natural:3', '“natural” takes no number.'],
  ['browns:3', '“browns:3” is no part of a plan. Parts are greys, even-greys'],
  ['', '“” is no part of a plan.'],
  ['toString', '“toString” is no part of a plan.'],
])('a plan that cannot be read says why: %s', (text, sentence) => {
  expect(() => makePlan(parsePlan(text))).toThrow(sentence)
})

describe('what a plan costs', () => {
  const timing: InstrumentTiming = { settleMs: 300, fastestMs: 400, slowestMs: 4000, slowBelow: 5 }
  test('readings grow longer as light falls, and no longer than the slowest', () => {
    expect(readingMs(timing, 100)).toBe(400)
    expect(readingMs(timing, 2.5)).toBe(800)
    expect(readingMs(timing, 0)).toBe(4000)
  })
  test('is the sum over its patches', () => {
    const white = { name: 'White', rgb: [1, 1, 1] as Triple }
    const black = { name: 'Black', rgb: [0, 0, 0] as Triple }
    expect(planCost([white, white], timing, 120)).toEqual({ readings: 2, minutes: 1400 / 60_000 })
    expect(planCost([black], timing, 120).minutes).toBeCloseTo(4300 / 60_000, 12)
  })
})
