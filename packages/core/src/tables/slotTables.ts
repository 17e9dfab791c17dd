import type { Matrix3, Triple } from '../color/matrix3'
import type { MatrixShape, PipelineShape, TableShape } from './pipelineShape'

type Channels = readonly [readonly number[], readonly number[], readonly number[]]

/** The contents of one slot, in the integers that the display stores. A field is there when the shape has that part. */
export interface SlotTables {
  readonly format: 'bichroma-slot-tables/2'
  readonly shape: PipelineShape
  /** Three channels of `before.entries` integers. */
  readonly before?: Channels
  /** Nine coefficients in units of 2^−matrixFractionBits, row by row. */
  readonly matrix?: readonly number[]
  /** 3·size³ integers: triples at the nodes, red slowest, blue fastest. */
  readonly grid?: readonly number[]
  /** Three channels of `after.entries` integers. */
  readonly after?: Channels
}

export type ChannelCurves = readonly [(x: number) => number, (x: number) => number, (x: number) => number]

/** What the solver wants a slot with a matrix to do, before it is rounded to the display's integers. */
export interface PipelineAim {
  /** Signal 0–1 → linear light 0–1. */
  readonly decode: ChannelCurves
  readonly matrix: Matrix3
  /** Linear light 0–1 → panel drive 0–1. */
  readonly drive: ChannelCurves
}

/** A value 0–1 as an integer of `bits` bits. */
export const toInteger = (value: number, bits: number) => Math.round(Math.min(1, Math.max(0, value)) * (2 ** bits - 1))

/** Bits from which the nearest integers are as good as any; of fewer, those that show colours best together are looked for. */
export const fineBits = 11

/** A rising run of integers from a curve: a step backwards, which rounding or noise could make, is levelled. */
function tabulate(
  curve: (x: number) => number,
  { entries, bits }: TableShape,
  addressOf: (i: number) => number,
): number[] {
  let last = 0
  return Array.from(
    { length: entries },
    (_, i) => (last = Math.max(last, toInteger(curve(addressOf(i / (entries - 1))), bits))),
  )
}

/** Three curves 0–1 → 0–1 as the integers of a table per channel; every channel rises. */
export const tabulateCurves = (
  curves: ChannelCurves,
  shape: TableShape,
  addressOf: (i: number) => number = (a) => a,
): Channels => [0, 1, 2].map((c) => tabulate(curves[c], shape, addressOf)) as unknown as Channels

/** Rounds a pipeline to the integers of a slot with a matrix; every table is monotone. */
export function buildSlotTables(aim: PipelineAim, shape: MatrixShape): SlotTables {
  const unit = 2 ** shape.matrixFractionBits
  return {
    format: 'bichroma-slot-tables/2',
    shape,
    before: tabulateCurves(aim.decode, shape.before),
    matrix: aim.matrix.flat().map((m) => Math.round(m * unit)),
    after: tabulateCurves(aim.drive, shape.after, (a) => a * a),
  }
}

/** Rounds a signal 0–1 to what `bits` bits can carry. */
export const quantizeSignal = (signal: Triple, bits: number): Triple => {
  const top = 2 ** bits - 1
  return signal.map((v) => Math.round(Math.min(1, Math.max(0, v)) * top) / top) as unknown as Triple
}
