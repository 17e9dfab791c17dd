import type { ConnectionTable } from './connectionTable'
import { identities, identity, type Curves } from './tableLayout'

/** CIELAB as 16-bit shares: version 4's, and the older one of `mft2`. ICC.1:2022 §6.3.4.2, §10.10. */
export const labCodes = {
  4: {
    ofL: (L: number) => L / 100,
    ofAb: (v: number) => (v + 128) / 255,
    toL: (x: number) => 100 * x,
    toAb: (x: number) => 255 * x - 128,
  },
  2: {
    ofL: (L: number) => (L * 652.8) / 65535,
    ofAb: (v: number) => ((v + 128) * 256) / 65535,
    toL: (x: number) => (x * 65535) / 652.8,
    toAb: (x: number) => (x * 65535) / 256 - 128,
  },
} as const

/** Steps of the grid that the values beyond a display's reach share on each side. */
const outside = 1.5

/**
 * Places for a* or b* on 0–1 such that ±`reach` takes all but 1.5 steps of the grid at each end, 0 the middle node, and
 * −128…127 the whole.
 */
function stretch(reach: number, size: number) {
  const edge = outside / (size - 1)
  const slope = (0.5 - edge) / reach
  const beyond = edge / (128 - reach)
  const place = (v: number) => {
    const m = Math.abs(v)
    const p = m <= reach ? m * slope : 0.5 - edge + (m - reach) * beyond
    return 0.5 + Math.sign(v) * Math.min(0.5, p)
  }
  const valueOf = (x: number) => {
    const p = Math.abs(x - 0.5)
    const m = p <= 0.5 - edge ? p / slope : reach + (p - 0.5 + edge) / beyond
    return Math.sign(x - 0.5) * m
  }
  return { place, valueOf }
}

/** Tables that connect through CIELAB: the grid to the device has most of its nodes where the display has colours. */
export function labSpace(version: 2 | 4, reach: readonly [number, number], size: number): ConnectionTable {
  const code = labCodes[version]
  const [a, b] = reach.map((r) => stretch(Math.min(127, 1.02 * r), size))
  const intoGrid: Curves = [
    version === 4 ? identity : (x) => code.toL(x) / 100,
    (x) => a.place(code.toAb(x)),
    (x) => b.place(code.toAb(x)),
  ]
  return {
    connectionSpace: 'Lab ',
    toGrid: ([L, va, vb]) => [code.ofL(L), code.ofAb(va), code.ofAb(vb)],
    fromGrid: identities,
    intoGrid,
    matrix: null,
    labAt: ([x, y, z]) => [100 * x, a.valueOf(y), b.valueOf(z)],
    placeOf: ([L, va, vb]) => [L / 100, a.place(va), b.place(vb)],
  }
}
