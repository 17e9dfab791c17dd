import { convertUvToChromaticity, convertXyzToChromaticity, convertXyzToUv, type Chromaticity } from './chromaticity'
import { convertChromaticityToUv, deltaUv, type UvPrime } from './chromaticity'
import { convertSpectrumToXyz, fineWavelengths } from './observer'
import { blackbodySpectrum, daylightChromaticity } from './spectra'

/** XYZ of a blackbody, at 5 nm: at 10 nm its temperature would be off by 4 K at 6,500 K. */
const blackbodyXyz = (kelvin: number) => convertSpectrumToXyz(blackbodySpectrum(kelvin, fineWavelengths))

/** Chromaticity of a blackbody at a temperature in K (1,000–100,000), through the CIE 1931 observer. */
export const blackbodyChromaticity = (kelvin: number): Chromaticity => convertXyzToChromaticity(blackbodyXyz(kelvin))

/** Correlated colour temperature and the signed distance from the blackbody locus. */
export interface CorrelatedTemperature {
  /** K */
  readonly cct: number
  /** Distance in CIE 1960 uv, positive above the locus (greenish), negative below (pinkish). */
  readonly duv: number
}

/** A point of the CIE 1960 diagram, in which temperature is defined: u = u′, v = ⅔ v′. CIE 15:2018 §9.5. */
const uv1960 = ({ u, v }: UvPrime): UvPrime => ({ u, v: (2 / 3) * v })

/** The blackbody locus in the CIE 1960 diagram by reciprocal temperature in MK⁻¹ (mired). */
const locus = (mired: number): UvPrime => uv1960(convertXyzToUv(blackbodyXyz(1e6 / mired)))

/** Half the step, in mired, over which the locus' direction is taken; its bend over so little is below 1e-9 in uv. */
const halfStep = 0.01

/** Direction of the locus towards lower temperatures, unit length. */
function direction(mired: number): UvPrime {
  const a = locus(mired - halfStep)
  const b = locus(mired + halfStep)
  const length = Math.hypot(b.u - a.u, b.v - a.v)
  return { u: (b.u - a.u) / length, v: (b.v - a.v) / length }
}

/** Reciprocal temperatures between which a temperature is looked for: 1,667 K and 100,000 K. */
const [hottest, coolest] = [10, 600]
const gridStep = 10
const grid = Array.from({ length: (coolest - hottest) / gridStep + 1 }, (_, i) => locus(hottest + i * gridStep))

/** When the search ends: a step of so little in mired (1e-5 K at 6,500 K), or so many of them. */
const closeEnough = 3e-7
const mostSteps = 60

/** Furthest a chromaticity may lie from the locus for a temperature to mean anything. CIE 15:2018 §9.5. */
const furthest = 0.05

/**
 * Correlated colour temperature (1,667–100,000 K) and Duv of a chromaticity, by the definition itself: the blackbody
 * whose chromaticity is nearest in the CIE 1960 diagram, found where the line to it stands square to the locus. Exact to
 * well under 1 K for the observer table it uses. Null beyond that range, or further than 0.05 from the locus.
 * CIE 15:2018 §9.5; for the square-on condition A. R. Robertson, J. Opt. Soc. Am. 58 (11), 1968.
 */
export function correlatedColorTemperature(chromaticity: Chromaticity): CorrelatedTemperature | null {
  const p = uv1960(convertChromaticityToUv(chromaticity))
  const distances = grid.map((g) => Math.hypot(p.u - g.u, p.v - g.v))
  const nearest = distances.indexOf(Math.min(...distances))
  if (distances[nearest] > furthest + 0.02) return null
  /** How far along the locus the chromaticity lies ahead of the place: falls through 0 at the nearest point. */
  const ahead = (mired: number) => {
    const at = locus(mired)
    const along = direction(mired)
    return (p.u - at.u) * along.u + (p.v - at.v) * along.v
  }
  let low = hottest + Math.max(0, nearest - 1) * gridStep
  let high = hottest + Math.min(grid.length - 1, nearest + 1) * gridStep
  let [atLow, atHigh] = [ahead(low), ahead(high)]
  if (atLow < 0 || atHigh > 0) return null
  // False position, halving the end that stays (the Illinois rule): the locus is nearly straight over one step of the grid.
  let mired = low
  for (let i = 0; i < mostSteps && atLow > atHigh; i++) {
    const before = mired
    mired = low + ((high - low) * atLow) / (atLow - atHigh)
    if (Math.abs(mired - before) < closeEnough) break
    const found = ahead(mired)
    if (found > 0) [low, atLow, atHigh] = [mired, found, atHigh / 2]
    else [high, atHigh, atLow] = [mired, found, atLow / 2]
  }
  const at = locus(mired)
  const duv = Math.hypot(p.u - at.u, p.v - at.v) * (p.v > at.v ? 1 : -1)
  return Math.abs(duv) > furthest ? null : { cct: 1e6 / mired, duv }
}

/**
 * The chromaticity of a temperature (K, 1,667–100,000) at a distance Duv (±0.05) from the locus: inverse of
 * {@link correlatedColorTemperature}. Throws RangeError outside.
 */
export function chromaticityOfTemperature({ cct, duv }: CorrelatedTemperature): Chromaticity {
  if (!(cct >= 1e6 / coolest && cct <= 1e6 / hottest))
    throw new RangeError('A correlated colour temperature lies from 1,667 to 100,000 K.')
  if (!(Math.abs(duv) <= furthest)) throw new RangeError('Duv lies from −0.05 to 0.05.')
  const at = locus(1e6 / cct)
  const along = direction(1e6 / cct)
  // Square to the locus, on the side of larger v.
  const side = along.u > 0 ? 1 : -1
  const u = at.u - duv * side * along.v
  const v = at.v + duv * side * along.u
  return convertUvToChromaticity({ u, v: 1.5 * v })
}

/**
 * McCamy's estimate of the correlated colour temperature, K: a cubic that is within some kelvins near daylight and
 * further off elsewhere. For comparison with figures made by it only. C. S. McCamy, Color Res. Appl. 17 (2), 1992.
 */
export function mccamyTemperature({ x, y }: Chromaticity): number {
  const n = (x - 0.332) / (y - 0.1858)
  return -449 * n ** 3 + 3525 * n ** 2 - 6823.3 * n + 5520.33
}

/** Where whites of a temperature change from the blackbody's to daylight's, K. */
const daylightFrom = 4000
/** Temperatures so near to it that somebody may mean the other, K. */
const nearDaylight = 300

/**
 * What a person who chooses a temperature near the change from one locus to the other has to know; null elsewhere. K.
 * Between the two whites of 4,000 K lie 0.0037 Δu′v′.
 */
export function locusNote(kelvin: number): string | null {
  if (!(Math.abs(kelvin - daylightFrom) <= nearDaylight)) return null
  const apart = deltaUv(
    convertChromaticityToUv(daylightChromaticity(daylightFrom)),
    convertChromaticityToUv(blackbodyChromaticity(daylightFrom)),
  )
  return `${kelvin >= daylightFrom ? 'From 4,000 K on it is daylight’s white; below, a lamp’s' : 'Below 4,000 K it is a lamp’s white (a blackbody’s); from there on daylight’s'}. Where the two meet they are ${apart.toFixed(4)} Δu′v′ apart: give xy by hand if the other is meant.`
}

/**
 * The white of a correlated colour temperature as displays are asked for it: on the CIE daylight locus from 4,000 K,
 * on the blackbody locus below. K, 2,000–20,000; RangeError outside.
 */
export function whiteOfTemperature(kelvin: number): Chromaticity {
  if (!(kelvin >= 2000 && kelvin <= 20000)) throw new RangeError('A white temperature lies from 2,000 to 20,000 K.')
  return kelvin >= daylightFrom ? daylightChromaticity(kelvin) : blackbodyChromaticity(kelvin)
}
