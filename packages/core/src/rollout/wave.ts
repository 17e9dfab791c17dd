/** What lets the rest of a wave go after its first few. */
export const waveGates = ['read-back', 'check', 'word'] as const
export type WaveGate = (typeof waveGates)[number]

export const waveStates = ['under way', 'paused', 'stopped', 'done', 'undoing', 'undone'] as const
export type WaveState = (typeof waveStates)[number]

/**
 * How one display of a wave stands. `held back`: not let out yet. `under way`: let out, not read back. `there`: read back
 * as bound, though it may wait for a sign-out. `failed`: it could not be sent. `left out`: nothing is done for it any more.
 */
export const waveItemStates = ['held back', 'under way', 'there', 'failed', 'left out', 'undoing', 'undone'] as const
export type WaveItemState = (typeof waveItemStates)[number]

/** How many displays of a wave stand how, by its step. */
export interface WaveStanding {
  readonly first: Readonly<Record<WaveItemState, number>>
  readonly rest: Readonly<Record<WaveItemState, number>>
  /** Of the first few that are there: how many were not proved by a check run since. */
  readonly unchecked: number
}

/** No display at all. */
export const noItems = (): Record<WaveItemState, number> =>
  Object.fromEntries(waveItemStates.map((s) => [s, 0])) as Record<WaveItemState, number>

export interface WaveRules {
  readonly gate: WaveGate
  /** Share of failures among what was let out that stops it, 0–1. */
  readonly stopShare: number
  /** A person said that the rest may go. */
  readonly word: boolean
  /** Failures that a person has seen and let pass. */
  readonly excused: number
}

/** What becomes of a wave now. */
export type WaveMove =
  | { readonly do: 'wait'; readonly for: 'first' | 'check' | 'word' | 'rest' }
  | { readonly do: 'let out the rest' }
  | { readonly do: 'stop'; readonly failed: number; readonly of: number }
  | { readonly do: 'end' }

/**
 * What a wave does next, by how its displays stand. Failures stop it before anything else; the rest goes once every one of
 * the first few is there or left out, and its gate is open. A person’s word opens every gate but that of failures.
 */
export function nextMove(
  { gate, stopShare, word, excused }: WaveRules,
  { first, rest, unchecked }: WaveStanding,
): WaveMove {
  const both = (state: WaveItemState) => first[state] + rest[state]
  const failed = both('failed')
  const out = waveItemStates.reduce((sum, s) => sum + (s === 'held back' || s === 'left out' ? 0 : both(s)), 0)
  if (failed > excused && failed / out > stopShare) return { do: 'stop', failed, of: out }
  if (both('held back') === 0) return both('under way') + failed > 0 ? { do: 'wait', for: 'rest' } : { do: 'end' }
  if (word || first['held back'] > 0) return { do: 'let out the rest' }
  if (first['under way'] + failed > 0) return { do: 'wait', for: 'first' }
  if (gate === 'word') return { do: 'wait', for: 'word' }
  if (gate === 'check' && unchecked > 0) return { do: 'wait', for: 'check' }
  return { do: 'let out the rest' }
}

/** Time that a wave still takes, ms: what is left at the pace of what is there. Null before anything is. */
export function waveTimeLeft(startedAt: number, now: number, there: number, left: number): number | null {
  if (left === 0) return 0
  return there === 0 ? null : ((now - startedAt) / there) * left
}
