import type { GridShape, PipelineShape, TableShape } from './pipelineShape'
import type { SlotTables } from './slotTables'

const orderedTable = ({ entries, bits }: TableShape) => ({ entries, bits })
const orderedGrid = ({ size, bits }: GridShape) => ({ size, bits })

function orderedShape(shape: PipelineShape): PipelineShape {
  switch (shape.kind) {
    case '1D+3x3':
      return {
        kind: shape.kind,
        before: orderedTable(shape.before),
        matrixFractionBits: shape.matrixFractionBits,
        after: orderedTable(shape.after),
      }
    case '1D+3D':
      return { kind: shape.kind, grid: orderedGrid(shape.grid), after: orderedTable(shape.after) }
    case '3D':
      return { kind: shape.kind, grid: orderedGrid(shape.grid) }
    case '1D':
      return { kind: shape.kind, after: orderedTable(shape.after) }
  }
}

/** The bytes of a slot's contents as they travel and are hashed: JSON in a fixed key order, UTF-8. */
export function encodeSlotTables({ format, shape, before, matrix, grid, after }: SlotTables): Uint8Array {
  return new TextEncoder().encode(JSON.stringify({ format, shape: orderedShape(shape), before, matrix, grid, after }))
}

const isIntegers = (values: unknown, count: number, bits: number) =>
  Array.isArray(values) &&
  values.length === count &&
  values.every((v) => Number.isInteger(v) && v >= 0 && v < 2 ** bits)

const isTable = (channels: unknown, { entries, bits }: TableShape) =>
  Array.isArray(channels) && channels.length === 3 && channels.every((table) => isIntegers(table, entries, bits))

/** Reads what {@link encodeSlotTables} wrote, for a slot of `shape`. Throws Error with a sentence when anything is off. */
export function decodeSlotTables(bytes: Uint8Array, shape: PipelineShape): SlotTables {
  let tables: SlotTables
  try {
    tables = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes))
  } catch {
    throw new Error('These are not slot tables: the text is not JSON.')
  }
  if (tables?.format !== 'bichroma-slot-tables/2')
    throw new Error('These are not slot tables: the format line is missing.')
  if (tables.shape?.kind !== shape.kind)
    throw new Error(`These tables are for a slot of another kind: this display takes ${shape.kind}.`)
  const { format, before, matrix, grid, after } = tables
  if ('before' in shape && !isTable(before, shape.before))
    throw new Error(
      `The first tables must be three times ${shape.before.entries} integers of ${shape.before.bits} bits.`,
    )
  if (
    'matrixFractionBits' in shape &&
    !(Array.isArray(matrix) && matrix.length === 9 && matrix.every(Number.isInteger))
  )
    throw new Error('The matrix must be nine integers.')
  if ('grid' in shape && !isIntegers(grid, 3 * shape.grid.size ** 3, shape.grid.bits))
    throw new Error(
      `The 3D table must be ${3 * shape.grid.size ** 3} integers of ${shape.grid.bits} bits, three for each of ${shape.grid.size}³ nodes.`,
    )
  if ('after' in shape && !isTable(after, shape.after))
    throw new Error(`The last tables must be three times ${shape.after.entries} integers of ${shape.after.bits} bits.`)
  return {
    format,
    shape,
    ...('before' in shape && { before }),
    ...('matrixFractionBits' in shape && { matrix }),
    ...('grid' in shape && { grid }),
    ...('after' in shape && { after }),
  }
}
