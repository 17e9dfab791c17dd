import { placementStates, type PlacementState } from '@bichroma/core/rollout'
import type { OperatingSystem } from '@bichroma/core/register'
import { idField } from '../fields'
import { listFields, numeralField, wordField } from '../lists'
import { yup } from '../sentences'

export { placementStates, type PlacementState }

export const placeProfileSchema = yup.object({ runId: idField().required() }).noUnknown()

/** One profile for one display on one workstation. */
export interface Placement {
  id: number
  displayId: number
  workstationId: number
  runId: number
  profileHash: string
  fileName: string
  description: string
  /** The slot that the profile describes. */
  slot: number
  /** For everyone at the workstation, or where the courier may not do that, for the person signed in. */
  scope: 'machine' | 'user'
  state: PlacementState
  requestedAt: number
  requestedBy: string
  /** When the courier said that the file is in its folder. */
  placedAt: number | null
  /** When the courier's own listing was last read. */
  verifiedAt: number | null
  /** Folder and file as the courier found them. */
  path: string | null
  /** Why it is where it is, in one sentence. */
  message: string | null
}

/** How a display stands in rollout, as a list can be asked for it: `astray` is overridden or missing. */
export const rolloutStandings = [
  'astray',
  'newer',
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
    sort: wordField(rolloutSorts),
  })
  .noUnknown()

/** A display with what rollout knows of it. */
export interface RolloutRow {
  displayId: number
  displayName: string
  workstationId: number
  workstationName: string
  operatingSystem: OperatingSystem
  /** The newest run that filed a profile, if any. */
  newest: { runId: number; profileHash: string; description: string; filedAt: number; slot: number } | null
  placement: Placement | null
  courierOnline: boolean
}
