import { multiplyVector, type Matrix3, type Triple } from '../color/matrix3'
import { lookUp1d } from './table1d'
import { applyTetrahedral } from './table3d'
import type { SlotTables } from './slotTables'

type Stage = (v: Triple) => Triple

const roundTo = (bits: number) => {
  const top = 2 ** bits - 1
  return (v: number) => Math.round(v * top) / top
}

function curves(channels: NonNullable<SlotTables['after']>, bits: number, addressOf: (v: number) => number): Stage {
  const top = 2 ** bits - 1
  const tables = channels.map((table) => Float64Array.from(table, (v) => v / top))
  return (v) => [
    lookUp1d(tables[0], addressOf(v[0])),
    lookUp1d(tables[1], addressOf(v[1])),
    lookUp1d(tables[2], addressOf(v[2])),
  ]
}

/**
 * What a slot makes of a signal: panel drive 0–1 from signal 0–1, at the tables' own precision. Curves are straight
 * between entries, 3D tables tetrahedral.
 */
export function makeSlotPipeline({ shape, before, matrix, grid, after }: SlotTables): Stage {
  const stages: Stage[] = []
  if ('before' in shape) stages.push(curves(before!, shape.before.bits, (v) => v))
  if ('matrixFractionBits' in shape) {
    const m = matrix!.map((v) => v / 2 ** shape.matrixFractionBits)
    const rows = [m.slice(0, 3), m.slice(3, 6), m.slice(6, 9)] as unknown as Matrix3
    stages.push((v) => multiplyVector(rows, v))
  }
  if ('grid' in shape) {
    const top = 2 ** shape.grid.bits - 1
    const table = { size: shape.grid.size, values: Float64Array.from(grid!, (v) => v / top) }
    const round = roundTo(shape.grid.bits)
    stages.push((v) => applyTetrahedral(table, v).map(round) as unknown as Triple)
  }
  if ('after' in shape) {
    const addressOf = shape.kind === '1D+3x3' ? (l: number) => Math.sqrt(Math.max(0, l)) : (v: number) => v
    const round = roundTo(shape.after.bits)
    const stage = curves(after!, shape.after.bits, addressOf)
    stages.push((v) => stage(v).map(round) as unknown as Triple)
  }
  return (signal) => stages.reduce((v, stage) => stage(v), signal)
}

/** {@link makeSlotPipeline} for a single signal. */
export const applySlotTables = (tables: SlotTables, signal: Triple): Triple => makeSlotPipeline(tables)(signal)
