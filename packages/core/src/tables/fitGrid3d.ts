import type { Triple } from '../color/matrix3'
import { conjugateGradients, type LinearSystem } from './conjugateGradients'

/** Colours that a table shall bring somewhere: places in the cube, what is wanted there, and how much it counts by channel. */
export interface GridSamples {
  /** 0–1, three to a sample. */
  readonly places: Float64Array
  readonly wanted: Float64Array
  /** 0 or more. */
  readonly weights: Float64Array
}

/** How nodes are fitted. */
export interface GridFit {
  /** How the table is read between its nodes. */
  readonly between?: 'tetrahedral' | 'trilinear'
  /** Share of the mean weight with which a node holds on to what it was. */
  readonly pull?: number
  /**
   * Share of the mean weight with which three nodes in a row that samples reach stand in a straight line: for nodes of
   * which samples tell little, so that they go on as those beside them do. None unless given.
   */
  readonly straight?: number
}

/** Where a place falls along one axis of a grid: the node below; what is left of it is the way to the next. */
const below = (size: number, at: number): number => Math.min(size - 2, Math.floor(at))
const along = (size: number, v: number): number => Math.min(1, Math.max(0, v)) * (size - 1)

/** Writes the nodes that a place lies between, and their weights; nothing is made anew for each of a hundred thousand. */
type NodesOf = (size: number, place: Triple, nodes: Int32Array, shares: Float64Array, at: number) => void

/** The eight nodes around a place, and their weights; as {@link trilinear} has them. */
const around: NodesOf = (size, place, nodes, shares, at) => {
  const [x, y, z] = [along(size, place[0]), along(size, place[1]), along(size, place[2])]
  const [i, j, k] = [below(size, x), below(size, y), below(size, z)]
  const [u, v, w] = [x - i, y - j, z - k]
  const node = (i * size + j) * size + k
  for (let corner = 0; corner < 8; corner++) {
    const [a, b, c] = [corner & 1, (corner >> 1) & 1, corner >> 2]
    nodes[at + corner] = node + a * size * size + b * size + c
    shares[at + corner] = (a ? u : 1 - u) * (b ? v : 1 - v) * (c ? w : 1 - w)
  }
}

/** The four nodes of the tetrahedron around a place, and their weights; as {@link tetrahedral} has them. */
const corners: NodesOf = (size, place, nodes, shares, at) => {
  const [x, y, z] = [along(size, place[0]), along(size, place[1]), along(size, place[2])]
  const [i, j, k] = [below(size, x), below(size, y), below(size, z)]
  const part = [x - i, y - j, z - k]
  const strides = [size * size, size, 1]
  const order = [0, 1, 2].sort((a, b) => part[b] - part[a])
  let node = (i * size + j) * size + k
  let before = 1
  for (let n = 0; n < 4; n++) {
    const next = n < 3 ? part[order[n]] : 0
    nodes[at + n] = node
    shares[at + n] = before - next
    if (n < 3) node += strides[order[n]]
    before = next
  }
}

/** The nodes that samples touch: so many to a sample, with their shares. */
export interface Touched {
  readonly each: number
  readonly nodes: Int32Array
  readonly shares: Float64Array
}

export function touchedBy(size: number, places: Float64Array, between: 'tetrahedral' | 'trilinear'): Touched {
  const count = places.length / 3
  const [each, nodesOf] = between === 'trilinear' ? ([8, around] as const) : ([4, corners] as const)
  const [nodes, shares] = [new Int32Array(each * count), new Float64Array(each * count)]
  for (let s = 0; s < count; s++)
    nodesOf(size, [places[3 * s], places[3 * s + 1], places[3 * s + 2]], nodes, shares, each * s)
  return { each, nodes, shares }
}

/** The mean weight of the samples, by channel. */
const meanWeights = (weights: Float64Array): number[] =>
  [0, 1, 2].map((channel) => {
    let sum = 0
    for (let s = channel; s < weights.length; s += 3) sum += weights[s]
    return (3 * sum) / Math.max(1, weights.length)
  })

/** The normal equations of the nodes' changes. */
function normalEquations(
  size: number,
  values: Float64Array,
  { places, wanted, weights }: GridSamples,
  { between = 'tetrahedral', pull = 0.02, straight = 0 }: GridFit,
): LinearSystem {
  const { each, nodes, shares } = touchedBy(size, places, between)
  const mean = meanWeights(weights)
  /** What a node holds on with, and three in a row are kept straight with, by channel. */
  const [hold, stiff] = [mean.map((v) => pull * v), mean.map((v) => straight * v)]
  const rows = straight ? rowsOfReached(size, nodes) : new Int32Array(0)
  const count = places.length / 3

  /** Adds what three nodes in a row are bent by, of so many values, to those that would unbend them. */
  const unbend = (of: Float64Array, sign: 1 | -1, into: Float64Array) => {
    for (let t = 0; t < rows.length; t += 3)
      for (let channel = 0; channel < 3; channel++) {
        const [a, b, c] = [3 * rows[t] + channel, 3 * rows[t + 1] + channel, 3 * rows[t + 2] + channel]
        const bend = sign * stiff[channel] * (of[a] - 2 * of[b] + of[c])
        into[a] += bend
        into[b] -= 2 * bend
        into[c] += bend
      }
  }

  const residual = new Float64Array(values.length)
  const diagonal = Float64Array.from(values, (_, i) => hold[i % 3])
  for (let s = 0, p = 0; s < count; s++, p += each)
    for (let channel = 0; channel < 3; channel++) {
      const weight = weights[3 * s + channel]
      let shown = 0
      for (let q = p; q < p + each; q++) shown += shares[q] * values[3 * nodes[q] + channel]
      const back = weight * (wanted[3 * s + channel] - shown)
      for (let q = p; q < p + each; q++) {
        residual[3 * nodes[q] + channel] += back * shares[q]
        diagonal[3 * nodes[q] + channel] += weight * shares[q] * shares[q]
      }
    }
  unbend(values, -1, residual)
  rows.forEach((node, i) => {
    for (let channel = 0; channel < 3; channel++) diagonal[3 * node + channel] += (i % 3 === 1 ? 4 : 1) * stiff[channel]
  })

  const apply = (change: Float64Array, into: Float64Array) => {
    for (let i = 0; i < into.length; i += 3) {
      into[i] = hold[0] * change[i]
      into[i + 1] = hold[1] * change[i + 1]
      into[i + 2] = hold[2] * change[i + 2]
    }
    for (let s = 0, p = 0; s < count; s++, p += each) {
      let r = 0
      let g = 0
      let b = 0
      for (let q = p; q < p + each; q++) {
        const share = shares[q]
        const at = 3 * nodes[q]
        r += share * change[at]
        g += share * change[at + 1]
        b += share * change[at + 2]
      }
      r *= weights[3 * s]
      g *= weights[3 * s + 1]
      b *= weights[3 * s + 2]
      for (let q = p; q < p + each; q++) {
        const share = shares[q]
        const at = 3 * nodes[q]
        into[at] += share * r
        into[at + 1] += share * g
        into[at + 2] += share * b
      }
    }
    unbend(change, 1, into)
  }
  return { residual, diagonal, apply }
}

/**
 * The values of a table's nodes that bring the samples nearest to what is wanted of them, by least squares over what
 * interpolation makes of the nodes (tetrahedral unless said), each holding on a little to what it was. `values`: 3·size³,
 * red slowest.
 */
export function fitGrid3d(size: number, values: Float64Array, samples: GridSamples, fit: GridFit = {}): Float64Array {
  const change = conjugateGradients(normalEquations(size, values, samples, fit))
  return values.map((v, i) => v + change[i])
}

/** Three nodes in a row along an axis, all of which samples reach: three indices each. */
function rowsOfReached(size: number, nodes: Int32Array): Int32Array {
  const reached = new Uint8Array(size ** 3)
  for (const node of nodes) reached[node] = 1
  const found: number[] = []
  for (let node = 0; node < reached.length; node++)
    [size * size, size, 1].forEach((stride) => {
      const place = Math.floor(node / stride) % size
      if (place < 1 || place > size - 2) return
      if (reached[node - stride] && reached[node] && reached[node + stride])
        found.push(node - stride, node, node + stride)
    })
  return Int32Array.from(found)
}
