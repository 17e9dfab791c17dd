import type { GridSamples } from './fitGrid3d'
import { toInteger } from './slotTables'
import type { Table3D } from './table3d'
import { touchedBy } from './touchedNodes'

/** Passes over all nodes at most; three or four are usual. */
const mostPasses = 12
/** How far an integer may go from the value that it stands for, in steps. */
const furthest = 1.5
/** What a step must take off the sum of squares. */
const leastGain = 1e-12

/** What is wanted between the nodes, and what of it is seen. */
export interface RoundedFor extends Pick<GridSamples, 'places' | 'wanted'> {
  /** How three terms of a colour change with each of the three values, nine to a sample, all terms counting alike. */
  readonly slopes: Float64Array
}

/**
 * A table in integers of so many bits (0 to 2^bits − 1, red slowest), chosen so that colours between the nodes come out best
 * together: from the nearest integers, one after another goes a step up or down while that takes
 * something off the squares of what is seen at the samples, so that nodes make up for each other, and channels as well. Never worse than the nearest
 * there, by that measure; greys never step back if those of the table do not.
 */
export function roundGrid3d({ size, values }: Table3D, { places, wanted, slopes }: RoundedFor, bits: number): number[] {
  const top = 2 ** bits - 1
  const codes = Array.from(values, (v) => toInteger(v, bits))
  const { each, nodes, shares } = touchedBy(size, places, 'tetrahedral')
  const count = places.length / 3

  // What is off at each sample, as it is seen.
  const off = new Float64Array(3 * count)
  for (let s = 0; s < count; s++)
    for (let c = 0; c < 3; c++) {
      let shown = -wanted[3 * s + c]
      for (let q = each * s; q < each * (s + 1); q++) shown += (shares[q] * codes[3 * nodes[q] + c]) / top
      for (let k = 0; k < 3; k++) off[3 * s + k] += slopes[9 * s + 3 * c + k] * shown
    }

  const { first, touching } = byNode(nodes, size ** 3)
  /** What a step of a node's channel changes in the sum of squares. */
  const gainOf = (node: number, c: number, step: number) => {
    let sum = 0
    for (let i = first[node]; i < first[node + 1]; i++) {
      const q = touching[i]
      const s = Math.floor(q / each)
      const move = shares[q] * step
      for (let k = 0; k < 3; k++) {
        const change = move * slopes[9 * s + 3 * c + k]
        sum += change * (2 * off[3 * s + k] + change)
      }
    }
    return sum
  }
  const take = (node: number, c: number, step: number) => {
    for (let i = first[node]; i < first[node + 1]; i++) {
      const q = touching[i]
      const s = Math.floor(q / each)
      for (let k = 0; k < 3; k++) off[3 * s + k] += shares[q] * step * slopes[9 * s + 3 * c + k]
    }
  }

  const grey = size * size + size + 1
  const isGrey = (node: number) => node % grey === 0 && node / grey < size
  /** Whether a code can stand at a node. */
  const canBe = (node: number, c: number, code: number) => {
    const at = 3 * node + c
    if (code < 0 || code > top || Math.abs(code - values[at] * top) > furthest) return false
    if (!isGrey(node)) return true
    const [before, after] = [at - 3 * grey, at + 3 * grey]
    return (before < 0 || codes[before] <= code) && (after >= codes.length || codes[after] >= code)
  }

  for (let pass = 0, moved = true; moved && pass < mostPasses; pass++) {
    moved = false
    for (let node = 0; node < size ** 3; node++)
      for (let c = 0; c < 3; c++)
        for (const by of [1, -1]) {
          const code = codes[3 * node + c] + by
          if (!canBe(node, c, code) || gainOf(node, c, by / top) >= -leastGain) continue
          take(node, c, by / top)
          codes[3 * node + c] = code
          moved = true
          break
        }
  }
  return codes
}

/** Which places of a list of nodes name each node: those from `first[node]` up to `first[node + 1]` of `touching`. */
function byNode(nodes: Int32Array, count: number) {
  const first = new Int32Array(count + 1)
  for (const node of nodes) first[node + 1]++
  for (let node = 0; node < count; node++) first[node + 1] += first[node]
  const next = first.slice()
  const touching = new Int32Array(nodes.length)
  nodes.forEach((node, q) => (touching[next[node]++] = q))
  return { first, touching }
}
