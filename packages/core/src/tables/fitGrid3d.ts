/** Colours that a table shall bring somewhere: places in the cube, what is wanted there, and how much it counts by channel. */
export interface GridSamples {
  /** 0–1, three to a sample. */
  readonly places: Float64Array
  readonly wanted: Float64Array
  /** 0 or more. */
  readonly weights: Float64Array
}

/** Share of the mean weight with which a node holds on to what it was. */
const pull = 0.02
/** Steps of the search, and the share of the first residual at which it ends. */
const [mostSteps, smallest] = [60, 1e-5]

/** The four nodes of the tetrahedron around a place, and their weights; as {@link tetrahedral} has them. */
function corners(
  size: number,
  x: number,
  y: number,
  z: number,
  nodes: Int32Array,
  shares: Float64Array,
  at: number,
): void {
  const top = size - 1
  const place = [x, y, z].map((v) => Math.min(1, Math.max(0, v)) * top)
  const low = place.map((v) => Math.min(top - 1, Math.floor(v)))
  const part = place.map((v, k) => v - low[k])
  const strides = [size * size, size, 1]
  const order = [0, 1, 2].sort((a, b) => part[b] - part[a])
  let node = low[0] * strides[0] + low[1] * strides[1] + low[2]
  let before = 1
  for (let n = 0; n < 4; n++) {
    const next = n < 3 ? part[order[n]] : 0
    nodes[at + n] = node
    shares[at + n] = before - next
    if (n < 3) node += strides[order[n]]
    before = next
  }
}

/**
 * The values of a table's nodes that bring the samples nearest to what is wanted of them, by least squares over what the
 * tetrahedral interpolation makes of the nodes, each holding on a little to what it was. Conjugate gradients on the normal
 * equations, channel by channel (J. Nocedal, S. Wright, Numerical Optimization, 2006, §5.1). `values`: 3·size³, red slowest.
 */
export function fitGrid3d(size: number, values: Float64Array, { places, wanted, weights }: GridSamples): Float64Array {
  const count = places.length / 3
  const nodes = new Int32Array(4 * count)
  const shares = new Float64Array(4 * count)
  for (let s = 0; s < count; s++)
    corners(size, places[3 * s], places[3 * s + 1], places[3 * s + 2], nodes, shares, 4 * s)
  const out = Float64Array.from(values)
  for (let channel = 0; channel < 3; channel++) fitChannel(channel)
  return out

  function fitChannel(channel: number) {
    const n = size ** 3
    let sum = 0
    for (let s = 0; s < count; s++) sum += weights[3 * s + channel]
    const hold = (pull * sum) / Math.max(1, count)
    if (!(hold > 0)) return
    /** What so many changes of the nodes come to in the normal equations. */
    const apply = (change: Float64Array, into: Float64Array) => {
      for (let i = 0; i < n; i++) into[i] = hold * change[i]
      for (let s = 0, p = 0; s < count; s++, p += 4) {
        let shown = 0
        for (let q = p; q < p + 4; q++) shown += shares[q] * change[nodes[q]]
        const back = weights[3 * s + channel] * shown
        for (let q = p; q < p + 4; q++) into[nodes[q]] += back * shares[q]
      }
    }
    const residual = new Float64Array(n)
    for (let s = 0, p = 0; s < count; s++, p += 4) {
      let shown = 0
      for (let q = p; q < p + 4; q++) shown += shares[q] * values[3 * nodes[q] + channel]
      const back = weights[3 * s + channel] * (wanted[3 * s + channel] - shown)
      for (let q = p; q < p + 4; q++) residual[nodes[q]] += back * shares[q]
    }
    const change = new Float64Array(n)
    const direction = Float64Array.from(residual)
    const applied = new Float64Array(n)
    const dot = (a: Float64Array, b: Float64Array) => {
      let total = 0
      for (let i = 0; i < n; i++) total += a[i] * b[i]
      return total
    }
    let left = dot(residual, residual)
    const enough = left * smallest ** 2
    for (let step = 0; step < mostSteps && left > enough && left > 0; step++) {
      apply(direction, applied)
      const length = left / dot(direction, applied)
      for (let i = 0; i < n; i++) {
        change[i] += length * direction[i]
        residual[i] -= length * applied[i]
      }
      const now = dot(residual, residual)
      for (let i = 0; i < n; i++) direction[i] = residual[i] + (now / left) * direction[i]
      left = now
    }
    for (let i = 0; i < n; i++) out[3 * i + channel] = values[3 * i + channel] + change[i]
  }
}
