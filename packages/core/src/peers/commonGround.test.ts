import { primariesOfCorners } from '../runs/level'
import { uniformFrom } from '../basics/random'
import { convertChromaticityToXyz, convertUvToChromaticity, type XYZ } from '../color/chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites, type Primaries } from '../color/encodings'
import { add, invert, multiplyVector, subtract, transpose, type Triple } from '../color/matrix3'
import { comparePrimaries, triangleOf } from '../color/planarGamut'
import { areaOf, type Point } from '../color/polygon'
import { commonGround, isGround, reachOf, type CommonGround, type GroundAsked, type MemberLight } from './commonGround'

const D65 = standardWhites.D65
const asked: GroundAsked = { white: D65, standard: null, share: 0.98, headroom: 0.03 }

/** A member that adds up: primaries, white and luminance as said, black a share of white. */
function member(
  id: number,
  {
    primaries = standardPrimaries['Display P3'] as Primaries,
    white = { x: 0.31, y: 0.325 },
    luminance = 300,
    contrast = 1000,
    subpixel = 0,
  } = {},
  more: Partial<MemberLight> = {},
): MemberLight {
  const black = convertChromaticityToXyz({ x: 0.3, y: 0.31 }, luminance / contrast)
  const m = matrixOfPrimaries(primaries, convertChromaticityToXyz(white, luminance * (1 - subpixel)))
  const of = (rgb: Triple) => add(multiplyVector(m, rgb), black)
  const whole = add(of([1, 1, 1]), convertChromaticityToXyz(white, luminance * subpixel))
  return {
    ...{ id, red: of([1, 0, 0]), green: of([0, 1, 0]), blue: of([0, 0, 1]), white: whole, black },
    ...{ blackFollows: true, fadePerDay: null, daysUntilDue: 30 },
    ...more,
  }
}

/** Members at random: two to eight, primaries about those of wide displays, whites and light of their own. */
function randomSet(seed: number): MemberLight[] {
  const uniform = uniformFrom(seed)
  const about = (v: number, by: number) => v + by * (2 * uniform() - 1)
  return Array.from({ length: 2 + Math.floor(7 * uniform()) }, (_, i) =>
    member(
      i + 1,
      {
        primaries: {
          red: { x: about(0.66, 0.03), y: about(0.32, 0.02) },
          green: { x: about(0.25, 0.06), y: about(0.66, 0.05) },
          blue: { x: about(0.15, 0.01), y: about(0.06, 0.015) },
        },
        white: { x: about(0.313, 0.012), y: about(0.328, 0.012) },
        luminance: 80 * 8 ** uniform(),
        contrast: 300 * 30 ** uniform(),
      },
      { fadePerDay: uniform() < 0.5 ? null : 0.001 * uniform(), daysUntilDue: 60 * uniform() },
    ),
  )
}

const ground = (members: readonly MemberLight[], change: Partial<GroundAsked> = {}): CommonGround => {
  const found = commonGround(members, { ...asked, ...change })
  if (!isGround(found)) throw new Error(JSON.stringify(found))
  return found
}

/** Drives that a member needs for a colour of an aim, by its own columns; what it cannot give lies outside 0–1. */
function drivesFor({ red, green, blue, black }: MemberLight, aimWhite: XYZ, primaries: Primaries, rgb: Triple): Triple {
  const back = invert(transpose([subtract(red, black), subtract(green, black), subtract(blue, black)]))
  return multiplyVector(back, multiplyVector(matrixOfPrimaries(primaries, subtract(aimWhite, black)), rgb))
}

const inside = (triangle: readonly Point[], [x, y]: Point, by = 0): boolean => {
  const [a, b, c] = triangle
  const side = (p: Point, q: Point) => (q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0])
  const turn = Math.sign((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))
  return [side(a, b), side(b, c), side(c, a)].every((s) => turn * s >= -by)
}

/** The largest triangle among points of a fine grid that lie inside all, the outermost of which are enough. */
function byForce(triangles: readonly (readonly Point[])[]): number {
  const all = triangles.flat()
  const [least, most] = [0, 1]
    .map((k) => [Math.min, Math.max].map((f) => f(...all.map((p) => p[k]))))
    .map((v) => v) as [number[], number[]]
  const steps = 240
  const rows: Point[] = []
  for (let i = 0; i <= steps; i++) {
    let [first, last]: (Point | null)[] = [null, null]
    for (let j = 0; j <= steps; j++) {
      const p: Point = [least[0] + ((least[1] - least[0]) * j) / steps, most[0] + ((most[1] - most[0]) * i) / steps]
      if (!triangles.every((t) => inside(t, p))) continue
      first ??= p
      last = p
    }
    if (first && last) rows.push(first, last)
  }
  const ends = outermost(rows)
  let best = 0
  for (let i = 0; i < ends.length; i++)
    for (let j = i + 1; j < ends.length; j++)
      for (let k = j + 1; k < ends.length; k++) best = Math.max(best, areaOf([ends[i], ends[j], ends[k]]))
  return best
}

/** Points of which every other lies to one side of some line through them: those furthest in each of many directions. */
function outermost(points: readonly Point[]): Point[] {
  const found = new Set<Point>()
  for (let i = 0; i < 180; i++) {
    const [x, y] = [Math.cos((i * Math.PI) / 90), Math.sin((i * Math.PI) / 90)]
    found.add(points.reduce((far, p) => (x * p[0] + y * p[1] > x * far[0] + y * far[1] ? p : far)))
  }
  return [...found]
}

describe('on 200 sets at random', () => {
  const sets = Array.from({ length: 200 }, (_, i) => randomSet(i + 1))

  test('nothing of the aim is beyond what any member reaches, on the day it falls due as well @long', () => {
    const uniform = uniformFrom(99)
    const drives: number[] = []
    for (const members of sets) {
      const { luminance, primaries } = ground(members)
      for (const m of members) {
        const faded = 1 - (m.fadePerDay ?? 0) * m.daysUntilDue
        for (let n = 0; n < 40; n++) {
          const rgb: Triple = n < 8 ? [n & 1, (n >> 1) & 1, n >> 2] : [uniform(), uniform(), uniform()]
          drives.push(...drivesFor(m, convertChromaticityToXyz(D65, luminance / faded), primaries, rgb))
        }
      }
    }
    expect(drives.reduce((a, b) => Math.min(a, b))).toBeGreaterThan(-1e-9)
    expect(drives.reduce((a, b) => Math.max(a, b))).toBeLessThanOrEqual(1)
  })

  test('the light is within 1 % of the most: a hundredth more, headroom put back, is too much for somebody', () => {
    for (const members of sets) {
      const { luminance, primaries } = ground(members)
      const more = (1.01 * luminance) / (1 - asked.headroom)
      const most = members.map((m) => {
        const faded = 1 - (m.fadePerDay ?? 0) * m.daysUntilDue
        return Math.max(...drivesFor(m, convertChromaticityToXyz(D65, more / faded), primaries, [1, 1, 1]))
      })
      expect(Math.max(...most)).toBeGreaterThan(1)
    }
  })

  test('the gamut is within 1 % of the largest triangle that all hold, found by force, and never beyond any @long', () => {
    for (const members of sets.slice(0, 60)) {
      const { primaries } = ground(members)
      const triangles = members.map((m) => triangleOf(primariesOfCorners(m), 'uv'))
      const found = triangleOf(primaries, 'uv')
      for (const t of triangles) for (const p of found) expect(inside(t, p, 1e-9)).toBe(true)
      expect(areaOf(found)).toBeGreaterThan(0.99 * byForce(triangles))
    }
  })

  test('without a member there is never less, and without the one who holds the light back there is more @long', () => {
    for (const members of sets) {
      const found = ground(members)
      const dimmest = found.members.reduce((a, b) =>
        Math.min(b.reach, b.reachWhenDue) < Math.min(a.reach, a.reachWhenDue) ? b : a,
      )
      for (const m of found.members) {
        expect(m.without.gamut).toBeGreaterThan(1 - 1e-9)
        expect(m.gamutUsed).toBeLessThanOrEqual(1)
        if (m.daysLeft !== null) expect(m.daysLeft).toBeGreaterThanOrEqual(members[m.id - 1].daysUntilDue - 1e-9)
      }
      // Another gamut without it may ask for a little more light of the others.
      if (members.length > 2) expect(dimmest.without.luminance).toBeGreaterThan(0.9)
    }
  })

  test('the order of members makes no difference', () => {
    for (const members of sets.slice(0, 40)) {
      const [one, other] = [ground(members), ground([...members].reverse())]
      expect(other.luminance).toBeCloseTo(one.luminance, 6)
      expect(areaOf(triangleOf(other.primaries, 'uv'))).toBeCloseTo(areaOf(triangleOf(one.primaries, 'uv')), 9)
    }
  })
})

describe('what holds a set back', () => {
  test('the dimmest has the say over the light, and the set gains by its going', () => {
    const found = ground([member(1, { luminance: 400 }), member(2, { luminance: 150 }), member(3, { luminance: 380 })])
    expect(found.luminance).toBeLessThan(150)
    expect(found.members[1].without.luminance).toBeGreaterThan(2.4)
    expect(found.members[0].without.luminance).toBeCloseTo(1, 6)
  })

  test('a member that fades is reckoned at what it will have when it falls due, and it is told how long that lasts', () => {
    const young = member(1, { luminance: 200 })
    const fading = member(2, { luminance: 210 }, { fadePerDay: 0.002, daysUntilDue: 50 })
    const { luminance, members } = ground([young, fading])
    expect(members[1].reachWhenDue).toBeCloseTo(0.9 * members[1].reach, 9)
    expect(luminance).toBeCloseTo(0.97 * 0.9 * members[1].reach, 6)
    // The headroom of 3 % is what it lives on after that.
    expect(members[1].daysLeft).toBeCloseTo((1 - 0.97 * 0.9) / 0.002, 6)
    expect(members[0].daysLeft).toBeNull()
  })

  test('a standard that all cover is taken as it is; one short of the share asked for is not', () => {
    const wide = member(1)
    expect(ground([wide, wide], { standard: 'sRGB' })).toMatchObject({
      standard: 'sRGB',
      primaries: standardPrimaries.sRGB,
    })
    const narrow = member(2, { primaries: { ...standardPrimaries.sRGB, green: { x: 0.31, y: 0.55 } } })
    const { coverage } = comparePrimaries(primariesOfCorners(narrow), standardPrimaries.sRGB, 'uv')
    expect(ground([wide, narrow], { standard: 'sRGB', share: coverage / 100 - 0.001 }).standard).toBe('sRGB')
    expect(ground([wide, narrow], { standard: 'sRGB', share: coverage / 100 + 0.001 }).standard).toBeNull()
  })

  test('black is the lightest at the common light: behind a backlight it goes down with it, the room’s does not', () => {
    const dim = member(1, { luminance: 100, contrast: 5000 })
    const bright = { ...member(2, { luminance: 400, contrast: 1000 }) }
    const at = ground([dim, bright]).black
    expect(at).toBeLessThan(0.4 * bright.black[1])
    expect(ground([dim, { ...bright, blackFollows: false }]).black).toBeCloseTo(bright.black[1], 9)
  })

  test('a white subpixel lends its white to nobody’s colours', () => {
    const plain = member(1, { luminance: 300 })
    const helped = member(1, { luminance: 300, subpixel: 0.6 })
    const reach = (m: MemberLight) => reachOf(m, D65, standardPrimaries.sRGB)
    expect(reach(helped)).toBeLessThan(0.55 * reach(plain))
    expect(reach(helped)).toBeGreaterThan(0.38 * reach(plain))
  })
})

test('a member that cannot mix the white is named; gamuts that share nothing around it make no ground', () => {
  expect(commonGround([member(1), member(7)], { ...asked, white: { x: 0.64, y: 0.33 } })).toEqual({ cannotMix: [1, 7] })
  const turned = (r: Point, g: Point, b: Point): Primaries => ({
    red: convertUvToChromaticity({ u: r[0], v: r[1] }),
    green: convertUvToChromaticity({ u: g[0], v: g[1] }),
    blue: convertUvToChromaticity({ u: b[0], v: b[1] }),
  })
  // Two slivers through the white that cross.
  const across = member(1, { primaries: turned([0.45, 0.475], [0.1, 0.49], [0.1, 0.45]), white: D65 })
  const along = member(2, { primaries: turned([0.21, 0.56], [0.185, 0.56], [0.1985, 0.3]), white: D65 })
  const found = commonGround([across, along], asked)
  if (isGround(found)) {
    const t = triangleOf(found.primaries, 'uv')
    for (const m of [across, along])
      for (const p of t) expect(inside(triangleOf(primariesOfCorners(m), 'uv'), p, 1e-9)).toBe(true)
  } else expect(found).toEqual({ shareNothing: true })
})

test('a set of nobody has none', () => expect(() => commonGround([], asked)).toThrow('Nobody'))

test('one member is its own ground', () => {
  const one = member(1)
  const { luminance, primaries, members } = ground([one])
  expect(luminance).toBeCloseTo(0.97 * reachOf(one, D65, primariesOfCorners(one)), 6)
  expect(comparePrimaries(primaries, primariesOfCorners(one), 'uv').coverage).toBeCloseTo(100, 6)
  expect(members[0].without).toEqual({ luminance: 1, gamut: 1, black: 1 })
})
