export { bradfordMatrix } from './adaptation'
export {
  type Chromaticity,
  convertChromaticityToUv,
  convertChromaticityToXyz,
  convertUvToChromaticity,
  convertXyzToChromaticity,
  convertXyzToUv,
  deltaUv,
  type UvPrime,
  type XYZ,
} from './chromaticity'
export { cssOfLab } from './cssOfLab'
export { deltaE2000 } from './deltaE2000'
export { deltaE2000Pairs } from './deltaE2000Pairs'
export { deltaOfLab, deltaOfXyz, type DifferenceFormula, differenceFormulas, differenceLabels } from './differences'
export {
  matrixOfEncoding,
  matrixOfPrimaries,
  pcsWhite,
  type Primaries,
  standardPrimaries,
  type StandardPrimaries,
  standardWhites,
} from './encodings'
export { convertLabToXyz, convertXyzToLab, type Lab } from './lab'
export {
  add,
  identity3,
  invert,
  type Matrix3,
  multiply,
  multiplyVector,
  scale,
  subtract,
  transpose,
  type Triple,
} from './matrix3'
export { fineObserver1931 } from './observer'
export type { PatchReading } from './patchReading'
export { comparePrimaries, type Diagram } from './planarGamut'
export { readingBounds } from './readingBounds'
export { blackbodySpectrum } from './spectra'
export { isRealChromaticity, spectralLocus } from './spectralLocus'
export { chromaticityOfTemperature, correlatedColorTemperature, locusNote, mccamyTemperature } from './temperature'
