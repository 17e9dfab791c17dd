export { aimRingFactor, cssOfWhite, enlargedWhite } from './aimRing'
