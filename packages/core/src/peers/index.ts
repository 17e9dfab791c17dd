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
  instrumentOffsets,
  type InstrumentOffset,
  type Offset,
  planRing,
  type RingAsked,
  type RingPlan,
  type RingReading,
  type RingStep,
} from './ring'
