import { conjugateGradients, type LinearSystem } from './conjugateGradients'
import { pairsOf } from './nodePairs'
import { reachedOf, touchedBy, type Reached, type Touched } from './touchedNodes'

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
