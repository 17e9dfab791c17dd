/** A table per channel: entries, and bits of each output. */
export interface TableShape {
  readonly entries: number
  readonly bits: number
}

/** Signal → linear light per channel, a matrix, linear light → drive per channel. */
export interface MatrixShape {
  readonly kind: '1D+3x3'
  readonly before: TableShape
  /** Bits behind the point of each matrix coefficient. */
  readonly matrixFractionBits: number
  /** Addressed by the square root of the light, so that shadows get their share of entries. */
  readonly after: TableShape
}

/** A cube of nodes along each axis, and bits of each output. */
export interface GridShape {
  readonly size: number
  readonly bits: number
}

/** A 3D table over the signal, then a table per channel that ends in drive. */
export interface GridAndCurvesShape {
  readonly kind: '1D+3D'
  readonly grid: GridShape
  readonly after: TableShape
}

/** A 3D table from signal to drive. */
export interface GridOnlyShape {
  readonly kind: '3D'
  readonly grid: GridShape
}

/** A table per channel from signal to drive: what a video card holds for a display without tables. */
export interface CurvesShape {
  readonly kind: '1D'
  readonly after: TableShape
}

/** What a slot can store. */
export type PipelineShape = MatrixShape | GridAndCurvesShape | GridOnlyShape | CurvesShape

/** Kinds of slot contents, with the words for people. */
export const pipelineKinds = {
  '1D+3x3': 'two tables and a matrix',
  '1D+3D': 'a 3D table and a table per channel',
  '3D': 'a 3D table',
  '1D': 'a table per channel',
} as const satisfies Record<PipelineShape['kind'], string>
export const pipelineKindNames = Object.keys(pipelineKinds) as PipelineShape['kind'][]

/** Bytes that the contents of a slot take in the display: what has to cross its link. */
export function bytesOfShape(shape: PipelineShape): number {
  const table = ({ entries, bits }: TableShape) => (3 * entries * bits) / 8
  const grid = ({ size, bits }: GridShape) => (3 * size ** 3 * bits) / 8
  if (shape.kind === '1D+3x3') return table(shape.before) + 18 + table(shape.after)
  if (shape.kind === '1D+3D') return grid(shape.grid) + table(shape.after)
  return shape.kind === '3D' ? grid(shape.grid) : table(shape.after)
}
