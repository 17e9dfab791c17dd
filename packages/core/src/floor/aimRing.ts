import {
  convertChromaticityToUv,
  convertChromaticityToXyz,
  convertUvToChromaticity,
  type Chromaticity,
} from '../color/chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites } from '../color/encodings'
import { invert, multiplyVector } from '../color/matrix3'
import { toneCurve } from '../tone/toneResponse'

/** How much larger the aim ring draws the difference between measured white and aim. */
export const aimRingFactor = 12

/** The longest difference that the ring draws, in u′v′ after enlarging: beyond it the hue no longer grows. */
const longest = 0.045

const toLinearSrgb = invert(matrixOfPrimaries(standardPrimaries.sRGB, convertChromaticityToXyz(standardWhites.D65)))
const { encode } = toneCurve({ kind: 'sRGB' })
/** Lightness of the ring's parts: below 1, so that a hue has room. */
const brightest = 0.9

/** A white as a CSS colour for an sRGB screen, at one lightness for all whites; hues out of gamut are clipped. */
export function cssOfWhite(white: Chromaticity): string {
  const linear = multiplyVector(toLinearSrgb, convertChromaticityToXyz(white))
  const most = Math.max(...linear)
  const [r, g, b] = linear.map((v) => Math.round(255 * encode((brightest * v) / most)))
  return `rgb(${r} ${g} ${b})`
}

/** The chromaticity that the inner disc shows: the aim's white moved by {@link aimRingFactor} times the difference. */
export function enlargedWhite(aim: Chromaticity, measured: Chromaticity): Chromaticity {
  const from = convertChromaticityToUv(aim)
  const to = convertChromaticityToUv(measured)
  const du = (to.u - from.u) * aimRingFactor
  const dv = (to.v - from.v) * aimRingFactor
  const shrink = Math.min(1, longest / Math.max(Math.hypot(du, dv), 1e-12))
  return convertUvToChromaticity({ u: from.u + du * shrink, v: from.v + dv * shrink })
}
