export { adaptLab, solidOfCharacterization, solidOfEncoding } from './gamutOf'
export { compareSolids, type GamutSolid, solidOfSurface, tessellate, volumeOf } from './gamutSolid'
export { type GamutSurface, surfaceOfAim, surfaceOfDisplay, surfaceOfEncoding, trianglesOutside } from './gamutSurface'
