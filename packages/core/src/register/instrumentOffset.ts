import {
  convertChromaticityToUv,
  convertChromaticityToXyz,
  convertUvToChromaticity,
  type UvPrime,
  type XYZ,
} from '../color/chromaticity'
import { standardWhites } from '../color/encodings'

/** What an instrument reads of whites beyond what is there: luminance as a share, and u′v′. */
export interface ReadsMore extends UvPrime {
  readonly luminance: number
}

/** What takes that out of a reading: X, Y and Z each by a factor of its own, which are those of D65. */
export function withoutOffset({ luminance, u, v }: ReadsMore): (xyz: XYZ) => XYZ {
  const white = standardWhites.D65
  const own = convertChromaticityToUv(white)
  const seen = convertChromaticityToXyz(convertUvToChromaticity({ u: own.u + u, v: own.v + v }))
  const there = convertChromaticityToXyz(white)
  const by = there.map((c, k) => c / seen[k] / (1 + luminance))
  return ([x, y, z]) => [by[0] * x, by[1] * y, by[2] * z]
}
