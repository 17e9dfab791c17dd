import type { PlanPart, Sampling } from './plan/patchPlan'

/** What Shape reads of a panel that it characterizes as a whole: the raw panel first, then rounds at what it solved. */
export interface ShapeParts {
  readonly raw: readonly PlanPart[]
  readonly rounds: readonly { readonly greys: number; readonly colors: number }[]
}

const ramps = (greys: number, channels: number): PlanPart[] => [
  { part: 'even-greys', count: greys },
  { part: 'hues', count: 1 },
  ...(channels ? [{ part: 'channels', count: channels } as const] : []),
]

/** By sampling. White and the corners are read before in any case. */
export const shapeParts: Readonly<Record<Sampling, ShapeParts>> = {
  brief: { raw: [...ramps(9, 0), { part: 'fill', count: 16 }], rounds: [{ greys: 7, colors: 6 }] },
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
