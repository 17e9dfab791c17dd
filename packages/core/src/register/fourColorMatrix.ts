import { convertXyzToUv, deltaUv, type XYZ } from '../color/chromaticity'
import {
  diagonal,
  invert,
  multiply,
  multiplyVector,
  scale,
  transpose,
  type Matrix3,
  type Triple,
} from '../color/matrix3'

/** XYZ of one display's white, red, green and blue as one instrument reads them, cd/m². */
export interface FourColors {
  readonly white: XYZ
  readonly red: XYZ
  readonly green: XYZ
  readonly blue: XYZ
}

const chromaticityVector = (xyz: XYZ): Triple => scale(xyz, 1 / (xyz[0] + xyz[1] + xyz[2]))

/** Columns: chromaticities of red, green, blue, weighted so that together they give white's. */
function weightedColumns({ white, red, green, blue }: FourColors): Matrix3 {
  const columns = transpose([chromaticityVector(red), chromaticityVector(green), chromaticityVector(blue)])
  return multiply(columns, diagonal(multiplyVector(invert(columns), chromaticityVector(white))))
}

/**
 * The matrix that corrects a colorimeter's XYZ on one display, from white and primaries read with it and with a reference
 * there. It takes chromaticities only, so that light that flickers between two readings does not matter; luminance is
 * made right at white. Throws RangeError when the primaries lie on one line. Y. Ohno, J. E. Hardis, “Four-Color Matrix
 * Method for Correction of Tristimulus Colorimeters”, Proc. IS&T/SID 5th Color Imaging Conference, 1997.
 */
export function fourColorMatrix(reference: FourColors, measured: FourColors): Matrix3 {
  const colors = multiply(weightedColumns(reference), invert(weightedColumns(measured)))
  const white = multiplyVector(colors, measured.white)
  const k = reference.white[1] / white[1]
  return colors.map((row) => row.map((v) => v * k)) as unknown as Matrix3
}

/** A reading, corrected. Near black a matrix can make a little light less than none: that counts as none. */
export const correctReading = (matrix: Matrix3, xyz: XYZ): XYZ => {
  const [x, y, z] = multiplyVector(matrix, xyz)
  return [Math.max(0, x), Math.max(0, y), Math.max(0, z)]
}

/** One colour as a reference and another instrument read it, cd/m². */
export interface ReadTwice {
  readonly reference: XYZ
  readonly measured: XYZ
}

/** Largest Δu′v′ that a correction leaves at colours that it was not made from: on its own four it leaves nothing. */
export const correctionResidual = (matrix: Matrix3, colors: readonly ReadTwice[]): number =>
  Math.max(
    ...colors.map(({ reference, measured }) =>
      deltaUv(convertXyzToUv(reference), convertXyzToUv(multiplyVector(matrix, measured))),
    ),
  )
