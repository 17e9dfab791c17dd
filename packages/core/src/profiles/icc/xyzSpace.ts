import { convertLabToXyz, convertXyzToLab, type Lab } from '../../color/lab'
import { pcsWhite } from '../../color/encodings'
import type { XYZ } from '../../color/chromaticity'
import { invert, multiplyVector, type Matrix3, type Triple } from '../../color/matrix3'
import type { ConnectionTable } from './connectionTable'
import { power, type Curves } from './tableLayout'

/** XYZ whose code is full: 1 + 32767/32768. ICC.1:2022 §6.3.4.2. */
export const xyzUnit = 65535 / 32768

const cube = (x: number) => x * x * x
const cubes: Curves = [power(3), power(3), power(3)]
const roots: Curves = [power(1 / 3), power(1 / 3), power(1 / 3)]

const clamp = (v: number) => Math.min(1, Math.max(0, v))
const rootsOf = (lab: Lab): Triple =>
  convertLabToXyz(lab, pcsWhite).map((v) => Math.cbrt(clamp(v / xyzUnit))) as unknown as Triple

/** How much of the light of white each of the display's own lights is mixed with, for colours that it lacks to have a place. */
const mixed = 0.5
/** What the grid spans beyond white, in cube roots. */
const beyondWhite = 1.02

/**
 * Tables that connect through XYZ, for displays with colours beyond the codes of CIELAB. Grids hold cube roots of XYZ. On
 * the way back a matrix makes of XYZ the display's own lights, each mixed with half of the whole, so that most colours that
 * it cannot show have a place too; the grid is addressed by their cube roots, along which the signals run nearly by
 * themselves. `primaries`: red, green, blue at full signal, XYZ under D50.
 */
export function xyzSpace(primaries: readonly [XYZ, XYZ, XYZ]): ConnectionTable {
  const columns = [0, 1, 2].map((k) => primaries.map((p) => p[k])) as unknown as Matrix3
  const ofWhite = multiplyVector(invert(columns), pcsWhite)
  const lights = invert(columns).map((row, k) => row.map((v) => v / ofWhite[k])) as unknown as Matrix3
  const scale = xyzUnit / beyondWhite ** 3 / (1 + mixed)
  const matrix = lights.map((row) => row.map((v, k) => scale * (v + mixed / 3 / pcsWhite[k]))) as unknown as Matrix3
  const back = invert(matrix)
  return {
    connectionSpace: 'XYZ ',
    toGrid: rootsOf,
    fromGrid: cubes,
    matrix,
    intoGrid: roots,
    labAt: (place) =>
      convertXyzToLab(
        multiplyVector(back, place.map(cube) as unknown as Triple).map((v) => v * xyzUnit) as unknown as Triple,
        pcsWhite,
      ),
    placeOf: (lab) =>
      multiplyVector(matrix, convertLabToXyz(lab, pcsWhite).map((v) => v / xyzUnit) as unknown as Triple).map((v) =>
        Math.cbrt(clamp(v)),
      ) as unknown as Triple,
  }
}
