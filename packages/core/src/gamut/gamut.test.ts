import { converter } from 'culori'
import { characterize } from '../characterization/characterize'
import { standardPrimaries } from '../color/encodings'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { compareSolids, volumeOf } from './gamutSolid'
import { solidOfCharacterization, solidOfEncoding } from './gamutOf'
import { comparePrimaries, triangleOf } from '../color/planarGamut'
import { areaOf, intersectConvex, type Point } from '../color/polygon'

describe('areas', () => {
  const square: Point[] = [
    [0, 0],
    [2, 0],
    [2, 2],
    [0, 2],
  ]
  test('of a polygon, whichever way it runs', () => {
    expect(areaOf(square)).toBe(4)
    expect(areaOf([...square].reverse())).toBe(4)
  })
  test('of what two share', () => {
    expect(
      areaOf(
        intersectConvex(square, [
          [1, 1],
          [3, 1],
          [3, 3],
          [1, 3],
        ]),
      ),
    ).toBeCloseTo(1, 12)
    expect(
      areaOf(
        intersectConvex(square, [
          [5, 5],
          [6, 5],
          [6, 6],
        ]),
      ),
    ).toBe(0)
    expect(
      areaOf(
        intersectConvex(square, [
          [-9, -9],
          [20, -9],
          [-9, 20],
        ]),
      ),
    ).toBeCloseTo(4, 12)
  })
})

describe('coverage and area ratio', () => {
  test('are two things: a larger triangle elsewhere has a ratio above 100 and a coverage below', () => {
    const { coverage, areaRatio } = comparePrimaries(standardPrimaries['Display P3'], standardPrimaries.opRGB, 'xy')
    expect(areaRatio).toBeGreaterThan(95)
    expect(coverage).toBeLessThan(areaRatio)
    const self = comparePrimaries(standardPrimaries.sRGB, standardPrimaries.sRGB, 'uv')
    expect(self.coverage).toBeCloseTo(100, 9)
    expect(comparePrimaries(standardPrimaries['BT.2020'], standardPrimaries.sRGB, 'uv').coverage).toBeLessThanOrEqual(
      100,
    )
  })

  test('are those that points thrown at random find', () => {
    const uniform = uniformFrom(9)
    const inside = ([a, b, c]: Point[], [x, y]: Point) => {
      const s = (p: Point, q: Point) => (q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0])
      const sides = [s(a, b), s(b, c), s(c, a)]
      return sides.every((v) => v >= 0) || sides.every((v) => v <= 0)
    }
    for (const diagram of ['xy', 'uv'] as const) {
      const [own, wanted] = (['opRGB', 'Display P3'] as const).map((n) => triangleOf(standardPrimaries[n], diagram))
      let [hit, both] = [0, 0]
      for (let i = 0; i < 200_000; i++) {
        const p: Point = [uniform(), uniform()]
        if (!inside(wanted, p)) continue
        hit++
        if (inside(own, p)) both++
      }
      const { coverage } = comparePrimaries(standardPrimaries.opRGB, standardPrimaries['Display P3'], diagram)
      expect(Math.abs(coverage - (100 * both) / hit)).toBeLessThan(1)
    }
  })
})

describe('volumes in CIELAB', () => {
  type Mode = 'rgb' | 'p3' | 'a98'
  const modes: readonly Mode[] = ['rgb', 'p3', 'a98']
  const to = Object.fromEntries(modes.map((mode) => [mode, converter(mode)])) as Record<
    Mode,
    ReturnType<typeof converter>
  >
  const [stepL, stepA, stepB] = [2.5, 5, 5]
  /** By counting: cells of CIELAB (D50) whose middle lies within an encoding, by culori's own conversions. */
  const counted = (() => {
    const cells = { rgb: 0, p3: 0, a98: 0, both: 0 }
    for (let l = stepL / 2; l < 100; l += stepL)
      for (let a = -140 + stepA / 2; a < 120; a += stepA)
        for (let b = -130 + stepB / 2; b < 150; b += stepB) {
          const inside = modes.filter((mode) => {
            const { r, g, b: blue } = to[mode]({ mode: 'lab', l, a, b }) as { r: number; g: number; b: number }
            return [r, g, blue].every((v) => v >= -1e-6 && v <= 1 + 1e-6)
          })
          inside.forEach((mode) => cells[mode]++)
          if (inside.includes('rgb') && inside.includes('p3')) cells.both++
        }
    return cells
  })()

  test.each([
    ['sRGB', 'rgb'],
    ['Display P3', 'p3'],
    ['opRGB', 'a98'],
  ] as const)('%s has the volume that counting cells with culori finds, within 1 %%', (name, mode) => {
    const volume = volumeOf(solidOfEncoding(name))
    const reference = counted[mode] * stepL * stepA * stepB
    told(`gamut volume of ${name} (${Math.round(volume)}) against counting, %`, 100 * Math.abs(volume / reference - 1))
    expect(Math.abs(volume / reference - 1)).toBeLessThan(0.01)
  })

  test('coverage is what counting finds, and never above 100', () => {
    const ours = compareSolids(solidOfEncoding('sRGB'), solidOfEncoding('Display P3'))
    const off = Math.abs(ours.coverage - (100 * counted.both) / counted.p3)
    told('volume coverage of Display P3 by sRGB against counting, percent points', off)
    expect(off).toBeLessThan(1)
    const larger = compareSolids(solidOfEncoding('BT.2020'), solidOfEncoding('sRGB'))
    expect(larger.coverage).toBeGreaterThan(99.9)
    expect(larger.coverage).toBeLessThanOrEqual(100)
    expect(larger.volumeRatio).toBeGreaterThan(150)
    expect(larger.missing).toEqual([])
  })

  test('what is missing is told by hue: sRGB lacks the greens and reds of Display P3, not its blues', () => {
    const { missing, coverage } = compareSolids(solidOfEncoding('sRGB'), solidOfEncoding('Display P3'))
    expect(missing.reduce((sum, p) => sum + p.missing, 0)).toBeCloseTo(100 - coverage, 0)
    expect(missing[0].hueFrom).toBeGreaterThanOrEqual(90)
    expect(missing[0].hueTo).toBeLessThanOrEqual(180)
    const at = (hue: number) => missing.find((p) => p.hueFrom <= hue && hue < p.hueTo)?.missing ?? 0
    expect(at(40)).toBeGreaterThan(at(290))
  })

  test('a measured display’s solid is that of its primaries, less what its black takes', () => {
    const panel = testPanel({ primaries: standardPrimaries['Display P3'], white: { x: 0.3127, y: 0.329 }, black: 0.02 })
    const own = solidOfCharacterization(characterize(readingsOf(panel, 60)))
    const { coverage, volumeRatio } = compareSolids(own, solidOfEncoding('Display P3'))
    expect(coverage).toBeGreaterThan(97)
    expect(volumeRatio).toBeGreaterThan(97)
    expect(volumeRatio).toBeLessThan(101)
  })
})
