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

/**
 * Isotemperature lines: mired, u and v (CIE 1960) of the blackbody, slope of the line across it.
 * A. R. Robertson, J. Opt. Soc. Am. 58 (11), 1968, as printed in G. Wyszecki, W. S. Stiles, Color Science, table 1(3.11).
 */
const isotherms: readonly (readonly [number, number, number, number])[] = [
  [0, 0.18006, 0.26352, -0.24341],
  [10, 0.18066, 0.26589, -0.25479],
  [20, 0.18133, 0.26846, -0.26876],
  [30, 0.18208, 0.27119, -0.28539],
  [40, 0.18293, 0.27407, -0.3047],
  [50, 0.18388, 0.27709, -0.32675],
  [60, 0.18494, 0.28021, -0.35156],
  [70, 0.18611, 0.28342, -0.37915],
  [80, 0.1874, 0.28668, -0.40955],
  [90, 0.1888, 0.28997, -0.44278],
  [100, 0.19032, 0.29326, -0.47888],
  [125, 0.19462, 0.30141, -0.58204],
  [150, 0.19962, 0.30921, -0.70471],
  [175, 0.20525, 0.31647, -0.84901],
  [200, 0.21142, 0.32312, -1.0182],
  [225, 0.21807, 0.32909, -1.2168],
  [250, 0.22511, 0.33439, -1.4512],
  [275, 0.23247, 0.33904, -1.7298],
  [300, 0.2401, 0.34308, -2.0637],
  [325, 0.24792, 0.34655, -2.4681],
  [350, 0.25591, 0.34951, -2.9641],
  [375, 0.264, 0.352, -3.5814],
  [400, 0.27218, 0.35407, -4.3633],
  [425, 0.28039, 0.35577, -5.3762],
  [450, 0.28863, 0.35714, -6.7262],
  [475, 0.29685, 0.35823, -8.5955],
  [500, 0.30505, 0.35907, -11.324],
  [525, 0.3132, 0.35968, -15.628],
  [550, 0.32129, 0.36011, -23.325],
  [575, 0.32931, 0.36038, -40.77],
  [600, 0.33724, 0.36051, -116.45],
]

/**
 * Correlated colour temperature (K, 1,667 and above) and Duv of a chromaticity, by Robertson's isotemperature lines: to
 * about 0.1 % in temperature. Null beyond the last line, or further than 0.05 from the locus, where a temperature means
 * nothing.
 */
export function correlatedColorTemperature(chromaticity: Chromaticity): CorrelatedTemperature | null {
  const p = uv1960(convertChromaticityToUv(chromaticity))
  // Signed distance to each line; it changes its sign between the two lines that hold the chromaticity.
  const distances = isotherms.map(([, u, v, slope]) => (p.v - v - slope * (p.u - u)) / Math.hypot(1, slope))
  const i = distances.findIndex((d, k) => k > 0 && d < 0 !== distances[k - 1] < 0)
  if (i < 1) return null
  const t = distances[i - 1] / (distances[i - 1] - distances[i])
  const [mired, u, v] = [0, 1, 2].map((k) => isotherms[i - 1][k] + t * (isotherms[i][k] - isotherms[i - 1][k]))
  const duv = Math.hypot(p.u - u, p.v - v) * Math.sign(p.v - v)
  return mired <= 0 || Math.abs(duv) > 0.05 ? null : { cct: 1e6 / mired, duv }
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

/** How far outside the 10 nm polygon a chromaticity may lie: the true locus bulges that much beyond its chords. */
const bulge = 0.004

/** Distance of a point from the line between two others. */
function distanceToSegment(p: UvPrime, a: UvPrime, b: UvPrime): number {
  const [du, dv] = [b.u - a.u, b.v - a.v]
  const t = Math.min(1, Math.max(0, ((p.u - a.u) * du + (p.v - a.v) * dv) / (du * du + dv * dv)))
  return Math.hypot(p.u - a.u - t * du, p.v - a.v - t * dv)
}

/** Whether a chromaticity lies inside or on the spectral locus closed by the purple line, so that light can have it. */
export function isRealChromaticity(chromaticity: Chromaticity): boolean {
  if (!(chromaticity.y > 0 && chromaticity.x >= 0 && chromaticity.x + chromaticity.y <= 1 + 1e-9)) return false
  const p = convertChromaticityToUv(chromaticity)
  let inside = false
  for (let i = 0, j = spectralLocusUv.length - 1; i < spectralLocusUv.length; j = i++) {
    const a = spectralLocusUv[i]
    const b = spectralLocusUv[j]
    if (distanceToSegment(p, a, b) <= bulge) return true
    if (a.v > p.v !== b.v > p.v && p.u < ((b.u - a.u) * (p.v - a.v)) / (b.v - a.v) + a.u) inside = !inside
  }
  return inside
}
