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

/** The normal equations of the changes of those nodes that samples reach: the others stay. */
function normalEquations(
  size: number,
  values: Float64Array,
  { reached, placeOf }: Reached,
  { each, nodes, shares }: Touched,
  { wanted, weights }: GridSamples,
  { pull = 0.02, straight = 0 }: GridFit,
): LinearSystem {
  const mean = meanWeights(weights)
  /** What a node holds on with, and three in a row are kept straight with, by channel. */
  const [hold, stiff] = [mean.map((v) => pull * v), mean.map((v) => straight * v)]
  const rows = straight ? inRows(size, { reached, placeOf }) : new Int32Array(0)
  const unknowns = 3 * reached.length

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

  const residual = new Float64Array(unknowns)
  /** What a node's own samples and its hold put on the diagonal. */
  const own = Float64Array.from({ length: unknowns }, (_, i) => hold[i % 3])
  for (let s = 0, p = 0; p < nodes.length; s += 3, p += each)
    for (let channel = 0; channel < 3; channel++) {
      const weight = weights[s + channel]
      let shown = 0
      for (let q = p; q < p + each; q++) shown += shares[q] * values[3 * nodes[q] + channel]
      const back = weight * (wanted[s + channel] - shown)
      for (let q = p; q < p + each; q++) {
        const at = 3 * placeOf[nodes[q]] + channel
        residual[at] += back * shares[q]
        own[at] += weight * shares[q] * shares[q]
      }
    }
  unbend(
    Float64Array.from(residual, (_, i) => values[3 * reached[Math.floor(i / 3)] + (i % 3)]),
    -1,
    residual,
  )
  const diagonal = Float64Array.from(own)
  rows.forEach((place, i) => {
    for (let channel = 0; channel < 3; channel++)
      diagonal[3 * place + channel] += (i % 3 === 1 ? 4 : 1) * stiff[channel]
  })

  const { first, others, sums } = pairsOf(size, { reached, placeOf }, { each, nodes, shares }, weights)
  const apply = (change: Float64Array, into: Float64Array) => {
    for (let i = 0; i < unknowns; i++) into[i] = own[i] * change[i]
    for (let n = 0, at = 0; n < reached.length; n++, at += 3) {
      const [x, y, z] = [change[at], change[at + 1], change[at + 2]]
      let [r, g, b] = [0, 0, 0]
      for (let e = first[n]; e < first[n + 1]; e++) {
        const [other, s] = [3 * others[e], 3 * e]
        r += sums[s] * change[other]
        g += sums[s + 1] * change[other + 1]
        b += sums[s + 2] * change[other + 2]
        into[other] += sums[s] * x
        into[other + 1] += sums[s + 1] * y
        into[other + 2] += sums[s + 2] * z
      }
      into[at] += r
      into[at + 1] += g
      into[at + 2] += b
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
  const touched = touchedBy(size, samples.places, fit.between ?? 'tetrahedral')
  const those = reachedOf(size, touched.nodes)
  const change = conjugateGradients(normalEquations(size, values, those, touched, samples, fit))
  const fitted = Float64Array.from(values)
  those.reached.forEach((node, n) => {
    for (let channel = 0; channel < 3; channel++) fitted[3 * node + channel] += change[3 * n + channel]
  })
  return fitted
}

/** Nodes that samples reach, in order, and the place of each among them; -1 of the others. */
interface Reached {
  readonly reached: Int32Array
  readonly placeOf: Int32Array
}

function reachedOf(size: number, nodes: Int32Array): Reached {
  const placeOf = new Int32Array(size ** 3).fill(-1)
  for (const node of nodes) placeOf[node] = 0
  let count = 0
  for (let node = 0; node < placeOf.length; node++) if (placeOf[node] === 0) placeOf[node] = count++
  const reached = new Int32Array(count)
  placeOf.forEach((place, node) => {
    if (place >= 0) reached[place] = node
  })
  return { reached, placeOf }
}

/** Pairs of nodes that lie around one sample: of the nth that is reached, those from `first[n]` up to `first[n + 1]`. */
interface Pairs {
  readonly first: Int32Array
  /** The place among the reached of the other of a pair, which has the greater number. */
  readonly others: Int32Array
  /** What its samples make of a pair, by channel: weight × both shares. */
  readonly sums: Float64Array
}

/** So many greater numbers can nodes have that lie around one sample with another. */
const mostBeside = 13

/** The matrix beside its diagonal, worked out once: the search for its solution takes twenty times what it is applied. */
function pairsOf(
  size: number,
  { reached, placeOf }: Reached,
  { each, nodes, shares }: Touched,
  weights: Float64Array,
): Pairs {
  // By how much the number of the other is greater, and which of the thirteen that is.
  const steps: number[] = []
  const which = new Int8Array(size * size + size + 2).fill(-1)
  const sums = new Float64Array(3 * mostBeside * reached.length)
  for (let s = 0, p = 0; p < nodes.length; s += 3, p += each)
    for (let q = p; q < p + each; q++)
      for (let o = q + 1; o < p + each; o++) {
        const [low, step] = [Math.min(nodes[q], nodes[o]), Math.abs(nodes[q] - nodes[o])]
        if (which[step] < 0) which[step] = steps.push(step) - 1
        const at = 3 * (mostBeside * placeOf[low] + which[step])
        const share = shares[q] * shares[o]
        sums[at] += weights[s] * share
        sums[at + 1] += weights[s + 1] * share
        sums[at + 2] += weights[s + 2] * share
      }
  return closedUp(sums, steps, { reached, placeOf })
}

/** The same without the pairs that no sample has. */
function closedUp(sums: Float64Array, steps: readonly number[], { reached, placeOf }: Reached): Pairs {
  const first = new Int32Array(reached.length + 1)
  const others = new Int32Array(sums.length / 3)
  let count = 0
  reached.forEach((node, n) => {
    for (const [o, step] of steps.entries()) {
      const at = 3 * (mostBeside * n + o)
      if (!sums[at] && !sums[at + 1] && !sums[at + 2]) continue
      others[count] = placeOf[node + step]
      // Never behind what is read: it closes up towards the beginning.
      sums.copyWithin(3 * count++, at, at + 3)
    }
    first[n + 1] = count
  })
  return { first, others, sums }
}

/** Three nodes in a row along an axis, all of which samples reach: their places, three each. */
function inRows(size: number, { reached, placeOf }: Reached): Int32Array {
  const found: number[] = []
  for (const node of reached)
    for (const stride of [size * size, size, 1]) {
      const place = Math.floor(node / stride) % size
      if (place < 1 || place > size - 2) continue
      const [before, after] = [placeOf[node - stride], placeOf[node + stride]]
      if (before >= 0 && after >= 0) found.push(before, placeOf[node], after)
    }
  return Int32Array.from(found)
}
