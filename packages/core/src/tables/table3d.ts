import type { Triple } from '../color/matrix3'

/** A table of colours over the RGB cube. */
export interface Table3D {
  /** Nodes along each axis, 2–129. */
  readonly size: number
  /** Output triples, 0–1, at even places; red slowest, blue fastest; 3·size³ numbers. */
  readonly values: Float64Array
}

/** Where a coordinate falls: the node below, and how far towards the next (0–1). Beyond 0–1 the end holds. */
function place(v: number, size: number): { low: number; part: number } {
  const at = Math.min(1, Math.max(0, v)) * (size - 1)
  const low = Math.min(size - 2, Math.floor(at))
  return { low, part: at - low }
}

const node = ({ size, values }: Table3D, i: number, j: number, k: number): Triple => {
  const at = 3 * ((i * size + j) * size + k)
  return [values[at], values[at + 1], values[at + 2]]
}

/** The table at a colour 0–1, trilinear: the eight nodes around it, each weighted by the volume opposite. */
export function applyTrilinear(table: Table3D, rgb: Triple): Triple {
  const places = rgb.map((v) => place(v, table.size))
  const sum = [0, 0, 0]
  for (let corner = 0; corner < 8; corner++) {
    const up = [corner >> 2, (corner >> 1) & 1, corner & 1]
    const weight = places.reduce((w, { part }, axis) => w * (up[axis] ? part : 1 - part), 1)
    if (weight === 0) continue
    const [i, j, k] = places.map(({ low }, axis) => low + up[axis])
    node(table, i, j, k).forEach((v, channel) => (sum[channel] += weight * v))
  }
  return [sum[0], sum[1], sum[2]]
}

/**
 * The table at a colour 0–1, tetrahedral: from the node below along the axes in the order of their parts, so that greys
 * depend on the grey nodes alone. J. M. Kasson, S. I. Nin, W. Plouffe, J. L. Hafner, J. Electronic Imaging 4 (3), 1995.
 */
export function applyTetrahedral(table: Table3D, rgb: Triple): Triple {
  const places = rgb.map((v) => place(v, table.size))
  const order = [0, 1, 2].sort((a, b) => places[b].part - places[a].part)
  const at = places.map(({ low }) => low)
  let from = node(table, at[0], at[1], at[2])
  const sum = [...from]
  for (const axis of order) {
    at[axis]++
    const to = node(table, at[0], at[1], at[2])
    for (let k = 0; k < 3; k++) sum[k] += places[axis].part * (to[k] - from[k])
    from = to
  }
  return [sum[0], sum[1], sum[2]]
}

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
