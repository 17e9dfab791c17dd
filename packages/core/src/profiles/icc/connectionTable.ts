import type { Lab } from '../../color/lab'
import type { Matrix3, Triple } from '../../color/matrix3'
import type { Curves } from './tableLayout'

/** How a table speaks to the connection space: what its grids hold and are addressed by. */
export interface ConnectionTable {
  readonly connectionSpace: 'Lab ' | 'XYZ '
  /** CIELAB under D50 → the three shares that the grid from the device holds. */
  readonly toGrid: (lab: Lab) => Triple
  /** From those shares to the code of the connection space. */
  readonly fromGrid: Curves
  /** Code of the connection space → places on the grid to the device: a matrix (of XYZ only), then curves. */
  readonly matrix: Matrix3 | null
  readonly intoGrid: Curves
  /** The colour at a place (0–1) of the grid to the device, as CIELAB under D50. */
  readonly labAt: (place: Triple) => Lab
  /** The place of a colour on that grid; the inverse of `labAt`. */
  readonly placeOf: (lab: Lab) => Triple
}
