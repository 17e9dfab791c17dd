import { drawCommon, intervalOf, lightsOf, noLess, shake, type Normal } from '../aims/doubt/imagine'
import { commonSpreads, type CommonSpread, type InstrumentFacts } from '../aims/doubt/instrumentDoubt'
import { noiseByLevel } from '../aims/doubt/noise'
import { normalFrom, uniformFrom } from '../basics/random'
import { convertXyzToUv, type XYZ } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import { invert, multiplyVector, type Matrix3 } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import type { PanelKind } from '../register/panelKinds'
import { peerFigures, type PairDoubt, type PeerFigure } from './peerLimits'

/** A member by what it was read, and by what. */
export interface PairMember {
  readonly id: number
  readonly readings: readonly PatchReading[]
  /** Null where nobody knows. */
  readonly by: {
    readonly facts: InstrumentFacts
    readonly instrument: string
    /** What its correction was made by; its own certificate where there is none. */
    readonly reference: string
    /** What tells corrections apart; null for none. */
    readonly correction: string | null
    readonly panelKind: PanelKind
  } | null
  /** Standard deviation of u′ and of v′ by which its white was matched by eye; none where it was not. */
  readonly byEye?: number
}

/** What u′ and v′ of a white like D65 come to as shares of X and of Z: both alike uncertain. */
const cellsOfUv = { x: 5.3, z: 12.6 }

/** Times that the truth is imagined. */
const draws = 200
/** Numbers that one spread takes at most: of all, of each cell, of each of three lights. */
const perSpread = 13
/** What it did while it was read was taken out. */
const unwatched = { luminance: 0, uv: 0 }
/** What a display moves by itself from one member's readings to the next one's, as a share of what a run's own doubt takes for it. */
const hour = 0.25
/** Of what a correction for a kind of panel leaves, the part that two displays of the kind do not have alike. */
const unlike = 0.25

/** What two members share of what is wrong with their readings: spreads of one key are drawn alike. */
function keyOf(spread: CommonSpread, { id, by }: PairMember): string {
  const { instrument, reference, correction, panelKind, facts } = by!
  switch (spread.of) {
    case 'light':
      // A correction brings the instrument to its reference, whose own optics are left.
      return facts.made ? `light ${reference} ${panelKind}` : `light ${instrument} ${panelKind} ${correction}`
    case 'reference':
      return `${spread.part} ${facts.made ? reference : instrument}`
    case 'instrument':
      return `${spread.part} since, ${instrument}`
    case 'hour':
      return `hour ${id}`
    case 'correction':
      return `correction ${correction ?? id}`
  }
}

/** A spread with what it is shared by, and the share of it that is a member's own all the same. */
interface KeyedSpread extends CommonSpread {
  readonly key: string
  readonly own: number
}

const scaled = (spread: CommonSpread, by: number): CommonSpread => ({
  ...spread,
  all: (spread.all ?? 0) * by,
  cells: spread.cells && [by * spread.cells[0], by * spread.cells[1], by * spread.cells[2]],
})

interface Prepared {
  readonly member: PairMember
  readonly lights: Matrix3
  readonly back: Matrix3
  readonly spreads: readonly KeyedSpread[]
  readonly at: ReturnType<typeof noiseByLevel>
}

/** Null for a member of which not enough is known: without by what it was read, or without three primaries and a white. */
function prepare(member: PairMember): Prepared | null {
  const lights = member.by && lightsOf(member.readings)
  const white = member.readings.find(({ rgb }) => rgb.every((v) => v === 1))
  if (!lights || !white || !member.by) return null
  try {
    const back = invert(lights)
    const spreads = commonSpreads(member.by.facts, unwatched).map((s): KeyedSpread => ({
      ...(s.of === 'hour' ? scaled(s, hour) : s),
      key: keyOf(s, member),
      own: s.of === 'light' && !member.by!.facts.made && member.by!.facts.origin !== 'none needed' ? unlike : 0,
    }))
    const d = member.byEye
    if (d)
      spreads.push({
        ...{ part: 'correction', of: 'correction', key: `by eye ${member.id}`, own: 0 },
        cells: [cellsOfUv.x * d, 0, cellsOfUv.z * d],
      })
    return { member, lights, back, spreads, at: noiseByLevel(member.by.facts.noise, white.xyz[1]) }
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

type Figures = Record<PeerFigure, number>
const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length

/** How two that were read on the same patches, index by index, are apart. */
function apart(one: readonly Seen[], other: readonly Seen[], common: readonly (readonly [number, number])[]): Figures {
  const white = common.find(([i]) => one[i].isWhite)!
  const [a, b] = [one[white[0]].xyz, other[white[1]].xyz]
  const [from, to] = [convertXyzToUv(a), convertXyzToUv(b)]
  return {
    average: mean(common.map(([i, j]) => deltaE2000(one[i].lab, other[j].lab))),
    white: Math.hypot(to.u - from.u, to.v - from.v),
    luminance: 100 * Math.abs(b[1] / Math.max(a[1], 1e-9) - 1),
  }
}

interface Seen {
  readonly xyz: XYZ
  readonly lab: ReturnType<typeof convertXyzToLab>
  readonly isWhite: boolean
}
const seenOf = (readings: readonly PatchReading[], white: XYZ): Seen[] =>
  readings.map(({ rgb, xyz }) => ({ xyz, lab: convertXyzToLab(xyz, white), isWhite: rgb.every((v) => v === 1) }))

/** Which readings of two are of the same patch; none where white is not among them. */
function commonPatches(one: PairMember, other: PairMember): (readonly [number, number])[] {
  const places = new Map(other.readings.map((p, j) => [p.rgb.join(), j]))
  const common = one.readings.flatMap((p, i) => {
    const j = places.get(p.rgb.join())
    return j === undefined ? [] : [[i, j] as const]
  })
  return common.some(([i]) => one.readings[i].rgb.every((v) => v === 1)) ? common : []
}

/**
 * Between what the figures of each pair lie, 95 times of 100: the truth of all members is imagined again and again (JCGM
 * 101), with what is wrong with one reference, one instrument and one kind of light seen by it drawn once for all that share
 * it, so that it falls out of their difference as far as it does, and with hours, corrections and noise drawn for each. What
 * noise adds on average is taken off. `white`: what differences are seen under, cd/m². Pairs with a member of which too
 * little is known are left out. Deterministic by `seed`.
 */
export function pairDoubts(members: readonly PairMember[], white: XYZ, seed = 1): PairDoubt[] {
  const known = members.flatMap((m) => prepare(m) ?? [])
  const pairs = known.flatMap((one, i) =>
    known.slice(i + 1).flatMap((other) => {
      const common = commonPatches(one.member, other.member)
      return common.length ? [{ one, other, common }] : []
    }),
  )
  const normal = normalFrom(uniformFrom(seed))
  const drawn = pairs.map((): { calm: Figures; noisy: Figures }[] => [])
  for (let n = 0; n < draws; n++) {
    const calm = new Map<Prepared, Seen[]>()
    const noisy = new Map<Prepared, Seen[]>()
    const numbers = new Map<string, number[]>()
    const normalOf = ({ key, own }: KeyedSpread): Normal => {
      const shared = numbers.get(key) ?? Array.from({ length: perSpread }, normal)
      numbers.set(key, shared)
      let next = 0
      return () => Math.sqrt(1 - own ** 2) * shared[next++] + (own && own * normal())
    }
    for (const p of known) {
      const common = drawCommon(p.spreads, p.lights, p.back, (s) => normalOf(s as KeyedSpread))
      const truth = p.member.readings.map((r) => ({ ...r, xyz: noLess(multiplyVector(common, r.xyz)) }))
      calm.set(p, seenOf(truth, white))
      noisy.set(p, seenOf(shake(truth, p.at, normal), white))
    }
    pairs.forEach(({ one, other, common }, k) =>
      drawn[k].push({
        calm: apart(calm.get(one)!, calm.get(other)!, common),
        noisy: apart(noisy.get(one)!, noisy.get(other)!, common),
      }),
    )
  }
  return pairs.map(({ one, other, common }, k): PairDoubt => {
    const seen = apart(seenOf(one.member.readings, white), seenOf(other.member.readings, white), common)
    const interval = (of: PeerFigure) => {
      const values = drawn[k].map(({ calm, noisy }) => ({ calm: calm[of], noisy: noisy[of] }))
      // Noise lies in what was read: it adds to distances by squares, and once it is off them its own doubt is left.
      const squares = mean(values.map(({ calm, noisy }) => noisy ** 2 - calm ** 2))
      const added = mean(values.map(({ calm, noisy }) => noisy - calm))
      const without = (value: number) => Math.sqrt(Math.max(0, value ** 2 - squares))
      return intervalOf(
        values.map(({ calm, noisy }) => Math.max(0, without(calm) + noisy - calm - added)),
        seen[of],
        without(seen[of]),
      )
    }
    return {
      pair: [one.member.id, other.member.id],
      figures: Object.fromEntries(peerFigures.map((of) => [of, interval(of)])) as PairDoubt['figures'],
    }
  })
}
