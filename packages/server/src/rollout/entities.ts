import { EntitySchema } from 'typeorm'
import type { PlacementState } from '@bichroma/contract'
import { columns } from '../data/columns'

export interface PlacementRow {
  id: number
  displayId: number
  workstationId: number
  runId: number
  profileHash: string
  fileName: string
  description: string
  scope: 'machine' | 'user'
  state: PlacementState
  requestedAt: number
  accountId: number
  placedAt: number | null
  verifiedAt: number | null
  path: string | null
  message: string | null
}
export const placementEntity = new EntitySchema<PlacementRow>({
  name: 'placement',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    workstationId: columns.integer('workstation_id'),
    runId: columns.integer('run_id'),
    profileHash: columns.text('profile_hash'),
    fileName: columns.text('file_name'),
    description: columns.text('description'),
    scope: columns.text('scope'),
    state: columns.text('state'),
    requestedAt: columns.integer('requested_at'),
    accountId: columns.integer('account_id'),
    placedAt: columns.integerOrNull('placed_at'),
    verifiedAt: columns.integerOrNull('verified_at'),
    path: columns.textOrNull('path'),
    message: columns.textOrNull('message'),
  },
})
