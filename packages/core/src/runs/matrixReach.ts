import { curveEntries, gridSize, predictXyz, type Characterization } from '../characterization/characterization'
import { noCoupling } from '../characterization/coupling'
import { aimCurve, aimTargets, type ResolvedAim } from '../aims/aim'
import { uniformFrom } from '../basics/random'
import type { XYZ } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import { multiplyVector, type Triple } from '../color/matrix3'
import type { PipelineAim } from '../tables/slotTables'
import { fitPipeline } from './jointPipeline'
import { panelMatrix, type RawCorners } from './level'
import { mixingMatrix } from './shape'

/** A panel whose channels' light is their drive, with what its white has beyond its primaries; nothing else couples. */
function idealPanel({ white, black, red, green, blue }: RawCorners): Characterization {
  const share = (of: (k: 0 | 1 | 2) => number) => Float64Array.from([0, 1, 2] as const, (k) => of(k) / white[k])
  const columns = [red, green, blue]
  const rows = ([0, 1, 2] as const).flatMap((k) => columns.map((c) => (c[k] - black[k]) / white[k]))
  const root = Float64Array.from({ length: curveEntries }, (_, i) => Math.cbrt(i / (curveEntries - 1)))
  return {
    ...{ white, black, kernel: '', readings: 5 },
    matrix: Float64Array.from(rows),
    relativeBlack: share((k) => black[k]),
    shared: share((k) => white[k] - red[k] - green[k] - blue[k] + 2 * black[k]),
    coupling: noCoupling,
    sag: new Float64Array(3),
    curves: Float64Array.from([...root, ...root, ...root]),
    residual: new Float64Array(3 * gridSize ** 3),
  }
}

/** Colours of the aim by which it is told, anywhere. */
const told = 200

/**
 * By how much a slot with a matrix misses an aim at best, ΔE2000 on average over the aim's colours, on a panel with these
 * corners: by nothing where its channels add, and by what no matrix can undo where a white subpixel helps white alone. What
 * else is wrong with a panel comes on top.
 */
export function matrixReach({ aim, corners }: { readonly aim: ResolvedAim; readonly corners: RawCorners }): number {
  const panel = idealPanel(corners)
  const { decode } = aimCurve(aim)
  const clamp = (v: number) => Math.min(1, Math.max(0, v))
  const apart: PipelineAim = {
    decode: [decode, decode, decode],
    matrix: mixingMatrix(panelMatrix(corners), aim),
    drive: [clamp, clamp, clamp],
  }
  const { matrix, drive } = fitPipeline(apart, panel, aim)
  const targetOf = aimTargets(aim)
  const lab = (xyz: XYZ) => convertXyzToLab(xyz, aim.white)
  const random = uniformFrom(3)
  let sum = 0
  for (let n = 0; n < told; n++) {
    const signal: Triple = [random(), random(), random()]
    const mixed = multiplyVector(matrix, [decode(signal[0]), decode(signal[1]), decode(signal[2])])
    const shown = predictXyz(panel, [drive[0](mixed[0]), drive[1](mixed[1]), drive[2](mixed[2])])
    sum += deltaE2000(lab(targetOf(signal)), lab(shown))
  }
  return sum / told
}
