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
