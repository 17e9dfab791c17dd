export { certificateDays } from './certificate'
export { correctionResidual, correctReading, fourColorMatrix, type FourColors, type ReadTwice } from './fourColorMatrix'
export { type OperatingSystem, operatingSystemNames, operatingSystems } from './operatingSystems'
export { type PanelKind, panelKindNames, panelKinds } from './panelKinds'
