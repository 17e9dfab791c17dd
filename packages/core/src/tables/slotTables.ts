import { multiplyVector, type Matrix3, type Triple } from '../color/matrix3'

/** What a display's slot can store: a table per channel, a matrix, a table per channel. */
export interface PipelineShape {
  /** Signal → linear light: entries per channel, and bits of each output. */
  readonly before: { readonly entries: number; readonly bits: number }
  /** Bits behind the point of each matrix coefficient. */
  readonly matrixFractionBits: number
  /** Linear light → panel drive. Addressed by the square root of the light, so that shadows get their share of entries. */
  readonly after: { readonly entries: number; readonly bits: number }
}

/** The contents of one slot, in the integers that the display stores. */
export interface SlotTables {
  readonly format: 'bichroma-slot-tables/1'
  readonly shape: PipelineShape
  /** Three channels of `before.entries` integers. */
  readonly before: readonly [readonly number[], readonly number[], readonly number[]]
  /** Nine coefficients in units of 2^−matrixFractionBits, row by row. */
  readonly matrix: readonly number[]
  /** Three channels of `after.entries` integers. */
  readonly after: readonly [readonly number[], readonly number[], readonly number[]]
}

type ChannelCurves = readonly [(x: number) => number, (x: number) => number, (x: number) => number]

/** What the solver wants a slot to do, before it is rounded to the display's integers. */
export interface PipelineAim {
  /** Signal 0–1 → linear light 0–1. */
  readonly decode: ChannelCurves
  readonly matrix: Matrix3
  /** Linear light 0–1 → panel drive 0–1. */
  readonly drive: ChannelCurves
}

const quantize = (value: number, bits: number) => Math.round(Math.min(1, Math.max(0, value)) * (2 ** bits - 1))

/** A rising run of integers from a curve: a step backwards, which rounding or noise could make, is levelled. */
function tabulate(
  curve: (x: number) => number,
  entries: number,
  bits: number,
  addressOf: (i: number) => number,
): number[] {
  let last = 0
  return Array.from(
    { length: entries },
    (_, i) => (last = Math.max(last, quantize(curve(addressOf(i / (entries - 1))), bits))),
  )
}

/** Rounds a pipeline to the integers of a display's slot; every table is monotone. */
export function buildSlotTables(aim: PipelineAim, shape: PipelineShape): SlotTables {
  const channels = [0, 1, 2] as const
  const unit = 2 ** shape.matrixFractionBits
  return {
    format: 'bichroma-slot-tables/1',
    shape,
    before: channels.map((c) => tabulate(aim.decode[c], shape.before.entries, shape.before.bits, (a) => a)) as never,
    matrix: aim.matrix.flat().map((m) => Math.round(m * unit)),
    after: channels.map((c) => tabulate(aim.drive[c], shape.after.entries, shape.after.bits, (a) => a * a)) as never,
  }
}

const lookUp = (table: readonly number[], address: number, bits: number): number => {
  const at = Math.min(1, Math.max(0, address)) * (table.length - 1)
  const low = Math.min(table.length - 2, Math.floor(at))
  return (table[low] + (table[low + 1] - table[low]) * (at - low)) / (2 ** bits - 1)
}

/** What the slot makes of a signal: panel drive 0–1 from signal 0–1, at the tables' own precision. */
export function applySlotTables(tables: SlotTables, signal: Triple): Triple {
  const { shape } = tables
  const linear = signal.map((v, c) => lookUp(tables.before[c], v, shape.before.bits)) as unknown as Triple
  const unit = 2 ** shape.matrixFractionBits
  const [a, b, c, d, e, f, g, h, i] = tables.matrix.map((m) => m / unit)
  const mixed = multiplyVector(
    [
      [a, b, c],
      [d, e, f],
      [g, h, i],
    ],
    linear,
  )
  const top = 2 ** shape.after.bits - 1
  return mixed.map((l, k) => {
    const drive = lookUp(tables.after[k], Math.sqrt(Math.max(0, l)), shape.after.bits)
    return Math.round(drive * top) / top
  }) as unknown as Triple
}

/** Rounds a signal 0–1 to what `bits` bits can carry. */
export const quantizeSignal = (signal: Triple, bits: number): Triple => {
  const top = 2 ** bits - 1
  return signal.map((v) => Math.round(Math.min(1, Math.max(0, v)) * top) / top) as unknown as Triple
}

/** The bytes of a slot's contents as they travel and are hashed: JSON in a fixed key order, UTF-8. */
export function encodeSlotTables(tables: SlotTables): Uint8Array {
  const { format, shape, before, matrix, after } = tables
  const ordered = {
    format,
    shape: {
      before: { entries: shape.before.entries, bits: shape.before.bits },
      matrixFractionBits: shape.matrixFractionBits,
      after: { entries: shape.after.entries, bits: shape.after.bits },
    },
    before,
    matrix,
    after,
  }
  return new TextEncoder().encode(JSON.stringify(ordered))
}

const isTable = (table: unknown, { entries, bits }: { entries: number; bits: number }) =>
  Array.isArray(table) && table.length === entries && table.every((v) => Number.isInteger(v) && v >= 0 && v < 2 ** bits)

/** Reads what {@link encodeSlotTables} wrote, for a slot of `shape`. Throws Error with a sentence when anything is off. */
export function decodeSlotTables(bytes: Uint8Array, shape: PipelineShape): SlotTables {
  let tables: SlotTables
  try {
    tables = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes))
  } catch {
    throw new Error('These are not slot tables: the text is not JSON.')
  }
  if (tables?.format !== 'bichroma-slot-tables/1')
    throw new Error('These are not slot tables: the format line is missing.')
  const channels = [0, 1, 2]
  if (!channels.every((c) => isTable(tables.before?.[c], shape.before)))
    throw new Error(
      `The first tables must be three times ${shape.before.entries} integers of ${shape.before.bits} bits.`,
    )
  if (!Array.isArray(tables.matrix) || tables.matrix.length !== 9 || !tables.matrix.every(Number.isInteger))
    throw new Error('The matrix must be nine integers.')
  if (!channels.every((c) => isTable(tables.after?.[c], shape.after)))
    throw new Error(`The last tables must be three times ${shape.after.entries} integers of ${shape.after.bits} bits.`)
  return { ...tables, shape }
}
