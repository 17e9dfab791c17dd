import { differenceCiede2000 } from 'culori'
import { add, scale, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import type { PatchReading } from '../color/patchReading'
import { convertXyzToLab } from '../color/lab'
import { testPanel } from '../test/panel'
import { howAlike, type MemberShown } from './differences'

const greys = [0, 0.1, 0.25, 0.5, 0.75, 1].map((v): Triple => [v, v, v])
const colors: Triple[] = [...greys, [1, 0, 0], [0, 1, 0], [0, 0, 1], [0.8, 0.4, 0.3], [0.2, 0.5, 0.7]]
const of = (emit: (rgb: Triple) => XYZ): PatchReading[] =>
  colors.map((rgb) => ({ name: `Patch ${rgb.join(' ')}`, rgb, xyz: emit(rgb) }))
const panel = testPanel()
const white = panel([1, 1, 1])
const member = (id: number, emit: (rgb: Triple) => XYZ = panel): MemberShown => ({ id, readings: of(emit) })

test('the same light is alike to nothing at all, and nobody stands out', () => {
  const { pairs, odd } = howAlike([member(1), member(2), member(3)], white)
  expect(pairs.map((p) => p.pair)).toEqual([
    [1, 2],
    [1, 3],
    [2, 3],
  ])
  for (const p of pairs) expect([p.average, p.worst.deltaE, p.white.deltaUv, p.white.luminance]).toEqual([0, 0, 0, 0])
  expect(odd).toBeNull()
})

test('differences are those of an independent library', () => {
  const other = testPanel({ white: { x: 0.309, y: 0.322 }, luminance: 133, exponents: [2.25, 2.1, 2.3] })
  const { pairs } = howAlike([member(1), member(2, other)], white)
  const lab = (xyz: XYZ) => {
    const [l, a, b] = convertXyzToLab(xyz, white)
    return { mode: 'lab65' as const, l, a, b }
  }
  const theirs = colors.map((rgb) => differenceCiede2000()(lab(panel(rgb)), lab(other(rgb))))
  expect(pairs[0].average).toBeCloseTo(theirs.reduce((a, b) => a + b, 0) / theirs.length, 9)
  expect(pairs[0].worst.deltaE).toBeCloseTo(Math.max(...theirs), 9)
  expect(pairs[0].worst.patch).toBe(`Patch ${colors[theirs.indexOf(Math.max(...theirs))].join(' ')}`)
  expect(pairs[0].white.luminance).toBeCloseTo(other([1, 1, 1])[1] / white[1] - 1, 12)
})

test('signs tell the second from the first, and turn with the order', () => {
  const brighter = (rgb: Triple) => scale(panel(rgb), 1.04)
  const [there] = howAlike([member(1), member(2, brighter)], white).pairs
  const [back] = howAlike([member(2, brighter), member(1)], white).pairs
  expect(there.white.luminance).toBeCloseTo(0.04, 9)
  expect(back.white.luminance).toBeCloseTo(1 / 1.04 - 1, 9)
  expect(there.greys.map((g) => g.level)).toEqual([0, 0.1, 0.25, 0.5, 0.75, 1])
  there.greys.forEach((g, i) => {
    expect(g.lighter).toBeGreaterThan(0)
    expect(back.greys[i].lighter).toBeCloseTo(-g.lighter, 9)
    expect(back.greys[i].deltaE).toBeCloseTo(g.deltaE, 9)
  })
})

test('who stands apart is found, with the direction as the others see it', () => {
  const near = (by: number) => (rgb: Triple) => scale(panel(rgb), 1 + by)
  const bluer = (rgb: Triple): XYZ => add(panel(rgb), [0, 0, 0.08 * panel(rgb)[2]])
  for (const place of [0, 1, 2, 3]) {
    const set = [member(11, near(0.002)), member(12, near(-0.002)), member(13)]
    set.splice(place, 0, member(7, bluer))
    const { odd } = howAlike(set, white)
    expect(odd?.id).toBe(7)
    expect(odd!.average).toBeGreaterThan(3 * odd!.others)
    expect(odd!.white.v).toBeLessThan(-0.002)
    expect(Math.abs(odd!.white.luminance)).toBeLessThan(0.003)
  }
})

test('of two nobody is the odd one; patches of one alone count for neither, and without a white there is no telling', () => {
  const other = member(2, testPanel({ luminance: 120 }))
  expect(howAlike([member(1), other], white).odd).toBeNull()
  const fewer = { id: 2, readings: other.readings.filter((p) => p.rgb[0] === p.rgb[1]) }
  expect(howAlike([member(1), fewer], white).pairs[0].worst.patch).toMatch(/^Patch ([\d.]+) \1 /)
  const dark = { id: 2, readings: other.readings.filter((p) => p.rgb[0] < 1) }
  expect(() => howAlike([member(1), dark], white)).toThrow('Members 1 and 2 have no white in common.')
})
