import type { Triple } from '../color/matrix3'
import { applyTable1d, type Table1D } from '../tables/table1d'
import { interpolations, type Interpolation, type Table3D } from '../tables/table3d'

/** What a .cube file holds: a 1D table, a 3D table, or a 1D table before a 3D one. */
export interface CubeFile {
  readonly title: string
  /** The values of input that the ends of the tables stand for. */
  readonly domain: { readonly least: Triple; readonly most: Triple }
  readonly table1d: Table1D | null
  readonly table3d: Table3D | null
}

/** Input from 0 to 1, as it is where a file does not say otherwise. */
export const unitDomain: CubeFile['domain'] = { least: [0, 0, 0], most: [1, 1, 1] }

/** A colour through a .cube file. */
export function applyCube(file: CubeFile, rgb: Triple, interpolation: Interpolation = 'tetrahedral'): Triple {
  const { least, most } = file.domain
  const at = rgb.map((v, k) => (v - least[k]) / (most[k] - least[k])) as unknown as Triple
  const shaped = file.table1d ? applyTable1d(file.table1d, at) : at
  return file.table3d ? interpolations[interpolation](file.table3d, shaped) : shaped
}
