import { movedWhite } from '../aims/aim'
import type { JudgedVerdict } from '../aims/limits'
import { convertChromaticityToXyz, type Chromaticity, type UvPrime } from '../color/chromaticity'
import type { PatchReading } from '../color/patchReading'
import { seenByEye } from './byEye'
import { commonGround, isGround, type CommonGround, type GroundAsked, type MemberLight } from './commonGround'
import { howAlike, type Alike } from './differences'
import { howGroundMoved, type AdoptedGround, type GroundMove } from './groundAim'
import { lightAtMost, type LightSeen } from './memberLight'
import { decides, judgeSet, peerFigureOf, type PairDoubt, type PeerLimits, type SetVerdict } from './peerLimits'
import { forecastPair, type MemberRates, type PairForecast } from './pairForecast'
import { pairDoubts, type PairMember } from './pairDoubt'

/** What is known of a member of a set. */
export interface MemberKnown {
  readonly id: number
  /** What its runs saw of its light, newest first, and when. */
  readonly seen: readonly (LightSeen & { readonly at: number })[]
  readonly blackFollows: boolean
  readonly fadePerDay: number | null
  readonly daysUntilDue: number
  /** How far its white has to measure from the set's to look like it, where a person found that by eye, and how far that is known. */
  readonly byEye: (UvPrime & { readonly doubt: number }) | null
  /** How its white changes; null where no trend tells. */
  readonly rates: MemberRates | null
  /** What its slot was last judged by; null for one that never was. */
  readonly judged: {
    readonly runId: number
    readonly at: number
    readonly patches: readonly PatchReading[]
    /** By what it was read, where that is known. */
    readonly by: PairMember['by'] | null
  } | null
}

export interface SetAsked extends GroundAsked {
  readonly limits: PeerLimits
  /** The member that the others are held against; null for each other. */
  readonly reference: number | null
  /** ms since 1970. */
  readonly now: number
  readonly adopted: AdoptedGround | null
}

/** `unknown`: its light at its brightest was never read; else how it is known. */
export type MemberLightState = 'read' | 'reckoned' | 'unknown'

/** Why a set has no common ground. */
export type GroundLack =
  | { readonly why: 'unknown'; readonly members: readonly number[] }
  | { readonly why: 'cannot mix'; readonly members: readonly number[] }
  | { readonly why: 'share nothing' | 'too few'; readonly members: readonly number[] }

/** How alike a set was when it was read last. */
export interface SetAlike extends Alike {
  readonly verdict: SetVerdict
  readonly doubts: readonly PairDoubt[]
  /** When each pair will be told apart, in the order of the pairs. */
  readonly forecasts: readonly PairForecast[]
  /** The oldest and the newest of the readings, ms since 1970. */
  readonly from: number
  readonly to: number
  readonly runs: readonly number[]
  /** The same instrument read them all: what is wrong with it falls out of the differences. */
  readonly oneInstrument: boolean
}

/** What a set comes to. */
export interface SetStanding {
  readonly lights: readonly {
    readonly id: number
    readonly state: MemberLightState
    /** When it was read last, ms since 1970. */
    readonly at: number | null
    readonly light: MemberLight | null
  }[]
  readonly ground: CommonGround | null
  readonly lack: GroundLack | null
  readonly moved: readonly GroundMove[]
  /** Null while fewer than all members were read. */
  readonly alike: SetAlike | null
  /** Members whose slots were never judged. */
  readonly unread: readonly number[]
}

/** All that follows for a set from what is known of its members. Takes tens of milliseconds for a dozen. */
export function standingOf(members: readonly MemberKnown[], asked: SetAsked): SetStanding {
  const lights = members.map((member) => {
    const { id, seen, blackFollows, fadePerDay, daysUntilDue, byEye } = member
    const found = lightAtMost(seen, blackFollows)
    return {
      id,
      state: found?.by ?? ('unknown' as const),
      at: seen[0]?.at ?? null,
      light: found && {
        ...{ id, ...found.corners, blackFollows, fadePerDay, daysUntilDue },
        ...(byEye && { ownWhite: movedWhite(asked.white, byEye) }),
      },
    }
  })
  const { ground, lack } = groundOf(lights, asked)
  const unread = members.filter((m) => !m.judged).map((m) => m.id)
  return {
    lights,
    ground,
    lack,
    moved: asked.adopted ? howGroundMoved(asked.adopted, ground) : [],
    alike: members.length > 1 && !unread.length ? alikeOf(members, asked) : null,
    unread,
  }
}

function groundOf(
  lights: SetStanding['lights'],
  asked: SetAsked,
): { ground: CommonGround | null; lack: GroundLack | null } {
  // One alone has nothing in common with anybody.
  if (lights.length < 2) return { ground: null, lack: { why: 'too few', members: [] } }
  const unknown = lights.filter((l) => !l.light).map((l) => l.id)
  if (unknown.length) return { ground: null, lack: { why: 'unknown', members: unknown } }
  const found = commonGround(
    lights.map((l) => l.light!),
    asked,
  )
  if (isGround(found)) return { ground: found, lack: null }
  return {
    ground: null,
    lack:
      'cannotMix' in found ? { why: 'cannot mix', members: found.cannotMix } : { why: 'share nothing', members: [] },
  }
}

function alikeOf(members: readonly MemberKnown[], { white, limits, reference, now }: SetAsked): SetAlike | null {
  const shown = members.map(({ id, judged, byEye }) => ({ id, readings: seenByEye(judged!.patches, white, byEye) }))
  const alike = comparable(shown, brightestOf(shown, white))
  if (!alike) return null
  const read = members.map(({ judged, byEye }, i): PairMember => ({
    ...shown[i],
    by: judged!.by,
    ...(byEye && { byEye: byEye.doubt }),
  }))
  const doubts = pairDoubts(read, brightestOf(shown, white))
  const verdict = judgeSet(alike, limits, doubts, reference)
  if (!verdict) return null
  const times = members.map((m) => m.judged!.at)
  const instruments = new Set(members.map((m) => m.judged!.by?.instrument ?? null))
  return {
    ...alike,
    verdict,
    doubts,
    forecasts: alike.pairs.map((pair) => {
      const [one, other] = pair.pair.map((id) => members.find((m) => m.id === id)!)
      const readAt = Math.min(one.judged!.at, other.judged!.at)
      return forecastPair(pair, [one.rates, other.rates], limits, { white, readAt, now })
    }),
    from: Math.min(...times),
    to: Math.max(...times),
    runs: members.map((m) => m.judged!.runId),
    oneInstrument: instruments.size === 1 && !instruments.has(null),
  }
}

type Shown = readonly { readonly id: number; readonly readings: readonly PatchReading[] }[]

/** The set's white as bright as the brightest member shows it: what eyes adapt to that see all of them. */
function brightestOf(shown: Shown, white: Chromaticity) {
  const luminances = shown.flatMap((m) => m.readings.map((p) => p.xyz[1]))
  return convertChromaticityToXyz(
    white,
    luminances.reduce((a, b) => Math.max(a, b), 1e-6),
  )
}

/** Null for members of whom two have no white in common. */
function comparable(shown: Shown, white: Parameters<typeof howAlike>[1]): Alike | null {
  try {
    return howAlike(shown, white)
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

/** The furthest of a set's pairs in each figure, for lists and for what is kept of a look. */
export const furthestOf = ({ pairs }: Alike, reference: number | null = null) => {
  const deciding = pairs.filter((p) => decides(p, reference))
  return {
    average: Math.max(...deciding.map(peerFigureOf.average)),
    white: Math.max(...deciding.map(peerFigureOf.white)),
    luminance: Math.max(...deciding.map(peerFigureOf.luminance)),
  }
}
export type Furthest = ReturnType<typeof furthestOf>

/** The verdict of a set that stands, as it is kept. */
export const verdictOf = ({ alike }: SetStanding): JudgedVerdict | null => alike?.verdict.verdict ?? null
