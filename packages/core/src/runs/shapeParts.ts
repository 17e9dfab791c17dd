import { makePlan, type PlanPart, type Sampling } from './plan/patchPlan'
import { greyLevels, shapeColors, type Patch } from './patches'
import type { RunKind } from './stages'

/** How much Shape takes on: a sampling, the little that a refresh needs, or as much as a number of readings allows. */
export type NamedEffort = Sampling | 'refresh'
export type Effort = NamedEffort | number
export const effortOf = (kind: RunKind, sampling: Sampling): NamedEffort => (kind === 'refresh' ? 'refresh' : sampling)

/** Fewest readings with which Shape can bring a slot to an aim. */
export const leastShapeReadings = 40

/** What Shape reads of a panel that it characterizes as a whole: the raw panel first, then rounds at what it solved. */
export interface ModelParts {
  readonly raw: readonly PlanPart[]
  readonly rounds: readonly Round[]
  /** Rounds besides, for a panel of which each round still tells something; none unless given. */
  readonly further?: readonly Round[]
}

/** Greys and colours that a round reads, and white with them. */
interface Round {
  readonly greys: number
  readonly colors: number
}

/** Where a panel's tone bends near black, only readings there tell how: greys at even lightness begin at a tenth of the signal. */
const ramps = (greys: number, channels: number): PlanPart[] => [
  { part: 'even-greys', count: greys },
  { part: 'hues', count: 1 },
  ...(channels ? [{ part: 'channels', count: channels } as const] : []),
]

/** By effort. White and the corners are read before in any case. */
const modelParts: Readonly<Record<NamedEffort, ModelParts>> = {
  refresh: { raw: [...ramps(7, 0), { part: 'fill', count: 2 }], rounds: [{ greys: 9, colors: 20 }] },
  brief: {
    raw: [...ramps(9, 0), { part: 'dark-greys', count: 5 }, { part: 'fill', count: 9 }],
    rounds: [{ greys: 7, colors: 6 }],
  },
  usual: {
    raw: [...ramps(13, 3), { part: 'dark-greys', count: 8 }, { part: 'fill', count: 47 }],
    rounds: [
      { greys: 11, colors: 14 },
      { greys: 11, colors: 14 },
    ],
    further: [{ greys: 4, colors: 11 }],
  },
  deep: {
    raw: [...ramps(25, 8), { part: 'dark-greys', count: 10 }, { part: 'fill', count: 330 }],
    rounds: [
      { greys: 15, colors: 60 },
      { greys: 15, colors: 60 },
    ],
    further: [
      { greys: 5, colors: 24 },
      { greys: 5, colors: 24 },
    ],
  },
  overnight: {
    raw: [
      { part: 'grid', count: 17 },
      { part: 'even-greys', count: 33 },
    ],
    rounds: [{ greys: 24, colors: 0 }],
  },
}

/** What Shape reads for a slot with tables and a matrix: greys in rounds, then colours in rounds. */
export interface MatrixParts {
  readonly levels: readonly number[]
  /** Rounds of corrected greys at most. */
  readonly greyRounds: number
  readonly colors: readonly Patch[]
  readonly colorRounds: number
}

export const matrixParts: Readonly<Record<NamedEffort, MatrixParts>> = {
  refresh: { levels: greyLevels(16), greyRounds: 1, colors: shapeColors.slice(0, 6), colorRounds: 1 },
  brief: { levels: greyLevels(10), greyRounds: 2, colors: shapeColors.slice(0, 12), colorRounds: 1 },
  usual: { levels: greyLevels(16), greyRounds: 3, colors: shapeColors, colorRounds: 1 },
  deep: { levels: greyLevels(32), greyRounds: 5, colors: shapeColors, colorRounds: 3 },
  overnight: { levels: greyLevels(48), greyRounds: 6, colors: shapeColors, colorRounds: 4 },
}

const bounded = (value: number, least: number, most: number) => Math.round(Math.min(most, Math.max(least, value)))

/** Readings that Shape takes besides what its parts name: the corners, and white in each round. */
const besides = 5

/** Parts for about so many readings in all; from {@link leastShapeReadings} on no more than that. */
export function modelPartsFor(effort: Effort): ModelParts {
  if (typeof effort !== 'number') return modelParts[effort]
  const total = Math.max(leastShapeReadings, effort) / lookShare
  const greys = bounded(total * 0.09, 7, 25)
  const channels = total > 120 ? bounded(total * 0.015, 3, 8) : 0
  const rounds = Array.from({ length: total < 100 ? 1 : 2 }, () => ({
    greys: bounded(total * 0.08, 5, 15),
    colors: bounded(total * 0.1, 4, 60),
  }))
  const inRounds = rounds.reduce((sum, r) => sum + r.greys + r.colors + 1, 0)
  // Three secondaries come with the hues; black and white are among the greys and read already.
  const dark = bounded(total * 0.04, 4, 12)
  const raw = greys - 2 + 3 + 3 * Math.max(0, channels - 1) + dark - 1
  const fill = bounded(total - besides - inRounds - raw, 1, 5000)
  return {
    raw: [...ramps(greys, channels), { part: 'dark-greys', count: dark }, { part: 'fill', count: fill }],
    rounds,
  }
}

/** Looks at white come on top of what is read: one for every 25. */
const lookShare = 1.04

export function matrixPartsFor(effort: Effort): MatrixParts {
  if (typeof effort !== 'number') return matrixParts[effort]
  const total = Math.max(leastShapeReadings, effort) / lookShare - besides
  const colors = shapeColors.slice(0, bounded(total * 0.18, 6, shapeColors.length))
  const colorRounds = total > 200 ? 2 : 1
  const greys = total - colors.length * colorRounds
  const greyRounds = bounded(greys / 30, 2, 6)
  // Raw greys are read once, corrected ones in every round; white is never raw.
  const levels = bounded((greys + 1) / (greyRounds + 1), 8, 48)
  return {
    levels: greyLevels(Math.floor(Math.min(levels, (greys + 1) / (greyRounds + 1)))),
    greyRounds,
    colors,
    colorRounds,
  }
}

/** Raw patches that a plan reads besides the corners. */
export function rawPatches(effort: Effort, seed: number): Patch[] {
  const isCorner = ({ rgb }: Patch) => rgb.every((v) => v === 0 || v === 1) && new Set(rgb).size === 1
  const isPrimary = ({ rgb }: Patch) => rgb.filter((v) => v === 0).length === 2 && rgb.includes(1)
  return makePlan(modelPartsFor(effort).raw, seed).filter((p) => !isCorner(p) && !isPrimary(p))
}
