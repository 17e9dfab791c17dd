import type { Triple } from '../color/matrix3'

/** Values over the RGB or CIELAB cube: `nodes` along each axis, the first axis slowest, three values at each. */
export interface Grid3D {
  readonly nodes: Triple
  readonly values: Float64Array
}

/** Where a place 0–1 falls: the first value of the node below, the way to the next along each axis, and how far (0–1). */
function locate({ nodes }: Grid3D, place: Triple): { base: number; strides: Triple; part: Triple } {
  const strides: Triple = [3 * nodes[1] * nodes[2], 3 * nodes[2], 3]
  let base = 0
  const part = place.map((v, axis) => {
    const at = Math.min(1, Math.max(0, v)) * (nodes[axis] - 1)
    const low = Math.min(nodes[axis] - 2, Math.floor(at))
    base += low * strides[axis]
    return at - low
  }) as unknown as Triple
  return { base, strides, part }
}

/** A grid at a place 0–1, trilinear: the eight nodes around it, each weighted by the volume opposite. */
export function trilinear(grid: Grid3D, place: Triple): Triple {
  const { base, strides, part } = locate(grid, place)
  const sum = [0, 0, 0]
  for (let corner = 0; corner < 8; corner++) {
    let at = base
    let weight = 1
    for (let axis = 0; axis < 3; axis++) {
      const up = (corner >> axis) & 1
      at += up * strides[axis]
      weight *= up ? part[axis] : 1 - part[axis]
    }
    for (let k = 0; k < 3; k++) sum[k] += weight * grid.values[at + k]
  }
  return [sum[0], sum[1], sum[2]]
}

/**
 * A grid at a place 0–1, tetrahedral: from the node below along the axes in the order of their parts, so that the
 * diagonal depends on its own nodes alone. J. M. Kasson, S. I. Nin, W. Plouffe, J. L. Hafner, J. Electronic Imaging 4
 * (3), 1995.
 */
export function tetrahedral(grid: Grid3D, place: Triple): Triple {
  const { base, strides, part } = locate(grid, place)
  const { values } = grid
  const order = [0, 1, 2].sort((a, b) => part[b] - part[a])
  const sum = [values[base], values[base + 1], values[base + 2]]
  let at = base
  for (const axis of order) {
    const next = at + strides[axis]
    for (let k = 0; k < 3; k++) sum[k] += part[axis] * (values[next + k] - values[at + k])
    at = next
  }
  return [sum[0], sum[1], sum[2]]
}
