export { distinctNames, fileNameOf } from './fileName'
export { isPlainText } from './plainText'
export { normalFrom, uniformFrom } from './random'
export { dateOfDay, zoneClock } from './zoneClock'
