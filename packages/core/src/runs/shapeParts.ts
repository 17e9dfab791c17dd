import { makePlan, type PlanPart, type Sampling } from './plan/patchPlan'
import { greyLevels, shapeColors, type Patch } from './patches'
import type { RunKind } from './stages'

/** How much Shape takes on: a sampling, or the little that a refresh needs. */
export type Effort = Sampling | 'refresh'
export const effortOf = (kind: RunKind, sampling: Sampling): Effort => (kind === 'refresh' ? 'refresh' : sampling)

/** What Shape reads of a panel that it characterizes as a whole: the raw panel first, then rounds at what it solved. */
export interface ModelParts {
  readonly raw: readonly PlanPart[]
  readonly rounds: readonly { readonly greys: number; readonly colors: number }[]
}

const ramps = (greys: number, channels: number): PlanPart[] => [
  { part: 'even-greys', count: greys },
  { part: 'hues', count: 1 },
  ...(channels ? [{ part: 'channels', count: channels } as const] : []),
]

/** By effort. White and the corners are read before in any case. */
export const modelParts: Readonly<Record<Effort, ModelParts>> = {
  refresh: { raw: [...ramps(7, 0), { part: 'fill', count: 4 }], rounds: [{ greys: 9, colors: 20 }] },
  brief: { raw: [...ramps(9, 0), { part: 'fill', count: 14 }], rounds: [{ greys: 7, colors: 6 }] },
  usual: {
    raw: [...ramps(13, 3), { part: 'fill', count: 54 }],
    rounds: [
      { greys: 11, colors: 14 },
      { greys: 11, colors: 14 },
    ],
  },
  deep: {
    raw: [...ramps(25, 8), { part: 'dark-greys', count: 10 }, { part: 'fill', count: 330 }],
    rounds: [
      { greys: 15, colors: 60 },
      { greys: 15, colors: 60 },
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

export const matrixParts: Readonly<Record<Effort, MatrixParts>> = {
  refresh: { levels: greyLevels(16), greyRounds: 1, colors: shapeColors.slice(0, 6), colorRounds: 1 },
  brief: { levels: greyLevels(10), greyRounds: 2, colors: shapeColors.slice(0, 12), colorRounds: 1 },
  usual: { levels: greyLevels(16), greyRounds: 3, colors: shapeColors, colorRounds: 1 },
  deep: { levels: greyLevels(32), greyRounds: 5, colors: shapeColors, colorRounds: 3 },
  overnight: { levels: greyLevels(48), greyRounds: 6, colors: shapeColors, colorRounds: 4 },
}

/** Raw patches that a plan reads besides the corners. */
export function rawPatches(effort: Effort, seed: number): Patch[] {
  const isCorner = ({ rgb }: Patch) => rgb.every((v) => v === 0 || v === 1) && new Set(rgb).size === 1
  const isPrimary = ({ rgb }: Patch) => rgb.filter((v) => v === 0).length === 2 && rgb.includes(1)
  return makePlan(modelParts[effort].raw, seed).filter((p) => !isCorner(p) && !isPrimary(p))
}
