import { convertChromaticityToUv, convertXyzToChromaticity, type Chromaticity, type UvPrime } from './chromaticity'
import { convertSpectrumToXyz, wavelengths } from './observer'

/** Second radiation constant, m·K. CIE 15:2018 §3 (ITS-90 value). */
const c2 = 1.4388e-2

/** Chromaticity of a blackbody at a temperature in K (1,000–25,000), by Planck's law through the CIE 1931 observer. */
export function blackbodyChromaticity(kelvin: number): Chromaticity {
  const radiance = wavelengths.map((nm) => {
    const m = nm * 1e-9
    return 1e-30 / (m ** 5 * (Math.exp(c2 / (m * kelvin)) - 1))
  })
  return convertXyzToChromaticity(convertSpectrumToXyz(radiance))
}

/** Chromaticity of CIE daylight at 4,000–25,000 K. Throws RangeError outside. CIE 15:2018 §4.1.2. */
export function daylightChromaticity(kelvin: number): Chromaticity {
  if (!(kelvin >= 4000 && kelvin <= 25000)) throw new RangeError('CIE daylight is defined from 4,000 to 25,000 K.')
  const t = 1000 / kelvin
  const x =
    kelvin <= 7000
      ? 0.244063 + 0.09911 * t + 2.9678 * t ** 2 - 4.607 * t ** 3
      : 0.23704 + 0.24748 * t + 1.9018 * t ** 2 - 2.0064 * t ** 3
  return { x, y: -3 * x * x + 2.87 * x - 0.275 }
}

/** Correlated colour temperature and the signed distance from the blackbody locus. */
export interface CorrelatedTemperature {
  /** K */
  readonly cct: number
  /** Distance in CIE 1960 uv, positive above the locus (greenish), negative below (pinkish). */
  readonly duv: number
}

const uv1960 = ({ u, v }: UvPrime) => ({ u, v: (2 / 3) * v })
const locus = (mired: number) => uv1960(convertChromaticityToUv(blackbodyChromaticity(1e6 / mired)))

/**
 * Correlated colour temperature (K) and Duv of a chromaticity, by the nearest point of the blackbody locus in CIE 1960
 * uv (CIE 15:2018 §9.5): a golden-section search over 1,000–25,000 K in mired. Returns null when the chromaticity is
 * further than 0.05 from the locus, where a temperature means nothing.
 */
export function correlatedColorTemperature(chromaticity: Chromaticity): CorrelatedTemperature | null {
  const p = uv1960(convertChromaticityToUv(chromaticity))
  const distance = (mired: number) => {
    const q = locus(mired)
    return Math.hypot(p.u - q.u, p.v - q.v)
  }
  const lowest = 40
  const highest = 1000
  let nearest = lowest
  for (let m = lowest; m <= highest; m += 10) if (distance(m) < distance(nearest)) nearest = m
  let a = Math.max(lowest, nearest - 10)
  let b = Math.min(highest, nearest + 10)
  const golden = (Math.sqrt(5) - 1) / 2
  for (let i = 0; i < 48; i++) {
    const left = b - golden * (b - a)
    const right = a + golden * (b - a)
    if (distance(left) < distance(right)) b = right
    else a = left
  }
  const mired = (a + b) / 2
  const away = distance(mired)
  if (away > 0.05) return null
  return { cct: 1e6 / mired, duv: away * Math.sign(p.v - locus(mired).v) }
}

/**
 * The white of a correlated colour temperature as displays are asked for it: on the CIE daylight locus from 4,000 K,
 * on the blackbody locus below. K, 2,000–20,000; RangeError outside.
 */
export function whiteOfTemperature(kelvin: number): Chromaticity {
  if (!(kelvin >= 2000 && kelvin <= 20000)) throw new RangeError('A white temperature lies from 2,000 to 20,000 K.')
  return kelvin >= 4000 ? daylightChromaticity(kelvin) : blackbodyChromaticity(kelvin)
}

const spectralLocusUv: readonly UvPrime[] = wavelengths
  .filter((nm) => nm >= 400 && nm <= 700)
  .map((nm) => {
    const single = wavelengths.map((w) => (w === nm ? 1 : 0))
    return convertChromaticityToUv(convertXyzToChromaticity(convertSpectrumToXyz(single)))
  })

/** The spectral locus in u′v′ from 400 to 700 nm; its ends joined are the purple line. */
export const spectralLocus = (): readonly UvPrime[] => spectralLocusUv

/** Whether a chromaticity lies inside the spectral locus closed by the purple line, so that light can have it. */
export function isRealChromaticity(chromaticity: Chromaticity): boolean {
  if (!(chromaticity.y > 0 && chromaticity.x >= 0 && chromaticity.x + chromaticity.y <= 1)) return false
  const p = convertChromaticityToUv(chromaticity)
  let inside = false
  for (let i = 0, j = spectralLocusUv.length - 1; i < spectralLocusUv.length; j = i++) {
    const a = spectralLocusUv[i]
    const b = spectralLocusUv[j]
    if (a.v > p.v !== b.v > p.v && p.u < ((b.u - a.u) * (p.v - a.v)) / (b.v - a.v) + a.u) inside = !inside
  }
  return inside
}
