/** The stages of a run sheet. */
export const stages = ['ready', 'baseline', 'level', 'shape', 'load', 'prove', 'file'] as const
export type Stage = (typeof stages)[number]

/** What a kind of run does, for the engine and for people. */
export interface RunKindTraits {
  readonly label: string
  readonly stages: readonly Stage[]
  /** It writes tables into the slot, and files a profile. */
  readonly writes: boolean
  /** Its verdict is the slot's from then on. */
  readonly settles: boolean
  /** What it aims at: an aim that a person chooses, the one that the slot holds, or the slot's unless one is chosen. */
  readonly aim: 'chosen' | 'slot' | 'either'
  /** One sentence on what it is for. */
  readonly does: string
}

/** Kinds of run, with the stages that each goes through. */
export const runKinds = {
  full: {
    label: 'Full run',
    stages,
    writes: true,
    settles: true,
    aim: 'chosen',
    does: 'Brings a slot to its aim, proves it and files a profile.',
  },
  refresh: {
    label: 'Refresh',
    stages,
    writes: true,
    settles: true,
    aim: 'slot',
    does: 'Brings a slot back to the aim that it holds, from what the last full run learned: about half the readings.',
  },
  check: {
    label: 'Check run',
    stages: ['ready', 'prove', 'file'],
    writes: false,
    settles: true,
    aim: 'slot',
    does: 'Reads what a slot shows now and judges it; writes nothing.',
  },
  baseline: {
    label: 'Baseline',
    stages: ['ready', 'baseline', 'file'],
    writes: false,
    settles: false,
    aim: 'either',
    does: 'Reads the panel with its tables bypassed, to see what there is to work with; changes nothing.',
  },
  spot: {
    label: 'Spot run',
    stages: ['ready', 'prove', 'file'],
    writes: false,
    settles: false,
    aim: 'slot',
    does: 'Reads a handful of patches in under a minute, to see whether a check is due; the verdict stays as it is.',
  },
  uniformity: {
    label: 'Uniformity',
    stages: ['ready', 'prove', 'file'],
    writes: false,
    settles: false,
    aim: 'slot',
    does: 'Reads white at 25 places of the screen, moved from place to place by hand, and maps how even it is.',
  },
} as const satisfies Record<string, RunKindTraits>
export type RunKind = keyof typeof runKinds
export const runKindNames = Object.keys(runKinds) as RunKind[]

export const stageLabels: Readonly<Record<Stage, string>> = {
  ready: 'Ready',
  baseline: 'Baseline',
  level: 'Level',
  shape: 'Shape',
  load: 'Load',
  prove: 'Prove',
  file: 'File',
}

/** Where a run can be. Queued ones wait for their turn and hold nothing; running and waiting ones hold their display and instrument. */
export const runStates = ['queued', 'running', 'waiting', 'interrupted', 'done', 'failed', 'stopped'] as const
export type RunState = (typeof runStates)[number]

/** How the message of a run begins while it puts the display back. */
export const puttingBack = 'Putting the display back'

/** Whether a run has not come to an end: it waits for its turn, or holds its display. */
export const goesOn = (state: RunState): boolean => state === 'queued' || heldStates.includes(state)

/** States in which a run still holds its display and its instrument. */
export const heldStates: readonly RunState[] = ['running', 'waiting', 'interrupted']
