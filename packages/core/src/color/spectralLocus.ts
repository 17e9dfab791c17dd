import { convertChromaticityToUv, convertXyzToChromaticity, type Chromaticity, type UvPrime } from './chromaticity'
import { convertSpectrumToXyz, wavelengths } from './observer'

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
