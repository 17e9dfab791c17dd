export {
  mostOldFiles,
  policyBook,
  policyLevels,
  ruleNames,
  ruleWords,
  usualRules,
  type HeldPolicy,
  type Policy,
  type PolicyLevel,
  type PolicySubject,
  type ProfileRule,
  type RuleName,
  type RuleOrigin,
  type Rules,
} from './policy'
export { mostPutBacks, putBackNow } from './putBack'
export {
  mendOf,
  mends,
  placementStates,
  standingOf,
  type Agreed,
  type DifferenceFacts,
  type Found,
  type Mend,
  type PlacementState,
} from './standing'
export { slotWanted, wantedOf, type FiledProfile, type KnownOfDisplay, type Wanted } from './wanted'
export {
  nextMove,
  noItems,
  waveGates,
  waveItemStates,
  waveStates,
  waveTimeLeft,
  type WaveGate,
  type WaveItemState,
  type WaveMove,
  type WaveRules,
  type WaveStanding,
  type WaveState,
} from './wave'
export {
  managedPictures,
  programKinds,
  programSwitches,
  switchesAstray,
  switchesWanted,
  type ManagedPictures,
  type ProgramFound,
  type ProgramKind,
  type ProgramSwitch,
  type SwitchAstray,
} from './programs'
export { readFoundText, type FoundByHand } from './foundText'
export { foundHead, handScript, type HandRow } from './handScripts'
