import { convertChromaticityToXyz } from '../color/chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites } from '../color/encodings'
import { convertLabToXyz, type Lab } from '../color/lab'
import { invert, multiplyVector } from '../color/matrix3'
import { toneCurve } from '../tone/toneResponse'

const d65 = convertChromaticityToXyz(standardWhites.D65)
const toLinear = invert(matrixOfPrimaries(standardPrimaries.sRGB, d65))
const { encode } = toneCurve({ kind: 'sRGB' })

/** A CIELAB colour, taken as seen by an eye adapted to its white, as a CSS colour for an sRGB screen; clipped to it. */
export function cssOfLab(lab: Lab): string {
  const [r, g, b] = multiplyVector(toLinear, convertLabToXyz(lab, d65)).map((v) => Math.round(255 * encode(v)))
  return `rgb(${r} ${g} ${b})`
}
