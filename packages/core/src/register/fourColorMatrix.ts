import { convertXyzToUv, deltaUv, type XYZ } from '../color/chromaticity'
import { unshareLight } from '../characterization/sharedLight'
import {
  add,
  diagonal,
  invert,
  multiply,
  multiplyVector,
  scale,
  subtract,
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

/**
 * White and primaries as both instruments read them on a display with a white subpixel: its four lights, of which three
 * readings of a colorimeter are told apart because the fourth shines with the least of the others. cd/m².
 */
export interface FourLights {
  readonly measured: FourColors
  readonly reference: FourColors
}

/**
 * What corrects a colorimeter on one display: a matrix, and in its place the four lights where there is a white subpixel.
 * `offset`, cd/m²: what comes on top where light lies on the screen that is not the display's own.
 */
export interface ColorimeterCorrection {
  readonly matrix: Matrix3
  readonly lights?: FourLights | null
  readonly offset?: XYZ | null
}

/** Luminance of red, green and blue together as a share of white's, below which a white subpixel helps. */
const nearlyAdditive = 0.88

/** The four lights, of a display whose white is more than its primaries together; null for any other. */
export function fourLights(reference: FourColors, measured: FourColors): FourLights | null {
  const together = reference.red[1] + reference.green[1] + reference.blue[1]
  if (!(together < nearlyAdditive * reference.white[1])) return null
  const { sharedBack } = lightsOf(measured)
  return Math.min(...sharedBack) > -1 ? { measured, reference } : null
}

/** How lights mix as one instrument reads them: columns red, green and blue, what the white subpixel adds, and the way back. */
function lightsOf({ white, red, green, blue }: FourColors) {
  const columns = transpose([red, green, blue])
  const shared = [0, 1, 2].map((k) => white[k] - red[k] - green[k] - blue[k]) as unknown as XYZ
  const back = invert(columns)
  return { columns, shared, back, sharedBack: multiplyVector(back, shared) }
}

const noLess = ([x, y, z]: Triple): XYZ => [Math.max(0, x), Math.max(0, y), Math.max(0, z)]

/** A reading, corrected. Near black a correction can make a little light less than none: that counts as none. */
export function correctReading({ matrix, lights, offset }: ColorimeterCorrection, xyz: XYZ): XYZ {
  if (!lights) return noLess(add(multiplyVector(matrix, xyz), offset ?? [0, 0, 0]))
  const { back, sharedBack } = lightsOf(lights.measured)
  const channels = unshareLight(back, sharedBack, xyz)
  const to = lightsOf(lights.reference)
  return noLess(add(multiplyVector(to.columns, channels), scale(to.shared, Math.max(0, Math.min(...channels)))))
}

/** One colour as a reference and another instrument read it, cd/m². */
export interface ReadTwice {
  readonly reference: XYZ
  readonly measured: XYZ
}

/** Share of white from which what a matrix makes of black is off by more than readings in the dark are. */
const offsetMatters = 2e-4

const without = (black: XYZ, { white, red, green, blue }: FourColors): FourColors => ({
  white: subtract(white, black),
  red: subtract(red, black),
  green: subtract(green, black),
  blue: subtract(blue, black),
})

/**
 * The correction that white, primaries and black make, as both instruments read them. Black that is the display's own light
 * is corrected as its colours are. Where light of another kind lies on the screen, of the room or of a lamp that leaks, one
 * matrix for both would be wrong for either: there the display's light has its matrix, and the other an offset, which is right
 * as long as that light stays as it is. Throws RangeError for readings that make none.
 */
export function correctionFrom(
  reference: FourColors,
  measured: FourColors,
  black: ReadTwice,
): Required<ColorimeterCorrection> {
  const lights = fourLights(reference, measured)
  const plain = { matrix: fourColorMatrix(reference, measured), lights, offset: null }
  if (lights) return plain
  const matrix = fourColorMatrix(without(black.reference, reference), without(black.measured, measured))
  const offset = subtract(black.reference, multiplyVector(matrix, black.measured))
  const matters = offset.some((v, k) => Math.abs(v) > offsetMatters * reference.white[k])
  return matters ? { matrix, lights: null, offset } : plain
}

/** Largest Δu′v′ that a correction leaves at colours that it was not made from: on its own four it leaves nothing. */
export const correctionResidual = (correction: ColorimeterCorrection, colors: readonly ReadTwice[]): number =>
  Math.max(
    ...colors.map(({ reference, measured }) =>
      deltaUv(convertXyzToUv(reference), convertXyzToUv(correctReading(correction, measured))),
    ),
  )
