import { convertLabToXyz, convertXyzToLab, type Lab } from '../../color/lab'
import { pcsWhite } from '../../color/encodings'
import type { Triple } from '../../color/matrix3'
import type { ConnectionTable } from './connectionTable'
import { power, type Curves } from './tableLayout'

/** XYZ whose code is full: 1 + 32767/32768. ICC.1:2022 §6.3.4.2. */
export const xyzUnit = 65535 / 32768

const cube = (x: number) => x * x * x
const cubes: Curves = [power(3), power(3), power(3)]
const roots: Curves = [power(1 / 3), power(1 / 3), power(1 / 3)]

/** Cube roots of the codes of white, and of the code of 1. */
const whiteRoots = pcsWhite.map((v) => Math.cbrt(v / xyzUnit)) as unknown as Triple
const clamp = (v: number) => Math.min(1, Math.max(0, v))
const rootsOf = (lab: Lab): Triple =>
  convertLabToXyz(lab, pcsWhite).map((v) => Math.cbrt(clamp(v / xyzUnit))) as unknown as Triple
const labOf = (root: Triple): Lab =>
  convertXyzToLab(root.map((v) => cube(Math.max(0, v)) * xyzUnit) as unknown as Triple, pcsWhite)

/** How much of a step more than the display's own reach the grid spans. */
const margin = 1.06

/**
 * Tables that connect through XYZ, for displays with colours beyond the codes of CIELAB. Grids hold and are addressed by
 * cube roots of XYZ, which are CIELAB but for a shear. Version 4 has a place for that shear, a matrix, and its grid to
 * the device has most of its nodes where the display has colours; in version 2 the grid spans the cube of the roots.
 */
export function xyzSpace(version: 2 | 4, [reachA, reachB]: readonly [number, number]): ConnectionTable {
  const base = { connectionSpace: 'XYZ ', toGrid: rootsOf, fromGrid: cubes } as const
  if (version === 2) {
    // Somewhat above white, so that white lies inside.
    const spans = whiteRoots.map((w) => 1.02 * w) as unknown as Triple
    return {
      ...base,
      intoGrid: spans.map((span) => (x: number) => Math.cbrt(x) / span) as unknown as Curves,
      matrix: null,
      labAt: (place) => labOf(place.map((p, k) => p * spans[k]) as unknown as Triple),
      placeOf: (lab) => rootsOf(lab).map((root, k) => root / spans[k]) as unknown as Triple,
    }
  }
  // With f the roots relative to white: place of L* = f_y, of a* = ½ + (f_x − f_y)·k, of b* = ½ + (f_y − f_z)·k.
  const [kA, kB] = [500 / (2 * margin * reachA), 200 / (2 * margin * reachB)]
  const [wx, wy, wz] = whiteRoots
  return {
    ...base,
    intoGrid: roots,
    matrix: {
      matrix: [
        [0, 1 / wy, 0],
        [kA / wx, -kA / wy, 0],
        [0, kB / wy, -kB / wz],
      ],
      offset: [0, 0.5, 0.5],
    },
    labAt: ([l, a, b]) => {
      const fx = l + (a - 0.5) / kA
      const fz = l - (b - 0.5) / kB
      return labOf([fx * wx, l * wy, fz * wz])
    },
    placeOf: (lab) => {
      const [x, y, z] = rootsOf(lab)
      return [y / wy, 0.5 + (x / wx - y / wy) * kA, 0.5 + (y / wy - z / wz) * kB]
    },
  }
}
