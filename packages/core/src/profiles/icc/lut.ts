import type { Matrix3, Triple } from '../../color/matrix3'
import { type Grid3D, type tetrahedral, type trilinear } from '../../tables/grid3d'
import { applyCurve, readCurve, type IccCurve } from './curves'
import { ProfileError, type IccReader } from './iccBytes'

/** One step of a table that turns three numbers 0–1 into three numbers 0–1. */
type LutStep =
  | { readonly kind: 'curves'; readonly curves: readonly IccCurve[] }
  | { readonly kind: 'matrix'; readonly matrix: Matrix3; readonly offset: Triple }
  | { readonly kind: 'clut'; readonly clut: Grid3D }

/** A table of a profile in the order in which its steps apply. */
export interface Lut {
  readonly type: 'mft1' | 'mft2' | 'mAB ' | 'mBA '
  readonly steps: readonly LutStep[]
}

/** Entries that a grid may have: 129 nodes along each axis. */
const mostNodes = 129 ** 3

function readGrid(r: IccReader, at: number, grid: Triple, bytesEach: 1 | 2): Grid3D {
  const nodes = grid[0] * grid[1] * grid[2]
  if (grid.some((g) => g < 2) || nodes > mostNodes)
    throw new ProfileError(`${r.name} holds a grid of ${grid.join(' × ')} nodes; 2 to 129 along each axis will do.`)
  return { nodes: grid, values: r.shares(at, 3 * nodes, bytesEach) }
}

const threeByThree = (r: IccReader): void => {
  const [inputs, outputs] = [r.u8(8), r.u8(9)]
  if (inputs !== 3 || outputs !== 3)
    throw new ProfileError(`${r.name} takes ${inputs} and gives ${outputs} channels; a display's takes and gives 3.`)
}

const matrixAt = (r: IccReader, at: number): Matrix3 => {
  const m = r.fixeds(at, 9)
  return [
    [m[0], m[1], m[2]],
    [m[3], m[4], m[5]],
    [m[6], m[7], m[8]],
  ]
}

/** `mft1` and `mft2`. ICC.1:2022 §10.10, §10.11. `fromXyz`: whether its input is XYZ, to which alone its matrix applies. */
function readOldLut(r: IccReader, type: 'mft1' | 'mft2', fromXyz: boolean): Lut {
  threeByThree(r)
  const bytesEach = type === 'mft1' ? 1 : 2
  const points = r.u8(10)
  const [inputs, outputs] = type === 'mft1' ? [256, 256] : [r.u16(48), r.u16(50)]
  if ([inputs, outputs].some((n) => n < 2 || n > 4096))
    throw new ProfileError(`${r.name} holds tables of ${inputs} and ${outputs} entries; 2 to 4,096 are allowed.`)
  let at = type === 'mft1' ? 48 : 52
  const tables = (entries: number): LutStep => {
    const curves = [0, 1, 2].map((c): IccCurve => ({
      kind: 'table',
      values: r.shares(at + c * entries * bytesEach, entries, bytesEach),
    }))
    at += 3 * entries * bytesEach
    return { kind: 'curves', curves }
  }
  const first = tables(inputs)
  const clut = readGrid(r, at, [points, points, points], bytesEach)
  at += 3 * points ** 3 * bytesEach
  const last = tables(outputs)
  const matrix: LutStep[] = fromXyz ? [{ kind: 'matrix', matrix: matrixAt(r, 12), offset: [0, 0, 0] }] : []
  return { type, steps: [...matrix, first, { kind: 'clut', clut }, last] }
}

/** `mAB ` and `mBA `. ICC.1:2022 §10.12, §10.13. */
function readNewLut(r: IccReader, type: 'mAB ' | 'mBA '): Lut {
  threeByThree(r)
  const [b, matrix, m, clut, a] = [12, 16, 20, 24, 28].map((at) => r.u32(at))
  const curves = (at: number): LutStep[] => {
    if (at === 0) return []
    const list: IccCurve[] = []
    let place = at
    for (let c = 0; c < 3; c++) {
      const { curve, length } = readCurve(r, place)
      list.push(curve)
      place += Math.ceil(length / 4) * 4
    }
    return [{ kind: 'curves', curves: list }]
  }
  const matrixStep = (at: number): LutStep[] => {
    if (at === 0) return []
    const offset = r.fixeds(at + 36, 3) as unknown as Triple
    return [{ kind: 'matrix', matrix: matrixAt(r, at), offset }]
  }
  const grid = (at: number): LutStep[] => {
    if (at === 0) return []
    const bytesEach = r.u8(at + 16)
    if (bytesEach !== 1 && bytesEach !== 2)
      throw new ProfileError(`${r.name} holds a grid of ${bytesEach} bytes a value; 1 or 2 are allowed.`)
    return [{ kind: 'clut', clut: readGrid(r, at + 20, [r.u8(at), r.u8(at + 1), r.u8(at + 2)], bytesEach) }]
  }
  if (b === 0) throw new ProfileError(`${r.name} lacks its B curves.`)
  const steps = [...curves(a), ...grid(clut), ...curves(m), ...matrixStep(matrix), ...curves(b)]
  return {
    type,
    steps: type === 'mAB ' ? steps : [...curves(b), ...matrixStep(matrix), ...curves(m), ...grid(clut), ...curves(a)],
  }
}

/** Reads a table of any of the four types. Throws ProfileError. */
export function readLut(r: IccReader, fromXyz: boolean): Lut {
  const type = r.text(0, 4)
  if (type === 'mft1' || type === 'mft2') return readOldLut(r, type, fromXyz)
  if (type === 'mAB ' || type === 'mBA ') return readNewLut(r, type)
  throw new ProfileError(`${r.name} is of the type “${type}”, which is no table.`)
}

const clamp = (v: number) => (v >= 1 ? 1 : v > 0 ? v : 0)
const each = (v: Triple, of: (x: number, c: number) => number): Triple => [of(v[0], 0), of(v[1], 1), of(v[2], 2)]

/**
 * Three numbers 0–1 through a table. Its grid is read tetrahedrally for device colours, whose greys lie on the diagonal,
 * and trilinearly for CIELAB, whose greys lie along one axis.
 */
export function applyLut(lut: Lut, input: Triple, read: typeof tetrahedral | typeof trilinear): Triple {
  return lut.steps.reduce<Triple>((v, step) => {
    if (step.kind === 'curves') return each(v, (x, c) => clamp(applyCurve(step.curves[c], x)))
    if (step.kind === 'clut') return read(step.clut, v)
    const { matrix: m, offset } = step
    return each([0, 1, 2], (row) => clamp(m[row][0] * v[0] + m[row][1] * v[1] + m[row][2] * v[2] + offset[row]))
  }, input)
}
