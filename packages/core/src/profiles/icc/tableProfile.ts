import type { Characterization } from '../../characterization/characterization'
import type { XYZ } from '../../color/chromaticity'
import { pcsWhite } from '../../color/encodings'
import { convertLabToXyz } from '../../color/lab'
import { signalThatArrives } from '../../tables/signalCodes'
import { lookUp1d } from '../../tables/table1d'
import type { MatrixModel } from '../../characterization/matrixModel'
import { evenly, gridOfColors, invertTable } from './colorGrid'
import { labSpace } from './labSpace'
import { adaptationOf, matrixTags } from './matrixProfile'
import { curveEntries, newTable, oldTable, type Curve, type Curves } from './tableLayout'
import { wayBack } from './wayBack'
import { assembleProfile, commonTags, type ProfileFacts } from './writeIcc'
import { xyzSpace } from './xyzSpace'

/** Nodes along each axis on the way from the device and back; odd, so that greys fall on a node of a* and b*. */
const [nodesThere, nodesBack] = [33, 49]

/** CIELAB beyond which the codes of the connection space end: −128…127. ICC.1:2022 §6.3.4.2. */
const labReach = 126.5

/**
 * An ICC.1 display profile of table kind from a characterization, version 4.4 (`mAB `, `mBA `) or 2.4 (`mft2`), 33 nodes
 * there and 49 back, with matrix and curves beside them for programs that read no tables. It connects through CIELAB; a display
 * with colours beyond CIELAB's codes (deep blues of wide gamuts) connects through XYZ, which has no such end. The curves
 * on the device side turn signals into the cube root of light, in which colours run nearly straight from node to node.
 * ICC.1:2022 §8.4.2, §9.
 */
export function writeTableProfile(c: Characterization, model: MatrixModel, facts: ProfileFacts): Uint8Array {
  const version = facts.version ?? 4
  const adapt = adaptationOf(c.white)
  const roots = [0, 1, 2].map((k) => rootCurve(c, k)) as unknown as Curves
  const signals = roots.map(invertTable) as unknown as Curves
  const labs = gridOfColors(
    c,
    signals.map((of) => evenly(nodesThere).map(of)),
    adapt,
  )
  const reach = [1, 2].map((k) => largest(labs, k)) as unknown as readonly [number, number]
  const space = Math.max(...reach) < labReach ? labSpace(version, reach, nodesBack) : xyzSpace(primariesOf(labs))

  const there = new Float64Array(labs.length)
  for (let i = 0; i < labs.length; i += 3) there.set(space.toGrid([labs[i], labs[i + 1], labs[i + 2]]), i)
  const device = roots.map((root) => withSteps(root, facts.sent)) as unknown as Curves
  const a2b = { grid: there, size: nodesThere, device, pcs: space.fromGrid, matrix: null }
  const b2a = wayBack(c, { roots, adapt, space, size: nodesBack })
  return assembleProfile(facts, space.connectionSpace, [
    ...commonTags(facts, c.white, adapt),
    ['A2B0', version === 4 ? newTable('mAB ', a2b) : oldTable('A2B', a2b)],
    ['B2A0', version === 4 ? newTable('mBA ', b2a) : oldTable('B2A', b2a)],
    ...matrixTags(model),
  ])
}

/** Red, green and blue at full signal as XYZ under D50, of a grid of colours. */
function primariesOf(labs: Float64Array): readonly [XYZ, XYZ, XYZ] {
  const end = nodesThere - 1
  return [nodesThere ** 2, nodesThere, 1].map((stride) => {
    const at = 3 * end * stride
    return convertLabToXyz([labs[at], labs[at + 1], labs[at + 2]], pcsWhite)
  }) as unknown as readonly [XYZ, XYZ, XYZ]
}

const largest = (labs: Float64Array, k: number): number => {
  let most = 0
  for (let i = k; i < labs.length; i += 3) most = Math.max(most, Math.abs(labs[i]))
  return most
}

/**
 * A curve over what a program draws, of one over what arrives. Of a limited range each code arrives as the nearest of fewer
 * (of 8 bits 220 of 256), which is up to half a ΔE2000 off in a steep channel; where the codes of the signal are far fewer
 * than the curve's entries, the curve has their steps. The way back has none: it would only choose between equals.
 */
function withSteps(curve: Curve, sent: ProfileFacts['sent']): Curve {
  if (!sent || sent.range === 'full' || 4 * 2 ** sent.bits > curveEntries) return curve
  return (x) => curve(signalThatArrives([x, x, x], sent)[0])
}

/** Signal 0–1 → cube root of a channel's light, from 0 to 1. */
function rootCurve({ curves }: Characterization, channel: number): (x: number) => number {
  const entries = curves.length / 3
  const start = channel * entries
  const [low, high] = [curves[start], curves[start + entries - 1]]
  return (x) => (lookUp1d(curves, x, start, entries) - low) / (high - low)
}
