import { convertChromaticityToXyz } from './chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites } from './encodings'
import { convertLabToXyz, type Lab } from './lab'
import { invert, multiplyVector, type Triple } from './matrix3'
import { toneCurve } from '../tone/toneResponse'

const d65 = convertChromaticityToXyz(standardWhites.D65)
const toLinear = invert(matrixOfPrimaries(standardPrimaries.sRGB, d65))
const { encode } = toneCurve({ kind: 'sRGB' })

/** A CIELAB colour, taken as seen by an eye adapted to its white, as the codes 0–1 of an sRGB screen; clipped to it. */
export const screenOfLab = (lab: Lab): Triple =>
  multiplyVector(toLinear, convertLabToXyz(lab, d65)).map((v) => encode(v)) as unknown as Triple

/** The same as a CSS colour. */
export function cssOfLab(lab: Lab): string {
  const [r, g, b] = screenOfLab(lab).map((v) => Math.round(255 * v))
  return `rgb(${r} ${g} ${b})`
}
