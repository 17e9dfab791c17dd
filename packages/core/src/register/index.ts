export { certificateDays } from './certificate'
export {
  type ColorimeterCorrection,
  correctionFrom,
  correctionResidual,
  correctReading,
  fourColorMatrix,
  type FourColors,
  fourLights,
  type FourLights,
  type ReadTwice,
} from './fourColorMatrix'
export { type ReadsMore, withoutOffset } from './instrumentOffset'
export { kindContradiction } from './kindContradiction'
export { type OperatingSystem, operatingSystemNames, operatingSystems } from './operatingSystems'
export { type PanelKind, panelKindNames, panelKinds } from './panelKinds'
