import type { Triple } from '../color/matrix3'

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

/** Nodes that samples reach, in order, and the place of each among them; -1 of the others. */
export interface Reached {
  readonly reached: Int32Array
  readonly placeOf: Int32Array
}

export function reachedOf(size: number, nodes: Int32Array): Reached {
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
