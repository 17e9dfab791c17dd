import type { JudgedVerdict } from '../aims/limits'
import type { Alike, PairDifference } from './differences'

/** A limit on how far two members may be apart: from `near` on it is near the edge, beyond `hard` outside. */
export interface PeerEdge {
  readonly near: number
  readonly hard: number
}

export const peerFigures = ['average', 'white', 'luminance'] as const
/** ΔE2000 on average; Δu′v′ at white; luminance of white, %. */
export type PeerFigure = (typeof peerFigures)[number]
export type PeerLimits = Readonly<Record<PeerFigure, PeerEdge>>

/** Limits that hold unless a set has its own: two whites of 0.002 Δu′v′ side by side are told apart by most. */
export const usualPeerLimits: PeerLimits = {
  average: { near: 0.8, hard: 1 },
  white: { near: 0.0015, hard: 0.002 },
  luminance: { near: 2, hard: 3 },
}

export const peerFigureOf: Readonly<Record<PeerFigure, (pair: PairDifference) => number>> = {
  average: (pair) => pair.average,
  white: (pair) => pair.white.deltaUv,
  luminance: (pair) => 100 * Math.abs(pair.white.luminance),
}

/** Between what a figure of a pair lies, 95 times of 100. */
export interface PairDoubt {
  readonly pair: readonly [number, number]
  readonly figures: Readonly<Record<PeerFigure, { readonly low: number; readonly high: number }>>
}

/** How one pair stands by the limits of its set. */
export interface PairVerdict {
  readonly pair: readonly [number, number]
  readonly verdict: JudgedVerdict
  /** The figure that decides. */
  readonly by: PeerFigure
}

export interface SetVerdict {
  readonly verdict: JudgedVerdict
  /** The pair that decides. */
  readonly worst: PairVerdict
  readonly pairs: readonly PairVerdict[]
}

const order: readonly JudgedVerdict[] = ['within', 'near', 'untold', 'outside']
/** How far a figure is along to its hard edge: what decides among figures that stand alike. */
const along = (value: number, { hard }: PeerEdge) => value / hard

function judgeFigure(value: number, { near, hard }: PeerEdge, doubt?: { low: number; high: number }): JudgedVerdict {
  // Doubt that reaches over the hard edge from either side: nobody can tell.
  if (doubt && doubt.low <= hard && doubt.high > hard) return 'untold'
  return value > hard ? 'outside' : value > near ? 'near' : 'within'
}

/**
 * How a set stands by its limits: as its worst pair does, and a pair as its worst figure. With doubts a figure whose interval
 * holds the hard edge cannot be told. Where there is a `reference`, only pairs with it decide: the others are held against it and
 * not against each other. Null where no pair decides.
 */
export function judgeSet(
  { pairs }: Alike,
  limits: PeerLimits,
  doubts: readonly PairDoubt[] = [],
  reference: number | null = null,
): SetVerdict | null {
  const doubtOf = new Map(doubts.map((d) => [d.pair.join(), d.figures]))
  const judged = pairs.map((pair): PairVerdict & { along: number } => {
    const figures = peerFigures.map((by) => {
      const value = peerFigureOf[by](pair)
      return {
        by,
        verdict: judgeFigure(value, limits[by], doubtOf.get(pair.pair.join())?.[by]),
        along: along(value, limits[by]),
      }
    })
    return { pair: pair.pair, ...figures.reduce(worse) }
  })
  const deciding = judged.filter((j) => decides(j, reference))
  if (!deciding.length) return null
  const worst = deciding.reduce(worse)
  const told = ({ pair, verdict, by }: PairVerdict): PairVerdict => ({ pair, verdict, by })
  return { verdict: worst.verdict, worst: told(worst), pairs: judged.map(told) }
}

/** Whether a pair counts for its set's verdict. */
export const decides = ({ pair }: { readonly pair: readonly [number, number] }, reference: number | null): boolean =>
  reference === null || pair.includes(reference)

function worse<T extends { readonly verdict: JudgedVerdict; readonly along: number }>(a: T, b: T): T {
  const [x, y] = [order.indexOf(a.verdict), order.indexOf(b.verdict)]
  return y > x || (y === x && b.along > a.along) ? b : a
}
