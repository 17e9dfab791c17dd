import { multiplyVector, type Matrix3, type Triple } from '../color/matrix3'
import { applyTable1d, type Table1D } from '../tables/table1d'
import { interpolations, type Interpolation, type Table3D } from '../tables/table3d'

/** One step of a CLF file; all numbers are shares, 1 for the largest code of whatever bit depth the file names. */
export type ClfNode =
  | { readonly kind: 'LUT1D'; readonly table: Table1D }
  | { readonly kind: 'LUT3D'; readonly table: Table3D; readonly interpolation: Interpolation }
  | { readonly kind: 'Matrix'; readonly matrix: Matrix3; readonly offset: Triple }
  | {
      readonly kind: 'Range'
      /** Slope and shift; null for the bounds that are not given. */
      readonly slope: number
      readonly shift: number
      readonly least: number | null
      readonly most: number | null
    }

export interface ClfFile {
  readonly id: string
  readonly description: string
  readonly nodes: readonly ClfNode[]
}

/** A colour through the steps of a CLF file. */
export const applyClf = (nodes: readonly ClfNode[], rgb: Triple): Triple =>
  nodes.reduce<Triple>((v, node) => {
    switch (node.kind) {
      case 'LUT1D':
        return applyTable1d(node.table, v)
      case 'LUT3D':
        return interpolations[node.interpolation](node.table, v)
      case 'Matrix': {
        const m = multiplyVector(node.matrix, v)
        return [m[0] + node.offset[0], m[1] + node.offset[1], m[2] + node.offset[2]]
      }
      case 'Range':
        return v.map((x) =>
          Math.min(node.most ?? Infinity, Math.max(node.least ?? -Infinity, x * node.slope + node.shift)),
        ) as unknown as Triple
    }
  }, rgb)
