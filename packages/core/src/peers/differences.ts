import { convertXyzToUv, type XYZ } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab, type Lab } from '../color/lab'
import type { PatchReading } from '../color/patchReading'

/** What a member of a peer set shows of patches, cd/m². */
export interface MemberShown {
  readonly id: number
  readonly readings: readonly PatchReading[]
}

/** How far a member is from another, with the sign of the second less the first. */
export interface Apart {
  /** Share of the first's luminance at white. */
  readonly luminance: number
  /** At white, in the CIE 1976 diagram. */
  readonly u: number
  readonly v: number
}

/** Two members side by side. */
export interface PairDifference {
  readonly pair: readonly [number, number]
  /** ΔE2000 over all patches that both showed. */
  readonly average: number
  readonly worst: { readonly deltaE: number; readonly patch: string }
  readonly white: Apart & { readonly deltaUv: number }
  /** By level of grey, 0–1, rising: ΔE2000, and how much lighter (L*) the second is. */
  readonly greys: readonly { readonly level: number; readonly deltaE: number; readonly lighter: number }[]
}

/** The member that stands apart from all others, and in which direction on average. */
export interface OddOne {
  readonly id: number
  /** ΔE2000 to the others on average, and what they are apart from each other. */
  readonly average: number
  readonly others: number
  readonly white: Apart
}

export interface Alike {
  /** Every pair once, in the order of the members. */
  readonly pairs: readonly PairDifference[]
  /** Null of fewer than three members, and where none stands out. */
  readonly odd: OddOne | null
}

const key = (rgb: readonly number[]) => rgb.join()
const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length

/** Times what the others are apart from each other at which a member stands out. */
const standsOut = 1.6

/**
 * How alike members of a set are by what they showed of the same patches: every pair in CIELAB under one white (cd/m²), the
 * set's, so that brighter is a difference as well. Patches that only one of two showed count for neither. Throws RangeError for
 * two that have no white in common.
 */
export function howAlike(members: readonly MemberShown[], white: XYZ): Alike {
  const shown = members.map(({ id, readings }) => ({
    id,
    by: new Map(readings.map((p) => [key(p.rgb), { ...p, lab: convertXyzToLab(p.xyz, white) }])),
  }))
  const pairs = shown.flatMap((one, i) => shown.slice(i + 1).map((other) => differ(one, other)))
  return {
    pairs,
    odd: oddOne(
      pairs,
      members.map((m) => m.id),
    ),
  }
}

type Shown = { readonly id: number; readonly by: ReadonlyMap<string, PatchReading & { readonly lab: Lab }> }

function differ(one: Shown, other: Shown): PairDifference {
  const both = [...one.by].flatMap(([at, a]) => {
    const b = other.by.get(at)
    return b ? [{ a, b, deltaE: deltaE2000(a.lab, b.lab) }] : []
  })
  const whites = both.find(({ a }) => a.rgb.every((v) => v === 1))
  if (!whites) throw new RangeError(`Members ${one.id} and ${other.id} have no white in common.`)
  const [from, to] = [whites.a.xyz, whites.b.xyz]
  const [a, b] = [convertXyzToUv(from), convertXyzToUv(to)]
  const worst = both.reduce((most, next) => (next.deltaE > most.deltaE ? next : most))
  return {
    pair: [one.id, other.id],
    average: mean(both.map((p) => p.deltaE)),
    worst: { deltaE: worst.deltaE, patch: worst.a.name },
    white: { luminance: to[1] / from[1] - 1, u: b.u - a.u, v: b.v - a.v, deltaUv: Math.hypot(b.u - a.u, b.v - a.v) },
    greys: both
      .filter(({ a: { rgb } }) => rgb[0] === rgb[1] && rgb[1] === rgb[2])
      .map(({ a, b, deltaE }) => ({ level: a.rgb[0], deltaE, lighter: b.lab[0] - a.lab[0] }))
      .sort((x, y) => x.level - y.level),
  }
}

function oddOne(pairs: readonly PairDifference[], ids: readonly number[]): OddOne | null {
  if (ids.length < 3) return null
  const all = ids.map((id) => {
    const [own, rest] = [pairs.filter((p) => p.pair.includes(id)), pairs.filter((p) => !p.pair.includes(id))]
    // Seen from the others: what this one is to them.
    const towards = (of: (white: Apart) => number) => mean(own.map((p) => (p.pair[1] === id ? 1 : -1) * of(p.white)))
    return {
      id,
      average: mean(own.map((p) => p.average)),
      others: mean(rest.map((p) => p.average)),
      white: { luminance: towards((w) => w.luminance), u: towards((w) => w.u), v: towards((w) => w.v) },
    }
  })
  const far = all.reduce((most, next) => (next.average > most.average ? next : most))
  return far.average > standsOut * far.others ? far : null
}
