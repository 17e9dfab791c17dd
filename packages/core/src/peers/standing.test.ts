import { convertChromaticityToXyz, type XYZ } from '../color/chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites } from '../color/encodings'
import { multiplyVector, type Triple } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import { isGround, commonGround } from './commonGround'
import { usualPeerLimits } from './peerLimits'
import { furthestOf, standingOf, type MemberKnown, type SetAsked } from './standing'

const asked: SetAsked = {
  ...{ white: standardWhites.D65, standard: 'sRGB', share: 0.98, headroom: 0.03 },
  ...{ limits: usualPeerLimits, adopted: null, reference: null, now: 3000 },
}
const rgbs: Triple[] = [
  [1, 1, 1],
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [0.5, 0.5, 0.5],
]
const show = (luminance: number): PatchReading[] => {
  const m = matrixOfPrimaries(standardPrimaries['Display P3'], convertChromaticityToXyz(standardWhites.D65, luminance))
  return rgbs.map((rgb) => ({
    name: rgb.join(' '),
    rgb,
    xyz: multiplyVector(m, rgb.map((v) => v ** 2.2) as unknown as Triple).map((v) => v + 0.1) as unknown as XYZ,
  }))
}
function member(id: number, luminance: number, change: Partial<MemberKnown> = {}): MemberKnown {
  const [white, black, red, green, blue] = show(luminance).map((p) => p.xyz)
  return {
    id,
    seen: [{ corners: { white, black, red, green, blue }, control: 100, most: 100, whites: [], at: 5 }],
    ...{ blackFollows: true, fadePerDay: null, daysUntilDue: 20, byEye: null, rates: null },
    judged: { runId: 10 * id, at: 1000 * id, patches: show(100), by: null },
    ...change,
  }
}

test('a set whose members are known has the ground that the rule gives, and is as alike as they were read', () => {
  const members = [member(1, 300), member(2, 200)]
  const standing = standingOf(members, asked)
  const found = commonGround(
    standing.lights.map((l) => l.light!),
    asked,
  )
  expect(isGround(found)).toBe(true)
  expect(standing.ground).toEqual(found)
  expect(standing).toMatchObject({ lack: null, moved: [], unread: [] })
  expect(standing.alike).toMatchObject({ from: 1000, to: 2000, runs: [10, 20], oneInstrument: false, doubts: [] })
  expect(standing.alike!.forecasts).toEqual([{ kind: 'unknown' }])
  expect(furthestOf(standing.alike!)).toEqual({ average: 0, white: 0, luminance: 0 })
  expect(standing.alike!.verdict.verdict).toBe('within')
})

test('what is not known is told, and the rest all the same', () => {
  const dark = standingOf([member(1, 300), member(2, 200, { seen: [] })], asked)
  expect(dark).toMatchObject({ ground: null, lack: { why: 'unknown', members: [2] } })
  expect(dark.alike).not.toBeNull()
  const unread = standingOf([member(1, 300), member(2, 200, { judged: null })], asked)
  expect(unread).toMatchObject({ alike: null, unread: [2] })
  expect(unread.ground).not.toBeNull()
  // Whites in common are what differences are told from.
  const halves = { runId: 1, at: 1, by: null, patches: show(100).slice(1) }
  expect(standingOf([member(1, 300), member(2, 200, { judged: halves })], asked).alike).toBeNull()
  for (const few of [[], [member(1, 300)]])
    expect(standingOf(few, asked)).toMatchObject({ ground: null, lack: { why: 'too few' }, alike: null })
})

test('a ground that was adopted and has lost light since has moved', () => {
  const before = standingOf([member(1, 300), member(2, 200)], asked).ground!
  const adopted = { ...before, black: null }
  expect(standingOf([member(1, 300), member(2, 200)], { ...asked, adopted }).moved).toEqual([])
  expect(standingOf([member(1, 300), member(2, 180)], { ...asked, adopted }).moved).toEqual(['less light'])
  const gone = standingOf([member(1, 300), member(2, 200, { seen: [] })], { ...asked, adopted })
  expect(gone.moved).toEqual(['none'])
})
