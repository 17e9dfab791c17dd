/** How what was agreed to stands on a workstation. */
export const placementStates = [
  'queued',
  'placed',
  'waiting',
  'in force',
  'out of step',
  'overridden',
  'missing',
  'withdrawn',
] as const
export type PlacementState = (typeof placementStates)[number]

/** What was agreed to and sent. `sent`: the courier said that it is done. `read`: it was read back since. */
export interface Agreed {
  readonly progress: 'queued' | 'sent' | 'withdrawn'
  readonly read: boolean
  /** SHA-256 of the profile that shall be bound; null for none. */
  readonly hash: string | null
  /** The slot that it describes; null for a profile that is not ours. */
  readonly slot: number | null
}

/** What a system binds to a display, as it was read back. */
export interface Found {
  /** Folder and file; null when nothing is bound. */
  readonly path: string | null
  /** SHA-256 of the file as it is on disk; null when there is none. */
  readonly hash: string | null
  /** What has to happen before it holds. */
  readonly waitsFor: 'sign-out' | 'restart' | null
}

/**
 * How a placement stands, from what was agreed, what was read back, and the slot on show. Nothing is called in force that
 * was not read back as bound, with the bytes that were agreed to, since it was sent.
 */
export function standingOf(agreed: Agreed, found: Found | null, shownSlot: number): PlacementState {
  if (agreed.progress === 'withdrawn') return 'withdrawn'
  if (agreed.progress === 'queued') return 'queued'
  if (!agreed.read || !found) return 'placed'
  if (agreed.hash === null) {
    if (found.path !== null) return 'overridden'
  } else {
    if (found.path === null || found.hash === null) return 'missing'
    if (found.hash !== agreed.hash) return 'overridden'
  }
  if (found.waitsFor) return 'waiting'
  return agreed.slot !== null && agreed.slot !== shownSlot ? 'out of step' : 'in force'
}

/** Kinds of faults that keep a placement from being sent, by what mends them. */
const mendedBy: Readonly<Record<string, Mend>> = { privilege: 'right', 'disk-full': 'room', 'no-display': 'cable' }

/** What mends a difference between wanted and found. */
export const mends = [
  'decision',
  'right',
  'room',
  'cable',
  'courier',
  'sign-out',
  'restart',
  'wave',
  'run',
  'moment',
] as const
export type Mend = (typeof mends)[number]

/** What is known of a difference. */
export interface DifferenceFacts {
  readonly state: PlacementState | null
  /** Wanted is a profile that was not agreed to yet. */
  readonly differs: boolean
  /** The slot whose profile is wanted has none. */
  readonly lacksProfile: boolean
  readonly waitsFor: Found['waitsFor']
  /** Kind of the fault at the last try. */
  readonly fault: string | null
  readonly courierOnline: boolean
  /** A wave that is under way has it in a later step. */
  readonly inWave: boolean
}

/** What mends a difference; null where there is none. */
export function mendOf(facts: DifferenceFacts): Mend | null {
  const { state, differs, lacksProfile, waitsFor, fault, courierOnline, inWave } = facts
  if (state === 'queued' || state === 'placed') {
    if (!courierOnline) return 'courier'
    return fault === null ? 'moment' : (mendedBy[fault] ?? 'decision')
  }
  const astray = state === 'overridden' || state === 'missing' || state === 'out of step'
  if (!astray && !differs && !lacksProfile && state !== 'waiting') return null
  if (inWave) return 'wave'
  if (astray || differs) return 'decision'
  if (state === 'waiting') return waitsFor ?? 'sign-out'
  return lacksProfile ? 'run' : null
}
