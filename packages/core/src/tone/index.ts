export { toneCurve, type ToneResponse } from './toneResponse'
