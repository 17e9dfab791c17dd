import { convertChromaticityToXyz, type XYZ } from '../color/chromaticity'
import { encodings, matrixOfEncoding, pcsWhite, standardWhites, type StandardPrimaries } from '../color/encodings'
import { bradfordMatrix } from '../color/adaptation'
import { convertXyzToLab } from '../color/lab'
import { multiply, multiplyVector, type Matrix3, type Triple } from '../color/matrix3'
import { predictXyz, type Characterization } from '../characterization/characterization'
import { solidOfSurface, tessellate, type GamutSolid } from './gamutSolid'

/** Light for an even step of lightness, so that the surface is sampled about as it is seen. */
const evenly = (v: number) => v ** 2.4

/** The solid of an additive display: CIELAB under its own white, adapted to D50 as profiles do. */
function solidOfMatrix(matrix: Matrix3, white: XYZ): GamutSolid {
  const adapted = multiply(bradfordMatrix(white, pcsWhite), matrix)
  const labOf = (rgb: Triple) =>
    convertXyzToLab(multiplyVector(adapted, rgb.map(evenly) as unknown as Triple), pcsWhite)
  return solidOfSurface(tessellate(labOf))
}

const solids = new Map<StandardPrimaries, GamutSolid>()

/** The solid of a standard encoding, black at zero; worked out once, for it never changes. */
export function solidOfEncoding(name: StandardPrimaries): GamutSolid {
  const known = solids.get(name)
  if (known) return known
  const white = convertChromaticityToXyz(standardWhites[encodings[name].white])
  const solid = solidOfMatrix(matrixOfEncoding(name), white)
  solids.set(name, solid)
  return solid
}

/** CIELAB under one white as CIELAB under the profile connection space's, by Bradford. */
export function adaptLab(white: XYZ): (xyz: XYZ) => Triple {
  const adapt = bradfordMatrix([white[0] / white[1], 1, white[2] / white[1]], pcsWhite)
  return (xyz) =>
    convertXyzToLab(multiplyVector(adapt, [xyz[0] / white[1], xyz[1] / white[1], xyz[2] / white[1]]), pcsWhite)
}

/** The solid of a characterized display, its black and crosstalk included. */
export function solidOfCharacterization(c: Characterization): GamutSolid {
  const toPcs = adaptLab(c.white)
  return solidOfSurface(tessellate((rgb) => toPcs(predictXyz(c, rgb))))
}
