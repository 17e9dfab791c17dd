export { judgeBinding, placementStates, type PlacementState } from './judgeBinding'
