import {
  mends,
  placementStates,
  type Mend,
  type PlacementState,
  type RuleOrigin,
  type SwitchAstray,
} from '@bichroma/core/rollout'
import type { OperatingSystem } from '@bichroma/core/register'
import type { LoaderState } from '../courier/messages'
import { idField } from '../fields'
import { listFields, numeralField, wordField } from '../lists'
import { yup } from '../sentences'
import type { DisplayPolicy } from './policies'

export { mends, placementStates, type Mend, type PlacementState }

/** Places a run’s profile on its display’s workstations. */
export const placeProfileSchema = yup.object({ runId: idField().required() }).noUnknown()

/** Why something was placed. */
export const placementReasons = ['person', 'wave', 'fresh', 'switched', 'moved', 'undo', 'hand'] as const
export type PlacementReason = (typeof placementReasons)[number]

/** What was agreed to for one display on one workstation. */
export interface Placement {
  id: number
  displayId: number
  workstationId: number
  /** Null where another’s profile is given back, or ours is taken away. */
  runId: number | null
  profileHash: string | null
  fileName: string | null
  description: string
  /** The slot that the profile describes. */
  slot: number | null
  /** For everyone at the workstation, or where the courier may not do that, for the person signed in. */
  scope: 'machine' | 'user'
  state: PlacementState
  why: PlacementReason
  waveId: number | null
  requestedAt: number
  requestedBy: string
  /** When the courier said that it is done. */
  placedAt: number | null
  /** When it was read back for the first time. */
  verifiedAt: number | null
  /** Folder and file as the courier told them. */
  path: string | null
  /** Times at which it was put back. */
  putBacks: number[]
  /** It is not put back any more, because something keeps replacing it. */
  leftAlone: boolean
  /** Kind of the fault at the last try; null for none. */
  fault: string | null
  /** Why it is where it is, in one sentence. */
  message: string | null
}

/** What a policy asks for on a display. */
export interface WantedProfile {
  kind: 'profile' | 'none' | 'no profile'
  slot: number | null
  runId: number | null
  profileHash: string | null
  description: string | null
  /** When the run that filed it judged it. */
  filedAt: number | null
  since: number
  /** Where the rule comes from that decides which profile it is. */
  origin: RuleOrigin
}

/** What was read back on a workstation. */
export interface FoundProfile {
  /** Folder and file; null when nothing is bound. */
  path: string | null
  /** SHA-256 of the file; null when it is not there. */
  hash: string | null
  scope: 'machine' | 'user' | null
  waitsFor: 'sign-out' | 'restart' | null
  /** What bound it, where the system tells. */
  by: string | null
  /** A profile of ours, by its bytes. */
  ours: boolean
  /** Since when it is as it is, and when it was read last. */
  since: number
  readAt: number
  /** A courier read it, or a person brought it. */
  told: 'courier' | 'hand'
}

/** How a display stands in rollout, as a list can be asked for it. `astray` is overridden, missing or out of step. */
export const rolloutStandings = [
  'differs',
  'astray',
  'none',
  ...placementStates.filter((s) => s !== 'withdrawn'),
] as const
export type RolloutStanding = (typeof rolloutStandings)[number]
export const rolloutSorts = ['register', 'name', 'newest'] as const

/** What the list of rollout can be asked by. */
export const rolloutListSchema = yup
  .object({
    ...listFields,
    room: numeralField(),
    standing: wordField<RolloutStanding>(rolloutStandings),
    /** What mends the difference. */
    mend: wordField<Mend>(mends),
    sort: wordField(rolloutSorts),
  })
  .noUnknown()

/** A display with what rollout knows of it. */
export interface RolloutRow {
  displayId: number
  displayName: string
  roomName: string
  workstationId: number
  workstationName: string
  operatingSystem: OperatingSystem
  /** The slot on show. */
  shownSlot: number
  wanted: WantedProfile | null
  found: FoundProfile | null
  placement: Placement | null
  /** Something else is found than is wanted. */
  differs: boolean
  /** What mends it; null where nothing needs to be. */
  mend: Mend | null
  courierOnline: boolean
}

/** Whether every workstation shows what it should. */
export interface RolloutSummary {
  displays: number
  /** In force as wanted. */
  asWanted: number
  /** Differences by what mends them. */
  mends: Partial<Record<Mend, number>>
  /** Displays whose slot on show has no profile yet. */
  noProfile: number
  /** Waves that are under way, paused or stopped. */
  waves: { id: number; name: string; state: string }[]
}

/** One display’s part in rollout: what holds, what is found, and how both came about. */
export interface DisplayRollout {
  row: RolloutRow
  policy: DisplayPolicy
  /** Newest first. */
  placements: Placement[]
  wanted: WantedProfile[]
  found: (FoundProfile & { workstation: string })[]
  /** Switches of programs that keep the profile from doing its work. */
  programs: SwitchAstray[]
  /** Programs that were read on its workstation. */
  programsRead: number
  /** Whether the curves of its slot are in the video card; null for a display that does not live by them. */
  curves: LoaderState | null
  /** Other workstations that reach it, each with what is found there. */
  links: { workstationId: number; workstationName: string; state: PlacementState | null; courierOnline: boolean }[]
}

/** What somebody read back where no courier runs. */
export interface FoundByHandAnswer {
  workstation: string
  /** Displays of the register that it tells of. */
  displays: number
  /** Of those, profiles that were wanted and count as placed from now on. */
  placed: number
  /** Serial numbers that the register does not have there. */
  unknown: string[]
}

/** What a script printed on a workstation where no courier runs. */
export const foundByHandSchema = yup
  .object({
    text: yup
      .string()
      .strict()
      .required()
      .max(64 * 1024),
  })
  .noUnknown()

/** Another workstation that reaches a display. */
export const linkSchema = yup.object({ workstationId: idField().required() }).noUnknown()
