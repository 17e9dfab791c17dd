import { EntitySchema } from 'typeorm'
import type { JudgedVerdict } from '@bichroma/core/aims'
import type { AdoptedGround, Furthest, GroundMove, MatchRepeat, MatchSettled, SetStanding } from '@bichroma/core/peers'
import type { ByEyeState, LookState, PeerRunKind, RingResult, RingState, SavePeerSet } from '@bichroma/contract'
import { columns } from '../data/columns'

/** Displays that must look alike, what is asked of them, and what was worked out of them last. */
export interface PeerSetRow extends Omit<SavePeerSet, 'members' | 'reference'> {
  id: number
  /** The display of the member that the others are held against. */
  referenceId: number | null
  createdAt: number
  createdBy: string
  /** The aim that was made of its ground, the ground as it was then, and by whom and when. */
  aimId: number | null
  adopted: AdoptedGround | null
  adoptedAt: number | null
  adoptedBy: string | null
  /** How often something has changed since the standing was worked out; the store counts itself. */
  due: number
  standing: SetStanding | null
  workedOutAt: number | null
  verdict: JudgedVerdict | null
  judgedAt: number | null
  furthest: Furthest | null
  moved: GroundMove[]
  luminance: number | null
}
export const peerSetEntity = new EntitySchema<PeerSetRow>({
  name: 'peer_set',
  columns: {
    id: columns.id as never,
    name: columns.text('name'),
    referenceId: columns.integerOrNull('reference_id'),
    white: columns.json('white'),
    toneResponse: columns.json('tone_response'),
    standard: columns.textOrNull('standard'),
    share: columns.real('share'),
    headroom: columns.real('headroom'),
    black: columns.text('black'),
    limits: columns.json('limits'),
    createdAt: columns.integer('created_at'),
    createdBy: columns.text('created_by'),
    aimId: columns.integerOrNull('aim_id'),
    adopted: columns.jsonOrNull('adopted'),
    adoptedAt: columns.integerOrNull('adopted_at'),
    adoptedBy: columns.textOrNull('adopted_by'),
    due: columns.integer('due'),
    standing: columns.jsonOrNull('standing'),
    workedOutAt: columns.integerOrNull('worked_out_at'),
    verdict: columns.textOrNull('verdict'),
    judgedAt: columns.integerOrNull('judged_at'),
    furthest: columns.jsonOrNull('furthest'),
    moved: columns.json('moved'),
    luminance: columns.realOrNull('luminance'),
  },
})

export interface PeerMemberRow {
  id: number
  setId: number
  displayId: number
  slot: number
  /** Its place in the set, from 0. */
  place: number
}
export const peerMemberEntity = new EntitySchema<PeerMemberRow>({
  name: 'peer_member',
  columns: {
    id: columns.id as never,
    setId: columns.integer('set_id'),
    displayId: columns.integer('display_id'),
    slot: columns.integer('slot'),
    place: columns.integer('place'),
  },
})

/** Two members whose whites a person matched by eye. */
export interface PeerMatchRow {
  id: number
  setId: number
  displayId: number
  besideId: number
  at: number
  by: string
  repeats: MatchRepeat[]
  settled: MatchSettled
  /** How far its white has to measure from the other one's to look like it, u′v′. */
  u: number
  v: number
  state: ByEyeState
  aimId: number | null
}
export const peerMatchEntity = new EntitySchema<PeerMatchRow>({
  name: 'peer_match',
  columns: {
    id: columns.id as never,
    setId: columns.integer('set_id'),
    displayId: columns.integer('display_id'),
    besideId: columns.integer('beside_id'),
    at: columns.integer('at'),
    by: columns.text('by'),
    repeats: columns.json('repeats'),
    settled: columns.json('settled'),
    u: columns.real('u'),
    v: columns.real('v'),
    state: columns.text('state'),
    aimId: columns.integerOrNull('aim_id'),
  },
})

/** Runs of all members that were started together, and what the set came to when they had ended. */
export interface PeerLookRow {
  id: number
  setId: number
  kind: PeerRunKind
  startedAt: number
  by: string
  state: LookState
  endedAt: number | null
  verdict: JudgedVerdict | null
  furthest: Furthest | null
}
export const peerLookEntity = new EntitySchema<PeerLookRow>({
  name: 'peer_look',
  columns: {
    id: columns.id as never,
    setId: columns.integer('set_id'),
    kind: columns.text('kind'),
    startedAt: columns.integer('started_at'),
    by: columns.text('by'),
    state: columns.text('state'),
    endedAt: columns.integerOrNull('ended_at'),
    verdict: columns.textOrNull('verdict'),
    furthest: columns.jsonOrNull('furthest'),
  },
})

export interface PeerLookRunRow {
  id: number
  lookId: number
  runId: number
}
export const peerLookRunEntity = new EntitySchema<PeerLookRunRow>({
  name: 'peer_look_run',
  columns: {
    id: columns.id as never,
    lookId: columns.integer('look_id'),
    runId: columns.integer('run_id'),
  },
})

/** Instruments that read the same displays, one after another. */
export interface RingRow {
  id: number
  referenceId: number | null
  wanted: number
  uncertainty: number
  startedAt: number
  by: string
  state: RingState
  endedAt: number | null
  says: string | null
  result: RingResult[] | null
}
export const ringEntity = new EntitySchema<RingRow>({
  name: 'ring',
  columns: {
    id: columns.id as never,
    referenceId: columns.integerOrNull('reference_id'),
    wanted: columns.real('wanted'),
    uncertainty: columns.real('uncertainty'),
    startedAt: columns.integer('started_at'),
    by: columns.text('by'),
    state: columns.text('state'),
    endedAt: columns.integerOrNull('ended_at'),
    says: columns.textOrNull('says'),
    result: columns.jsonOrNull('result'),
  },
})

/** One instrument laid on one display, and the run in which it read it. */
export interface RingStepRow {
  id: number
  ringId: number
  seq: number
  displayId: number
  instrumentId: number
  runId: number | null
}
export const ringStepEntity = new EntitySchema<RingStepRow>({
  name: 'ring_step',
  columns: {
    id: columns.id as never,
    ringId: columns.integer('ring_id'),
    seq: columns.integer('seq'),
    displayId: columns.integer('display_id'),
    instrumentId: columns.integer('instrument_id'),
    runId: columns.integerOrNull('run_id'),
  },
})
