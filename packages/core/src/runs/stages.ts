/** The stages of a run sheet. */
export const stages = ['ready', 'baseline', 'level', 'shape', 'load', 'prove', 'file'] as const
export type Stage = (typeof stages)[number]

/** Kinds of run, with the stages that each goes through. */
export const runKinds = {
  full: { label: 'Full run', stages },
  check: { label: 'Check run', stages: ['ready', 'prove', 'file'] },
} as const satisfies Record<string, { label: string; stages: readonly Stage[] }>
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

/** Where a run can be. Running and waiting ones hold their display and instrument. */
export const runStates = ['running', 'waiting', 'interrupted', 'done', 'failed', 'stopped'] as const
export type RunState = (typeof runStates)[number]

/** How the message of a run begins while it puts the display back. */
export const puttingBack = 'Putting the display back'

/** States in which a run still holds its display and its instrument. */
export const heldStates: readonly RunState[] = ['running', 'waiting', 'interrupted']
