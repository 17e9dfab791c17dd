import { applyTetrahedral, tabulate3d, type Table3D } from './table3d'

/** A picture of 8 bits: `channels` bytes a pixel (3, or 4 with an alpha that is copied). */
export type PictureFilter = (source: Uint8Array, target: Uint8Array, channels: 3 | 4) => void

/** Codes of 8 bits. */
const codes = 256

/**
 * Three sums travel in one double, in lanes of 17 bits (51 of its 53): red lowest, then green, then blue. Adding two
 * such doubles adds all three lanes, which halves the work and more.
 */
const lane = 2 ** 17
const [greenLane, blueLane] = [1 / lane, 1 / lane ** 2]
const laneMask = lane - 1
const packed = (r: number, g: number, b: number) => r + g * lane + b * lane * lane

/** Parts of a step between nodes, and values in quarters of a code: together just within a lane. */
const [parts, quarters] = [128, 4]
/** Half a code, so that cutting off rounds. */
const half = (parts * quarters) / 2
const halves = packed(half, half, half)
const codeShift = Math.log2(parts * quarters)

/** Steps below which 1/128 of a step is more than a sixteenth of a code. */
const fewestSteps = 16

/** The same table with each step cut into equal parts where steps are long: cutting leaves its tetrahedra what they are. */
function fineEnough(table: Table3D): Table3D {
  const steps = table.size - 1
  if (steps >= fewestSteps) return table
  return tabulate3d(steps * Math.ceil(fewestSteps / steps) + 1, (rgb) => applyTetrahedral(table, rgb))
}

/** For each order of the three parts of a step: the axis of the largest, and that of the middle one. */
function orderOffsets(strides: readonly number[]): { first: Int32Array; second: Int32Array } {
  const first = new Int32Array(8)
  const second = new Int32Array(8)
  for (let order = 0; order < 8; order++) {
    // Bit 2: green above red; bit 1: blue above green; bit 0: blue above red.
    const above = (k: number) => (order >> k) & 1
    const rank = [(above(2) ? 0 : 1) + (above(0) ? 0 : 1), above(2) + (above(1) ? 0 : 1), above(1) + above(0)]
    const axes = [0, 1, 2].sort((a, b) => rank[b] - rank[a])
    first[order] = strides[axes[0]]
    second[order] = strides[axes[0]] + strides[axes[1]]
  }
  return { first, second }
}

/**
 * A 3D table made ready for pictures of 8 bits, tetrahedral. The place of each code on each axis is worked out once;
 * parts of a step are counted in 1/128, values in quarters of a code, all in whole numbers and without a branch. Off by
 * one code at most against the plain version (tested).
 */
export function pictureFilterOfTable(table: Table3D): PictureFilter {
  const { size, values } = fineEnough(table)
  const top = size - 1
  // One node more on every axis, the last repeated, so that the upper end needs no case of its own.
  const wide = size + 1
  const strides = [wide * wide, wide, 1]
  const nodes = new Float64Array(wide ** 3)
  const quarter = (v: number) => Math.round(Math.min(1, Math.max(0, v)) * 255 * quarters)
  for (let i = 0, at = 0; i < wide; i++)
    for (let j = 0; j < wide; j++)
      for (let k = 0; k < wide; k++, at++) {
        const from = 3 * ((Math.min(i, top) * size + Math.min(j, top)) * size + Math.min(k, top))
        nodes[at] = packed(quarter(values[from]), quarter(values[from + 1]), quarter(values[from + 2]))
      }
  const low = (v: number) => Math.min(top, Math.floor((v * top) / 255))
  const [offR, offG, offB] = strides.map((stride) => Int32Array.from({ length: codes }, (_, v) => low(v) * stride))
  const partOf = Int32Array.from({ length: codes }, (_, v) => Math.round(((v * top) / 255 - low(v)) * parts))
  const { first, second } = orderOffsets(strides)
  const all = strides[0] + strides[1] + strides[2]
  return (source, target, channels) => {
    const n = source.length
    for (let p = 0; p + channels <= n; p += channels) {
      const r = source[p]
      const g = source[p + 1]
      const b = source[p + 2]
      const at = offR[r] + offG[g] + offB[b]
      const x = partOf[r]
      const y = partOf[g]
      const z = partOf[b]
      // The signs of the differences, as all ones or zero, sort the three parts without a branch.
      const xy = (x - y) >> 31
      const yz = (y - z) >> 31
      const xz = (x - z) >> 31
      const order = (xy & 4) | (yz & 2) | (xz & 1)
      const larger = x - ((x - y) & xy)
      const smaller = y + ((x - y) & xy)
      const large = larger - ((larger - z) & ((larger - z) >> 31))
      const small = smaller - ((smaller - z) & ~((smaller - z) >> 31))
      const middle = x + y + z - large - small
      const sum =
        (parts - large) * nodes[at] +
        (large - middle) * nodes[at + first[order]] +
        (middle - small) * nodes[at + second[order]] +
        small * nodes[at + all] +
        halves
      target[p] = (sum & laneMask) >> codeShift
      target[p + 1] = ((sum * greenLane) & laneMask) >> codeShift
      target[p + 2] = (sum * blueLane) >> codeShift
      if (channels === 4) target[p + 3] = source[p + 3]
    }
  }
}

type Channels = readonly [(v: number) => number, (v: number) => number, (v: number) => number]

/** From one display to another as matrix profiles describe them. */
export interface MatrixFilter {
  /** Signal 0–1 → light 0–1 of each channel. */
  readonly decode: Channels
  /** Nine numbers, row by row, from the light of the one to the light of the other. */
  readonly matrix: ArrayLike<number>
  /** Light 0–1 → signal 0–1 of each channel. */
  readonly encode: Channels
}

/**
 * Curves, a matrix and curves made ready for pictures of 8 bits: each code's share of all three outputs is worked out
 * once, and the way out is a table over the whole range that their sums can have, so that nothing has to be clamped.
 */
export function pictureFilterOfMatrix({ decode, matrix, encode }: MatrixFilter): PictureFilter {
  const rows = [0, 1, 2].map((k) => [matrix[3 * k], matrix[3 * k + 1], matrix[3 * k + 2]])
  const sum = (row: readonly number[], of: (m: number) => number) => row.reduce((s, m) => s + of(m), 0)
  const least = Math.min(...rows.map((row) => sum(row, (m) => Math.min(0, m))))
  const most = Math.max(1, ...rows.map((row) => sum(row, (m) => Math.max(0, m))))
  /** Steps of light in a lane, with three to spare for the rounding of the shares. */
  const steps = Math.floor((lane - 4) / (most - least))
  const bias = Math.ceil(-least * steps) + 2
  const share = (c: number) =>
    Float64Array.from({ length: codes }, (_, v) => {
      const light = decode[c](v / 255) * steps
      const [r, g, b] = rows.map((row) => Math.round(row[c] * light) + (c === 0 ? bias : 0))
      return packed(r, g, b)
    })
  const [ofR, ofG, ofB] = [share(0), share(1), share(2)]
  const tables = new Map<(v: number) => number, Uint8Array>()
  const tableOf = (of: (v: number) => number) => {
    const known = tables.get(of)
    if (known) return known
    const table = Uint8Array.from({ length: lane }, (_, i) => {
      const light = Math.min(1, Math.max(0, (i - bias) / steps))
      return Math.round(255 * Math.min(1, Math.max(0, of(light))))
    })
    tables.set(of, table)
    return table
  }
  const [outR, outG, outB] = encode.map(tableOf)
  return (source, target, channels) => {
    const n = source.length
    for (let p = 0; p + channels <= n; p += channels) {
      const total = ofR[source[p]] + ofG[source[p + 1]] + ofB[source[p + 2]]
      target[p] = outR[total & laneMask]
      target[p + 1] = outG[(total * greenLane) & laneMask]
      target[p + 2] = outB[(total * blueLane) & laneMask]
      if (channels === 4) target[p + 3] = source[p + 3]
    }
  }
}
