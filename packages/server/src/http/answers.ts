import type {
  Account,
  ApiToken,
  Backups,
  Capacity,
  DisplayDetail,
  DisplayListing,
  Desk,
  DeskReport,
  DueRules,
  KeptWell,
  LinkListing,
  FleetDrift,
  FloorSummary,
  FoundDisplay,
  Instrument,
  InventoryPlan,
  LedgerEntry,
  LightDay,
  LightWeeks,
  LedgerProof,
  MadeCorrection,
  ModelFacts,
  Need,
  OwnSession,
  Page,
  InstrumentOffsetTold,
  InstrumentsDue,
  PeerSetDetail,
  PeerSetListing,
  Person,
  Pulse,
  PutAwayDisplay,
  DisplayRollout,
  FoundByHandAnswer,
  PlanStanding,
  PolicyListing,
  RoundsHouse,
  Tour,
  Visit,
  StartedPeerRuns,
  Week,
  RolloutRow,
  RolloutSummary,
  Wave,
  WaveDetail,
  WavePreview,
  Ring,
  Room,
  RoomLightEntry,
  RunDetail,
  RunOutlook,
  RunReview,
  RunSummary,
  SecondFactorOffer,
  SecondFactorState,
  Session,
  SlotHistory,
  SlotOutlook,
  StoredAim,
  StoredLimits,
  StudioSettings,
  Workstation,
} from '@bichroma/contract'

/** What was made, by its number. */
interface Made {
  id: number
}

/** It is done; there is nothing to tell. */
// oxlint-disable-next-line typescript/no-empty-object-type -- what JSON has for it
interface Done {}

/** A secret that is told this once. */
interface OneTimeLink {
  token: string
  /** ms since 1970. */
  expiresAt: number
}

/** Codes that are told this once. */
interface RecoveryCodes {
  codes: string[]
}

/**
 * What each route answers with as JSON; routes that send a file or a stream instead stand in the table of files. The API's
 * description is made from these types (`npm run schemas`).
 */
export interface Answers {
  'GET /openapi.json': never
  'POST /session': { account: Account }
  'GET /session': Session
  'DELETE /session': { account: null }
  'POST /first-visit': { account: Account }
  'POST /accept': { account: Account }
  'GET /session/all': OwnSession[]
  'DELETE /session/others': Done
  'PUT /session/password': Done
  'GET /session/second-factor': SecondFactorState
  'POST /session/second-factor': SecondFactorOffer
  'PUT /session/second-factor': RecoveryCodes
  'POST /session/second-factor/codes': RecoveryCodes
  'POST /session/second-factor/remove': Done
  'GET /tokens': ApiToken[]
  'POST /tokens': Made & OneTimeLink
  'DELETE /tokens/:id': Done

  'GET /people': Person[]
  'POST /people': Made & OneTimeLink
  'PUT /people/:id': Done
  'POST /people/:id/reset': OneTimeLink
  'DELETE /people/:id/second-factor': Done
  'GET /backups': Backups
  'POST /backups': Backups['backups'][number]
  'GET /ledger': Page<LedgerEntry>
  'GET /ledger/proof': LedgerProof
  'GET /ledger/file': never
  'GET /ledger/:thing/:id': Page<LedgerEntry>

  'GET /rooms': Room[]
  'POST /rooms': Made
  'PUT /rooms/:id': Done
  'DELETE /rooms/:id': Done
  'PUT /buildings': Done
  'GET /rooms/:id/light': RoomLightEntry[]
  'POST /rooms/:id/light': RoomLightEntry
  'GET /rooms/:id/light/day': LightDay
  'GET /rooms/:id/light/weeks': LightWeeks
  'PUT /rooms/:id/light/level': Done
  'POST /rooms/:id/watch': Done
  'DELETE /rooms/:id/watch': Done
  'GET /workstations': Page<Workstation>
  'POST /workstations': Made
  'PUT /workstations/:id': Done
  'DELETE /workstations/:id': Done
  'POST /workstations/:id/courier-key': { key: string }
  'GET /floor': FloorSummary
  'GET /needs': Page<Need>
  'GET /displays': Page<DisplayListing>
  'GET /displays/:id': DisplayDetail
  'POST /displays': Made
  'PUT /displays/:id': Done
  'POST /displays/change': { changed: number }
  'POST /displays/swap': Done
  'POST /displays/:id/move': Done
  'POST /displays/:id/keep': Done
  'POST /displays/:id/replace': Made
  'GET /put-away': PutAwayDisplay[]
  'GET /models': ModelFacts[]
  'GET /inventory': never
  'POST /inventory/plan': InventoryPlan
  'POST /inventory': { written: number }
  'GET /found': FoundDisplay[]
  'POST /displays/:id/name': { seconds: number }
  'GET /displays/:id/outlook': RunOutlook[]
  'GET /instruments': Instrument[]
  'PUT /instruments/:id': Done
  'GET /corrections': Page<MadeCorrection>
  'POST /corrections': Made & { residual: number }

  'GET /aims': StoredAim[]
  'POST /aims': Made
  'PUT /aims/:id': Done
  'DELETE /aims/:id': Done
  'GET /limits': StoredLimits[]
  'POST /limits': Made
  'PUT /limits/:id': Done
  'DELETE /limits/:id': Done

  'GET /settings': StudioSettings
  'PUT /settings': Done
  'GET /settings/logo': never
  'PUT /settings/logo': Done
  'DELETE /settings/logo': Done

  'GET /runs': Page<RunSummary>
  'POST /runs': Made
  'GET /runs/:id': RunDetail
  'POST /runs/:id/stop': Done
  'POST /runs/:id/put-back': Done
  'POST /runs/:id/resume': Done
  'GET /runs/:id/review': RunReview
  'GET /runs/:id/profile': never
  'POST /runs/:id/profile': { profileName: string | null; profileHash: string | null }
  'POST /runs/:id/withdraw': Done
  'GET /runs/:id/report': never
  'GET /reports/fleet': never
  'GET /rooms/:id/reports': never
  'POST /displays/:id/validations': Made

  'GET /drift': FleetDrift
  'GET /drift/slots': Page<SlotOutlook>
  'GET /drift/:displayId': SlotHistory

  'GET /rollout': Page<RolloutRow>
  'GET /rollout/summary': RolloutSummary
  'GET /displays/:id/rollout': DisplayRollout
  'POST /displays/:id/links': Done
  'DELETE /displays/:id/links/:workstationId': Done
  'POST /rollout/files': never
  'POST /rollout/found': FoundByHandAnswer
  'GET /policies': PolicyListing[]
  'PUT /policies': Done
  'POST /waves/preview': WavePreview
  'GET /waves': Page<Wave>
  'POST /waves': Made
  'GET /waves/:id': WaveDetail
  'POST /waves/:id/pause': Done
  'POST /waves/:id/go-on': Done
  'POST /waves/:id/word': Done
  'POST /waves/:id/undo': Done
  'POST /placements': Made
  'POST /placements/:id/verify': Done

  'GET /due-rules': DueRules
  'PUT /due-rules': Done
  'POST /due-days': Made
  'DELETE /due-days/:id': Done
  'PUT /displays/:id/rest': Done
  'GET /kept': KeptWell
  'GET /kept/file': never
  'GET /links': LinkListing[]
  'POST /links': Made & { token: string }
  'DELETE /links/:id': Done
  'GET /feeds/:token': never
  'POST /workstations/:id/desk-link': { token: string }
  'GET /desk/:token': Desk
  'POST /desk/:token/answer': Done
  'POST /desk/:token/wrong': Made
  'GET /desk-reports': Page<DeskReport>
  'GET /desk-reports/:id/picture': never
  'POST /desk-reports/:id/answer': Done
  'GET /rounds/plan': { plan: PlanStanding | null }
  'POST /rounds/plan': { plan: PlanStanding | null }
  'POST /rounds/told': { told: number }
  'GET /rounds/week': Week
  'GET /rounds/unplanned': Page<Visit>
  'GET /rounds/tour': Tour
  'GET /rounds/capacity': Capacity
  'GET /rounds/instruments-due': InstrumentsDue
  'GET /rounds/house': RoundsHouse
  'PUT /rounds/settings': Done
  'PUT /rounds/ways': Done
  'PUT /rounds/times': Done
  'PUT /rounds/people/:id': Done
  'PUT /rounds/instruments/:id': Done
  'PUT /visits/:id': { displaced: number[] }
  'DELETE /visits/:id/pin': Done
  'POST /visits/:id/begin': Made
  'POST /visits/:id/block': Done
  'POST /visits/:id/drop': Done

  'GET /peer-sets': Page<PeerSetListing>
  'POST /peer-sets': Made
  'GET /peer-sets/:id': PeerSetDetail
  'PUT /peer-sets/:id': Done
  'DELETE /peer-sets/:id': Done
  'POST /peer-sets/:id/aim': Made
  'POST /peer-sets/:id/runs': StartedPeerRuns
  'POST /peer-sets/:id/match': Done
  'POST /peer-sets/:id/matches': Made
  'DELETE /peer-matches/:id': Done
  'GET /instrument-offsets': InstrumentOffsetTold[]
  'POST /instrument-offsets': Made
  'POST /instrument-offsets/:id/take': Done
  'POST /instrument-offsets/:id/end': Done
  'GET /rings': Page<Ring>
  'POST /rings': Made
  'POST /rings/:id/stop': Done

  'GET /pulse': Pulse
  'GET /events': never
}
