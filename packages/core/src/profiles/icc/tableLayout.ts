import type { Matrix3 } from '../../color/matrix3'
import { identityCurve, tableCurve } from './curves'
import { IccWriter } from './iccBytes'

/** Entries of the curves around the grids; the most that `mft2` takes. */
export const curveEntries = 4096

/** A curve, and its exponent where it is nothing but a power: version 4 can write that exactly. */
export interface Curve {
  (x: number): number
  readonly exponent?: number
}
export type Curves = readonly [Curve, Curve, Curve]

/** Leaves a channel as it is; written without a table. */
export const identity: Curve = (x) => x
export const identities: Curves = [identity, identity, identity]

/** A table as profiles lay it out: curves on the device's side, a grid of 16-bit shares, curves on the other side. */
export interface TableParts {
  readonly grid: Float64Array
  readonly size: number
  readonly device: Curves
  readonly pcs: Curves
  /** On the way back, before the curves of the connection space, where that is XYZ. */
  readonly matrix: Matrix3 | null
}

const noMatrix: Matrix3 = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]

/** `mft2`. ICC.1:2022 §10.10. */
export function oldTable(way: 'A2B' | 'B2A', { grid, size, device, pcs, matrix }: TableParts): Uint8Array {
  const w = new IccWriter().text('mft2').u32(0).u8(3, 3, size, 0)
  for (const v of (matrix ?? noMatrix).flat()) w.fixed(v)
  w.u16(curveEntries).u16(curveEntries)
  const put = (curves: Curves) => {
    for (const of of curves) for (let i = 0; i < curveEntries; i++) w.share(of(i / (curveEntries - 1)))
  }
  put(way === 'A2B' ? device : pcs)
  for (let i = 0; i < grid.length; i++) w.share(grid[i])
  put(way === 'A2B' ? pcs : device)
  return w.done()
}

/** A power as `para`. ICC.1:2022 §10.18. */
export const power = (exponent: number): Curve => Object.assign((x: number) => x ** exponent, { exponent })

const powerCurve = (exponent: number) => new IccWriter().text('para').u32(0).u16(0).u16(0).fixed(exponent).done()

const curveRun = (curves: Curves): Uint8Array => {
  const w = new IccWriter()
  for (const of of curves) {
    const plain = of === identity ? identityCurve() : of.exponent ? powerCurve(of.exponent) : null
    w.bytes(plain ?? tableCurve(of, curveEntries)).pad()
  }
  return w.done()
}

/**
 * `mAB ` or `mBA `. ICC.1:2022 §10.12, §10.13. The curves of the connection space are B curves, or M curves behind a
 * matrix.
 */
export function newTable(type: 'mAB ' | 'mBA ', { grid, size, device, pcs, matrix }: TableParts): Uint8Array {
  const clut = new IccWriter().u8(size, size, size, ...new Array(13).fill(0)).u8(2, 0, 0, 0)
  for (let i = 0; i < grid.length; i++) clut.share(grid[i])
  clut.pad()
  const matrixBytes = new IccWriter()
  if (matrix) for (const v of [...matrix.flat(), 0, 0, 0]) matrixBytes.fixed(v)
  const parts = {
    b: curveRun(matrix ? identities : pcs),
    matrix: matrixBytes.done(),
    m: matrix ? curveRun(pcs) : new Uint8Array(0),
    clut: clut.done(),
    a: curveRun(device),
  }
  const w = new IccWriter().text(type).u32(0).u8(3, 3, 0, 0)
  let at = 32
  for (const part of Object.values(parts)) {
    w.u32(part.length ? at : 0)
    at += part.length
  }
  for (const part of Object.values(parts)) w.bytes(part)
  return w.done()
}
