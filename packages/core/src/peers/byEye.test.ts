import { convertXyzToUv, convertChromaticityToXyz, standardWhites, type Triple, type XYZ } from '../color'
import { aimTargets, describeAim, resolveAim, whiteChromaticity, type Aim } from '../aims'
import { convertChromaticityToUv } from '../color/chromaticity'
import type { PatchReading } from '../color/patchReading'
import { howAlike } from './differences'
import { matchedOffset, matchShare, matchSides, matchSignal, matchStart, seenByEye, settleMatch } from './byEye'

const panel = {
  white: { x: 0.31, y: 0.32 },
  primaries: { red: { x: 0.68, y: 0.31 }, green: { x: 0.26, y: 0.69 }, blue: { x: 0.15, y: 0.06 } },
  black: [0.1, 0.11, 0.14] as XYZ,
}
const aimOf = (toneResponse: Aim['toneResponse'], luminance = 160): Aim => ({
  ...{ white: { kind: 'standard', name: 'D65' }, luminance, toneResponse },
  primaries: { kind: 'standard', name: 'Display P3' },
})

test.each([
  ['power', { kind: 'power', exponent: 2.4 }],
  ['L*', { kind: 'L*' }],
  ['BT.1886', { kind: 'BT.1886' }],
  ['HLG', { kind: 'HLG' }],
] as const)('a display that meets an aim of %s shows the white where it was moved to', (_, toneResponse) => {
  const aim = resolveAim(aimOf(toneResponse), panel)
  const shown = aimTargets(aim)
  const still = convertXyzToUv(aim.white)
  for (const nudge of [
    { u: 0, v: 0 },
    { u: 0.004, v: -0.002 },
    ...Array.from({ length: matchSides }, (__, i) => matchStart(i)),
  ]) {
    const signal = matchSignal(aim, nudge, matchShare * 160)
    const xyz = shown(signal)
    const { u, v } = convertXyzToUv(xyz)
    expect(xyz[1]).toBeCloseTo(matchShare * 160, 6)
    expect(u - still.u).toBeCloseTo(nudge.u, 9)
    expect(v - still.v).toBeCloseTo(nudge.v, 9)
  }
  expect(() => matchSignal(aim, { u: 0.2, v: 0 }, 112)).toThrow(RangeError)
  expect(() => matchSignal(aim, { u: 0.01, v: 0 }, 160)).toThrow(RangeError)
})

test('repetitions begin around what is measured alike, and none beside the one before', () => {
  const starts = Array.from({ length: matchSides }, (_, i) => matchStart(i))
  starts.forEach((s, i) => {
    expect(Math.hypot(s.u, s.v)).toBeCloseTo(0.008, 12)
    const next = starts.at(i + 1)
    if (next) expect(Math.hypot(s.u - next.u, s.v - next.v)).toBeGreaterThan(0.0135)
  })
  expect(starts.reduce((sum, s) => sum + s.u, 0)).toBeCloseTo(0, 12)
})

test('what repetitions come to is their mean, with the standard deviation of one coordinate', () => {
  const repeats = [
    { side: 0, u: 0.001, v: 0 },
    { side: 1, u: 0.003, v: 0.002 },
  ]
  const { u, v, scatter, doubt } = settleMatch(repeats)
  expect([u, v]).toEqual([0.002, 0.001])
  // Two readings 0.002 apart on each axis: sample variance 0.002²/2.
  expect(scatter).toBeCloseTo(Math.sqrt(0.002 ** 2 / 2), 12)
  expect(doubt).toBeCloseTo(scatter / Math.SQRT2, 12)
  expect(() => settleMatch(repeats.slice(1))).toThrow(RangeError)
})

test('a member that measures what looks alike is alike, and one that measures alike is not', () => {
  const aim = resolveAim(aimOf({ kind: 'power', exponent: 2.2 }), { ...panel, black: [0, 0, 0] })
  const offset = matchedOffset({ u: 0.003, v: -0.001 }, standardWhites.D65, { x: 0.3137, y: 0.328 })
  const own = convertChromaticityToUv(standardWhites.D65)
  const other = convertChromaticityToUv({ x: 0.3137, y: 0.328 })
  expect(offset.u).toBeCloseTo(own.u + 0.003 - other.u, 12)

  const eye: Aim = {
    ...aimOf({ kind: 'power', exponent: 2.2 }),
    white: { kind: 'by eye', of: { kind: 'standard', name: 'D65' }, ...offset },
  }
  expect(describeAim(eye)).toMatch(/D65 by eye, u′v′ [+−]0\.\d{4} [+−]0\.\d{4}/)
  const white = convertChromaticityToUv(whiteChromaticity(eye.white, { x: 0, y: 1 }))
  expect([white.u - own.u, white.v - own.v]).toEqual([expect.closeTo(offset.u, 12), expect.closeTo(offset.v, 12)])

  const patches: Triple[] = [
    [1, 1, 1],
    [0.5, 0.5, 0.5],
    [0.9, 0.7, 0.6],
    [0.2, 0.2, 0.2],
  ]
  const read = (of: (rgb: Triple) => XYZ): PatchReading[] =>
    patches.map((rgb) => ({ name: rgb.join(' '), rgb, xyz: of(rgb) }))
  const plain = read(aimTargets(aim))
  const moved = read(aimTargets(resolveAim(eye, { ...panel, black: [0, 0, 0] })))
  const setWhite = convertChromaticityToXyz(standardWhites.D65, 160)
  const apart = (a: readonly PatchReading[], b: readonly PatchReading[]) =>
    howAlike(
      [
        { id: 1, readings: a },
        { id: 2, readings: b },
      ],
      setWhite,
    ).pairs[0]
  expect(apart(plain, seenByEye(moved, standardWhites.D65, offset)).white.deltaUv).toBeCloseTo(0, 9)
  expect(apart(plain, seenByEye(moved, standardWhites.D65, offset)).average).toBeLessThan(0.15)
  expect(apart(plain, seenByEye(plain, standardWhites.D65, offset)).white.deltaUv).toBeCloseTo(
    Math.hypot(offset.u, offset.v),
    5,
  )
  expect(seenByEye(plain, standardWhites.D65, null)).toBe(plain)
})
