import { makeInverter } from '../../characterization/inversion'
import { predictLabInto, type Characterization } from '../../characterization/characterization'
import { convertLabToXyz, convertXyzToLab } from '../../color/lab'
import { pcsWhite } from '../../color/encodings'
import { invert, multiplyVector, type Matrix3, type Triple } from '../../color/matrix3'
import type { XYZ } from '../../color/chromaticity'
import { lookUp1d, placeOnRising } from '../../tables/table1d'
import type { MatrixModel } from '../../characterization/matrixModel'
import type { ConnectionTable } from './connectionTable'
import { labSpace } from './labSpace'
import { adaptationOf, matrixTags } from './matrixProfile'
import { curveEntries, newTable, oldTable, type Curves } from './tableLayout'
import { assembleProfile, commonTags, type ProfileFacts } from './writeIcc'
import { xyzSpace } from './xyzSpace'

/** Nodes along each axis, both ways; odd, so that greys fall on a node of a* and b*. */
const profileGrid = 33

/** CIELAB beyond which the codes of the connection space end: −128…127. ICC.1:2022 §6.3.4.2. */
const labReach = 126.5

/**
 * An ICC.1 display profile of table kind from a characterization, version 4.4 (`mAB `, `mBA `) or 2.4 (`mft2`), 33 nodes
 * each way, with matrix and curves beside them for programs that read no tables. It connects through CIELAB; a display
 * with colours beyond CIELAB's codes (deep blues of wide gamuts) connects through XYZ, which has no such end. The curves
 * on the device side turn signals into the cube root of light, in which colours run nearly straight from node to node.
 * ICC.1:2022 §8.4.2, §9.
 */
export function writeTableProfile(c: Characterization, model: MatrixModel, facts: ProfileFacts): Uint8Array {
  const version = facts.version ?? 4
  const adapt = adaptationOf(c.white)
  const roots = [0, 1, 2].map((k) => rootCurve(c, k)) as unknown as Curves
  const signals = roots.map(invertTable) as unknown as Curves
  const labs = gridOfColors(c, signals, adapt)
  const reach = [1, 2].map((k) => largest(labs, k)) as unknown as readonly [number, number]
  const space = Math.max(...reach) < labReach ? labSpace(version, reach, profileGrid) : xyzSpace(version, reach)

  const forward = new Float64Array(labs.length)
  for (let i = 0; i < labs.length; i += 3) forward.set(space.toGrid([labs[i], labs[i + 1], labs[i + 2]]), i)
  const inverse = gridOfSignals(c, roots, adapt, space)
  const a2b = { grid: forward, size: profileGrid, device: roots, pcs: space.fromGrid, matrix: null }
  const b2a = { grid: inverse, size: profileGrid, device: signals, pcs: space.intoGrid, matrix: space.matrix }
  return assembleProfile(facts, space.connectionSpace, [
    ...commonTags(facts, c.white, adapt),
    ['A2B0', version === 4 ? newTable('mAB ', a2b) : oldTable('A2B', a2b)],
    ['B2A0', version === 4 ? newTable('mBA ', b2a) : oldTable('B2A', b2a)],
    ...matrixTags(model),
  ])
}

const relative = (white: XYZ): Triple => [white[0] / white[1], 1, white[2] / white[1]]

const largest = (labs: Float64Array, k: number): number => {
  let most = 0
  for (let i = k; i < labs.length; i += 3) most = Math.max(most, Math.abs(labs[i]))
  return most
}

/** Signal 0–1 → cube root of a channel's light, from 0 to 1. */
function rootCurve({ curves }: Characterization, channel: number): (x: number) => number {
  const entries = curves.length / 3
  const start = channel * entries
  const [low, high] = [curves[start], curves[start + entries - 1]]
  return (x) => (lookUp1d(curves, x, start, entries) - low) / (high - low)
}

const even = (of: (x: number) => number) =>
  Float64Array.from({ length: profileGrid }, (_, i) => of(i / (profileGrid - 1)))

/** CIELAB under D50 at every node of the grid from the device. */
function gridOfColors(c: Characterization, signals: Curves, adapt: Matrix3): Float64Array {
  const labs = new Float64Array(3 * profileGrid ** 3)
  const lab = new Float64Array(3)
  const [atR, atG, atB] = signals.map(even)
  for (let i = 0, at = 0; i < profileGrid; i++)
    for (let j = 0; j < profileGrid; j++)
      for (let k = 0; k < profileGrid; k++, at += 3) {
        predictLabInto(c, atR[i], atG[j], atB[k], lab)
        const xyz = convertLabToXyz([lab[0], lab[1], lab[2]], relative(c.white))
        labs.set(convertXyzToLab(multiplyVector(adapt, xyz), pcsWhite), at)
      }
  return labs
}

/** Cube roots of light at every node of the grid to the device. */
function gridOfSignals(c: Characterization, roots: Curves, adapt: Matrix3, space: ConnectionTable): Float64Array {
  const grid = new Float64Array(3 * profileGrid ** 3)
  const back = invert(adapt)
  const { intoSignal } = makeInverter(c)
  const found = new Float64Array(3)
  const top = profileGrid - 1
  for (let i = 0, at = 0; i < profileGrid; i++)
    for (let j = 0; j < profileGrid; j++)
      for (let k = 0; k < profileGrid; k++, at += 3) {
        const xyz = multiplyVector(back, convertLabToXyz(space.labAt([i / top, j / top, k / top]), pcsWhite))
        const [L, a, b] = convertXyzToLab(xyz, relative(c.white))
        intoSignal(L, a, b, found)
        for (let q = 0; q < 3; q++) grid[at + q] = roots[q](found[q])
      }
  return grid
}

/** The inverse of a rising function on 0–1, through a fine table of it. */
function invertTable(of: (x: number) => number): (y: number) => number {
  const values = Float64Array.from({ length: curveEntries + 1 }, (_, i) => of(i / curveEntries))
  return (y) => placeOnRising(values, y)
}
