import type { Triple } from '../color/matrix3'
import { tetrahedral, trilinear, type Grid3D } from './grid3d'

/** A table of colours over the RGB cube. */
export interface Table3D {
  /** Nodes along each axis, 2–129. */
  readonly size: number
  /** Output triples, 0–1, at even places; red slowest, blue fastest; 3·size³ numbers. */
  readonly values: Float64Array
}

const gridOf = ({ size, values }: Table3D): Grid3D => ({ nodes: [size, size, size], values })

/** The table at a colour 0–1, trilinear. */
export const applyTrilinear = (table: Table3D, rgb: Triple): Triple => trilinear(gridOf(table), rgb)

/** The table at a colour 0–1, tetrahedral: greys depend on the grey nodes alone. */
export const applyTetrahedral = (table: Table3D, rgb: Triple): Triple => tetrahedral(gridOf(table), rgb)

export const interpolations = { tetrahedral: applyTetrahedral, trilinear: applyTrilinear } as const
export type Interpolation = keyof typeof interpolations

/** A table from a function of the colour at each node. */
export function tabulate3d(size: number, of: (rgb: Triple) => Triple): Table3D {
  const values = new Float64Array(3 * size ** 3)
  const top = size - 1
  for (let i = 0, at = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++, at += 3) values.set(of([i / top, j / top, k / top]), at)
  return { size, values }
}

/** The table with every value rounded to what `bits` bits can carry. */
export function quantizeTable3d({ size, values }: Table3D, bits: number): Table3D {
  const top = 2 ** bits - 1
  return { size, values: values.map((v) => Math.round(Math.min(1, Math.max(0, v)) * top) / top) }
}

/**
 * The largest distance of a value from the mean of its two neighbours along any axis. A clipped ramp of slope 1 has
 * half a step, 0.5 ÷ (size − 1), at its corner; a lone spike has its whole height.
 */
export function roughnessOf({ size, values }: Table3D): number {
  let worst = 0
  eachInnerNode(size, (at, stride) => {
    for (let k = at; k < at + 3; k++)
      worst = Math.max(worst, Math.abs(values[k] - 0.5 * (values[k - stride] + values[k + stride])))
  })
  return worst
}

/** Every node that has two neighbours on an axis, with the distance to them in `values`. */
function eachInnerNode(size: number, visit: (at: number, stride: number) => void): void {
  const strides = [3 * size * size, 3 * size, 3]
  for (let i = 0, at = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++, at += 3) {
        if (i > 0 && i < size - 1) visit(at, strides[0])
        if (j > 0 && j < size - 1) visit(at, strides[1])
        if (k > 0 && k < size - 1) visit(at, strides[2])
      }
}

/**
 * The table with no value further than `bound` from the mean of its neighbours: offenders are moved to the bound, pass
 * after pass. Throws RangeError when 200 passes do not do.
 */
export function smoothTable3d({ size, values }: Table3D, bound: number): Table3D {
  const out = Float64Array.from(values)
  for (let pass = 0; pass < 200; pass++) {
    let moved = false
    eachInnerNode(size, (at, stride) => {
      for (let k = at; k < at + 3; k++) {
        const mean = 0.5 * (out[k - stride] + out[k + stride])
        const off = out[k] - mean
        if (Math.abs(off) <= bound * (1 - 1e-9)) continue
        // A hair inside the bound, so that moving a neighbour does not bring it back for ever.
        out[k] = mean + Math.sign(off) * bound * 0.9
        moved = true
      }
    })
    if (!moved) return { size, values: out }
  }
  throw new RangeError('The table cannot be made that smooth.')
}

/** The table with greys that never step back: each channel of the diagonal is levelled to the largest before it. */
export function levelGreys({ size, values }: Table3D): Table3D {
  const out = Float64Array.from(values)
  const stride = 3 * (size * size + size + 1)
  for (let at = stride; at < out.length; at += stride)
    for (let k = at; k < at + 3; k++) out[k] = Math.max(out[k], out[k - stride])
  return { size, values: out }
}
