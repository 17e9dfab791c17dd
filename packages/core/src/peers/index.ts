export {
  matchedOffset,
  type MatchRepeat,
  type MatchSettled,
  matchShare,
  matchSides,
  matchSignal,
  matchStart,
  seenByEye,
  settleMatch,
} from './byEye'
export {
  commonGround,
  type CommonGround,
  type GroundAsked,
  isGround,
  type MemberGround,
  type MemberLight,
  type NoGround,
} from './commonGround'
export { type Alike, type Apart, howAlike, type MemberShown, type OddOne, type PairDifference } from './differences'
export {
  aimOfGround,
  type AdoptedGround,
  type GroundMove,
  groundMoves,
  howGroundMoved,
  roundedLight,
} from './groundAim'
export { lightAtMost, type LightAtMost, type LightSeen } from './memberLight'
export {
  judgeSet,
  type PairDoubt,
  type PairVerdict,
  type PeerEdge,
  type PeerFigure,
  peerFigureOf,
  peerFigures,
  type PeerLimits,
  type SetVerdict,
  usualPeerLimits,
} from './peerLimits'
export {
  instrumentOffsets,
  type InstrumentOffset,
  type Offset,
  planRing,
  planSpotRing,
  type RingAsked,
  type RingPlan,
  type RingReading,
  type RingStep,
  usualNoise,
} from './ring'
export {
  type Furthest,
  furthestOf,
  type GroundLack,
  type MemberKnown,
  type MemberLightState,
  type SetAlike,
  type SetAsked,
  type SetStanding,
  standingOf,
  verdictOf,
} from './standing'
export { forecastPair, type MemberRates, type PairForecast, type Rate } from './pairForecast'
export { pairDoubts, type PairMember } from './pairDoubt'
