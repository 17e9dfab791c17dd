import type { Reached, Touched } from './touchedNodes'

/** Pairs of nodes that lie around one sample: of the nth that is reached, those from `first[n]` up to `first[n + 1]`. */
export interface Pairs {
  readonly first: Int32Array
  /** The place among the reached of the other of a pair, which has the greater number. */
  readonly others: Int32Array
  /** What its samples make of a pair, by channel: weight × both shares. */
  readonly sums: Float64Array
}

/** So many greater numbers can nodes have that lie around one sample with another. */
const mostBeside = 13

/** The matrix beside its diagonal, worked out once: the search for its solution takes twenty times what it is applied. */
export function pairsOf(
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
