import { convertChromaticityToXyz, convertUvToChromaticity, type Chromaticity, type XYZ } from '../color/chromaticity'
import { standardPrimaries, type Primaries, type StandardPrimaries } from '../color/encodings'
import { invert, multiplyVector, scale, transpose, type Triple } from '../color/matrix3'
import { comparePrimaries, triangleOf } from '../color/planarGamut'
import { areaOf, intersectConvex, type Point } from '../color/polygon'
import { headroomFor, primariesOfCorners, type RawCorners } from '../runs/level'

/** What is measured of a member of a peer set: its raw corners at full backlight, and how that lasts. */
export interface MemberLight extends RawCorners {
  readonly id: number
  /** The white that it has to measure to look like the set's, where a person found one by eye. */
  readonly ownWhite?: Chromaticity
  /** Whether black goes down with the light, as behind a backlight: not where it is the room's light, nor where there is none. */
  readonly blackFollows: boolean
  /** Share of its light that it loses in a day, by its own trend; null where nobody knows yet. */
  readonly fadePerDay: number | null
  /** Days until it is due again. */
  readonly daysUntilDue: number
}

/** What a peer set asks of its common ground. */
export interface GroundAsked {
  readonly white: Chromaticity
  /** A standard that is taken where every member covers it; null for the largest gamut that all share. */
  readonly standard: StandardPrimaries | null
  /** Share of the standard's triangle in u′v′ that every member must cover, 0–1. */
  readonly share: number
  /** Share of the light that is kept in hand, 0–0.5: correcting takes some, and nothing is as bright on every day. */
  readonly headroom: number
}

/** How a member stands to the common ground. */
export interface MemberGround {
  readonly id: number
  /** cd/m² at the white of the set with all colours of the common gamut, now and when it falls due. */
  readonly reach: number
  readonly reachWhenDue: number
  /** Black at the common luminance, cd/m². */
  readonly black: number
  /** Share of its own triangle in u′v′ that the common gamut uses, 0–1. */
  readonly gamutUsed: number
  /** What all would have without it: luminance, area of the gamut, and black, each ÷ what all have with it. */
  readonly without: { readonly luminance: number; readonly gamut: number; readonly black: number }
  /** Days until its ageing takes the common luminance away; null where its trend is not known or does not. */
  readonly daysLeft: number | null
}

/** The aim that all members of a set can reach. */
export interface CommonGround {
  /** cd/m², headroom taken off. */
  readonly luminance: number
  readonly primaries: Primaries
  /** The standard that all cover; null where the primaries are the largest triangle that all share. */
  readonly standard: StandardPrimaries | null
  /** Black that all can show at that luminance, cd/m². */
  readonly black: number
  readonly members: readonly MemberGround[]
}

/** Why there is none: members whose light cannot mix the white, or whose gamuts share no triangle around it. */
export type NoGround = { readonly cannotMix: readonly number[] } | { readonly shareNothing: true }

const areaIn = (primaries: Primaries) => areaOf(triangleOf(primaries, 'uv'))

/** Weight of each primary in the white of a set below which a gamut does not hold it. */
const leastWeight = 0.02

/** How much of each primary a white takes, together 1; none or less where the triangle does not hold it. */
function weightsIn(primaries: Primaries, white: Chromaticity): Triple {
  const columns = transpose(
    ([primaries.red, primaries.green, primaries.blue] as const).map((c) => convertChromaticityToXyz(c)) as [
      XYZ,
      XYZ,
      XYZ,
    ],
  )
  const mix = multiplyVector(invert(columns), convertChromaticityToXyz(white))
  return scale(mix, 1 / mix.reduce((sum, v) => sum + v, 0))
}

/** Area in u′v′ below which three primaries are no gamut: a hundredth of a small one. */
const leastArea = 1e-4

const holds = (primaries: Primaries, white: Chromaticity): boolean =>
  areaIn(primaries) > leastArea && Math.min(...weightsIn(primaries, white)) >= leastWeight

/**
 * The largest luminance, cd/m², at which a member shows the white and every colour of a gamut that lies within its own, at its
 * brightest: Level's headroom, the other way round. Throws RangeError where it cannot mix the white.
 */
export const reachOf = (member: MemberLight, white: Chromaticity, primaries: Primaries): number =>
  member.white[1] / headroomFor(member, white, primaries).factor

/** Whether a member's channels can mix a white at all. */
function mixes(member: MemberLight, white: Chromaticity): boolean {
  try {
    const own = primariesOfCorners(member)
    return holds(own, white) && reachOf(member, white, own) > 0
  } catch (error) {
    if (error instanceof RangeError) return false
    throw error
  }
}

/** A convex polygon's largest triangle that holds a point well inside; null where none does. Its corners are corners of the polygon. */
function largestTriangle(
  polygon: readonly Point[],
  holdsWhite: (triangle: readonly Point[]) => boolean,
): Point[] | null {
  let best: Point[] | null = null
  let most = 0
  for (let i = 0; i < polygon.length; i++)
    for (let j = i + 1; j < polygon.length; j++)
      for (let k = j + 1; k < polygon.length; k++) {
        const triangle = [polygon[i], polygon[j], polygon[k]]
        const area = areaOf(triangle)
        if (area <= most || !holdsWhite(triangle)) continue
        most = area
        best = triangle
      }
  return best
}

/** Three corners as primaries: named by how they lie around the white, so that each is near the members' own of its name. */
function named(triangle: readonly Point[], like: Primaries): Primaries {
  const of = ([u, v]: Point) => convertUvToChromaticity({ u, v })
  const own = triangleOf(like, 'uv')
  const orders = [
    [0, 1, 2],
    [0, 2, 1],
    [1, 0, 2],
    [1, 2, 0],
    [2, 0, 1],
    [2, 1, 0],
  ]
  const far = (order: readonly number[]) =>
    order.reduce((sum, k, i) => sum + Math.hypot(triangle[k][0] - own[i][0], triangle[k][1] - own[i][1]), 0)
  const [r, g, b] = orders.reduce((best, order) => (far(order) < far(best) ? order : best))
  return { red: of(triangle[r]), green: of(triangle[g]), blue: of(triangle[b]) }
}

interface Gamut {
  readonly primaries: Primaries
  readonly standard: StandardPrimaries | null
}

/** The gamut that members share; null where it holds no white. */
function commonGamut(own: readonly Primaries[], { white, standard, share }: GroundAsked): Gamut | null {
  if (standard) {
    const primaries = standardPrimaries[standard]
    if (own.every((p) => comparePrimaries(p, primaries, 'uv').coverage >= 100 * share)) return { primaries, standard }
  }
  const shared = own
    .slice(1)
    .reduce(
      (rest: Point[], p) => (rest.length ? intersectConvex(rest, triangleOf(p, 'uv')) : rest),
      triangleOf(own[0], 'uv'),
    )
  const triangle = largestTriangle(shared, (t) => holds(named(t, own[0]), white))
  return triangle && { primaries: named(triangle, own[0]), standard: null }
}

/** Luminance, gamut and black that members share, and each one's part in it. */
interface Shared extends Gamut {
  readonly luminance: number
  readonly black: number
  readonly reaches: readonly { readonly now: number; readonly whenDue: number; readonly black: number }[]
}

function shareOf(members: readonly MemberLight[], asked: GroundAsked): Shared | null {
  const gamut = commonGamut(members.map(primariesOfCorners), asked)
  if (!gamut) return null
  const reaches = members.map((member) => {
    const now = reachOf(member, member.ownWhite ?? asked.white, gamut.primaries)
    return { now, whenDue: now * Math.max(0, 1 - (member.fadePerDay ?? 0) * Math.max(0, member.daysUntilDue)) }
  })
  const luminance = (1 - asked.headroom) * Math.min(...reaches.map((r) => Math.min(r.now, r.whenDue)))
  const blacks = members.map(
    ({ black, blackFollows }, i) => black[1] * (blackFollows ? Math.min(1, luminance / reaches[i].now) : 1),
  )
  return {
    ...gamut,
    luminance,
    black: Math.max(...blacks),
    reaches: reaches.map((r, i) => ({ ...r, black: blacks[i] })),
  }
}

/**
 * The aim that every member of a set can reach: the luminance that the dimmest still has when it falls due, headroom taken
 * off; a standard's gamut where all cover it, else the largest triangle within the part that all share; the black that all can
 * show. With it, who holds it back: what the set would have without each. Needs a member (RangeError).
 */
export function commonGround(members: readonly MemberLight[], asked: GroundAsked): CommonGround | NoGround {
  if (!members.length) throw new RangeError('Nobody is in this set.')
  const cannotMix = members.filter((m) => !mixes(m, m.ownWhite ?? asked.white)).map((m) => m.id)
  if (cannotMix.length) return { cannotMix }
  const all = shareOf(members, asked)
  if (!all) return { shareNothing: true }
  return {
    luminance: all.luminance,
    primaries: all.primaries,
    standard: all.standard,
    black: all.black,
    members: members.map((member, i): MemberGround => {
      const { now, whenDue, black } = all.reaches[i]
      const others =
        members.length > 1
          ? shareOf(
              members.filter((m) => m !== member),
              asked,
            )
          : null
      return {
        id: member.id,
        reach: now,
        reachWhenDue: whenDue,
        black,
        gamutUsed: Math.min(1, areaIn(all.primaries) / areaIn(primariesOfCorners(member))),
        without: {
          luminance: others ? others.luminance / all.luminance : 1,
          gamut: others ? areaIn(others.primaries) / areaIn(all.primaries) : 1,
          black: others && all.black > 0 ? others.black / all.black : 1,
        },
        daysLeft:
          member.fadePerDay && member.fadePerDay > 0
            ? Math.max(0, (1 - all.luminance / now) / member.fadePerDay)
            : null,
      }
    }),
  }
}

export const isGround = (found: CommonGround | NoGround): found is CommonGround => 'luminance' in found
