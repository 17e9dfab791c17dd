import { EntitySchema } from 'typeorm'
import type { Associations, PlacementReason, Selection, WaveAction } from '@bichroma/contract'
import type {
  Agreed,
  Found,
  ManagedPictures,
  PolicyLevel,
  ProgramKind,
  RuleName,
  RuleOrigin,
  Rules,
  Wanted,
  WaveGate,
  WaveState,
} from '@bichroma/core/rollout'
import { columns } from '../data/columns'

type Scope = 'machine' | 'user'

/** What a system had for a display, with what was in force of it. */
export interface Before {
  readonly path: string | null
  readonly hash: string | null
  readonly associations: Associations
  /** The placement of ours that this was, if it was one. */
  readonly placementId: number | null
}

/** What was agreed to for one display on one workstation, and what became of sending it. */
export interface PlacementRow {
  id: number
  displayId: number
  workstationId: number
  action: 'place' | 'restore' | 'release'
  why: PlacementReason
  runId: number | null
  slot: number | null
  profileHash: string | null
  fileName: string | null
  description: string
  scope: Scope
  state: Agreed['progress']
  requestedAt: number
  accountId: number | null
  waveId: number | null
  before: Before | null
  restores: Associations | null
  tries: number
  nextTryAt: number | null
  fault: string | null
  placedAt: number | null
  verifiedAt: number | null
  path: string | null
  message: string | null
  putBacks: number[]
  leftAloneAt: number | null
  switchBacks: number[]
  removedAt: number | null
  formerId: number | null
}
export const placementEntity = new EntitySchema<PlacementRow>({
  name: 'placement',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    workstationId: columns.integer('workstation_id'),
    action: columns.text('action'),
    why: columns.text('why'),
    runId: columns.integerOrNull('run_id'),
    slot: columns.integerOrNull('slot'),
    profileHash: columns.textOrNull('profile_hash'),
    fileName: columns.textOrNull('file_name'),
    description: columns.text('description'),
    scope: columns.text('scope'),
    state: columns.text('state'),
    requestedAt: columns.integer('requested_at'),
    accountId: columns.integerOrNull('account_id'),
    waveId: columns.integerOrNull('wave_id'),
    before: columns.jsonOrNull('before'),
    restores: columns.jsonOrNull('restores'),
    tries: columns.integer('tries'),
    nextTryAt: columns.integerOrNull('next_try_at'),
    fault: columns.textOrNull('fault'),
    placedAt: columns.integerOrNull('placed_at'),
    verifiedAt: columns.integerOrNull('verified_at'),
    path: columns.textOrNull('path'),
    message: columns.textOrNull('message'),
    putBacks: columns.json('put_backs'),
    leftAloneAt: columns.integerOrNull('left_alone_at'),
    switchBacks: columns.json('switch_backs'),
    removedAt: columns.integerOrNull('removed_at'),
    formerId: columns.integerOrNull('former_id'),
  },
})

/** What a placement begins with. */
export const newPlacement = {
  before: null,
  restores: null,
  tries: 0,
  nextTryAt: null,
  fault: null,
  placedAt: null,
  verifiedAt: null,
  path: null,
  message: null,
  putBacks: [],
  leftAloneAt: null,
  switchBacks: [],
  removedAt: null,
}

/** What was read back, as it changed: the newest of a display and a workstation is what is there now. */
export interface FoundRow extends Found {
  id: number
  displayId: number
  workstationId: number
  scope: Scope | null
  associations: Associations
  by: string | null
  told: 'courier' | 'hand'
  since: number
  readAt: number
}
export const foundEntity = new EntitySchema<FoundRow>({
  name: 'found',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    workstationId: columns.integer('workstation_id'),
    path: columns.textOrNull('path'),
    hash: columns.textOrNull('hash'),
    scope: columns.textOrNull('scope'),
    waitsFor: columns.textOrNull('waits_for'),
    associations: columns.json('associations'),
    by: columns.textOrNull('by'),
    told: columns.text('told'),
    since: columns.integer('since'),
    readAt: columns.integer('read_at'),
  },
})

export interface PolicyRow {
  id: number
  level: PolicyLevel
  subjectId: number
  rules: Partial<Rules>
  changedAt: number
  changedBy: string
}
export const policyEntity = new EntitySchema<PolicyRow>({
  name: 'policy',
  columns: {
    id: columns.id as never,
    level: columns.text('level'),
    subjectId: columns.integer('subject_id'),
    rules: columns.json('rules'),
    changedAt: columns.integer('changed_at'),
    changedBy: columns.text('changed_by'),
  },
})

/** What a policy asks for, as it changed: the newest of a display is what holds. */
export interface WantedRow {
  id: number
  displayId: number
  kind: Wanted['kind']
  slot: number | null
  runId: number | null
  profileHash: string | null
  rules: Rules
  origins: Record<RuleName, RuleOrigin>
  since: number
  gathered: boolean
}
export const wantedEntity = new EntitySchema<WantedRow>({
  name: 'wanted',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    kind: columns.text('kind'),
    slot: columns.integerOrNull('slot'),
    runId: columns.integerOrNull('run_id'),
    profileHash: columns.textOrNull('profile_hash'),
    rules: columns.json('rules'),
    origins: columns.json('origins'),
    since: columns.integer('since'),
    gathered: columns.boolean('gathered'),
  },
})

export interface WaveRow {
  id: number
  name: string
  selection: Selection
  /** `preparing`: its displays are being stored; no wave yet for anybody who looks. */
  state: WaveState | 'preparing'
  first: number
  gate: WaveGate
  stopShare: number
  word: boolean
  excused: number
  startedAt: number
  accountId: number | null
  expiresAt: number
  endedAt: number | null
}
export const waveEntity = new EntitySchema<WaveRow>({
  name: 'wave',
  columns: {
    id: columns.id as never,
    name: columns.text('name'),
    selection: columns.json('selection'),
    state: columns.text('state'),
    first: columns.integer('first'),
    gate: columns.text('gate'),
    stopShare: columns.real('stop_share'),
    word: columns.boolean('word'),
    excused: columns.integer('excused'),
    startedAt: columns.integer('started_at'),
    accountId: columns.integerOrNull('account_id'),
    expiresAt: columns.integer('expires_at'),
    endedAt: columns.integerOrNull('ended_at'),
  },
})

export interface WaveItemRow {
  id: number
  waveId: number
  displayId: number
  workstationId: number
  step: 1 | 2
  action: WaveAction
  runId: number | null
  slot: number | null
  profileHash: string | null
  fileName: string | null
  scope: Scope
  state: 'held back' | 'out' | 'left out' | 'undone'
  says: string | null
  placementId: number | null
  undoId: number | null
  outAt: number | null
}
export const waveItemEntity = new EntitySchema<WaveItemRow>({
  name: 'wave_item',
  columns: {
    id: columns.id as never,
    waveId: columns.integer('wave_id'),
    displayId: columns.integer('display_id'),
    workstationId: columns.integer('workstation_id'),
    step: columns.integer('step'),
    action: columns.text('action'),
    runId: columns.integerOrNull('run_id'),
    slot: columns.integerOrNull('slot'),
    profileHash: columns.textOrNull('profile_hash'),
    fileName: columns.textOrNull('file_name'),
    scope: columns.text('scope'),
    state: columns.text('state'),
    says: columns.textOrNull('says'),
    placementId: columns.integerOrNull('placement_id'),
    undoId: columns.integerOrNull('undo_id'),
    outAt: columns.integerOrNull('out_at'),
  },
})

/** Another workstation that reaches a display. */
export interface DisplayLinkRow {
  id: number
  displayId: number
  workstationId: number
}
export const displayLinkEntity = new EntitySchema<DisplayLinkRow>({
  name: 'display_link',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    workstationId: columns.integer('workstation_id'),
  },
})

export interface ProgramFoundRow {
  id: number
  workstationId: number
  name: string
  kind: ProgramKind
  colorManagement: ManagedPictures | null
  version4: boolean | null
  settable: boolean
  since: number
}
export const programFoundEntity = new EntitySchema<ProgramFoundRow>({
  name: 'program_found',
  columns: {
    id: columns.id as never,
    workstationId: columns.integer('workstation_id'),
    name: columns.text('name'),
    kind: columns.text('kind'),
    colorManagement: columns.textOrNull('color_management'),
    version4: { type: 'boolean', name: 'version4', nullable: true },
    settable: columns.boolean('settable'),
    since: columns.integer('since'),
  },
})
