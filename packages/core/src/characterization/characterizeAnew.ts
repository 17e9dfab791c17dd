import type { PatchReading } from '../color/patchReading'
import { scale, subtract, type Matrix3, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { readingOf } from './additiveModel'
import { fitMatrix } from '../tables/fitMatrix'
import { channelLight, curveEntries, predictXyz, type Characterization } from './characterization'
import { withFittedResidual } from './characterize'

/** Columns of a display without its black, fitted under the curves of another characterization of it. */
function columnsUnder(c: Characterization, readings: readonly PatchReading[], white: XYZ, black: XYZ): Matrix3 {
  const shared: XYZ = [c.shared[0] * white[0], c.shared[1] * white[1], c.shared[2] * white[2]]
  const sample = (rgb: Triple, xyz: XYZ) => {
    const input = rgb.map((v, k) => channelLight(c.curves, k * curveEntries, v)) as unknown as Triple
    return { input, output: subtract(subtract(xyz, black), scale(shared, Math.min(...input))) }
  }
  return fitMatrix(
    readings.map(({ rgb, xyz }) => sample(rgb, xyz)),
    sample([1, 1, 1], white),
  )
}

/**
 * A display characterized from a few readings and from what was known of it before: its curves and whatever is not
 * additive in it are taken over, its white, black and columns are those of the readings, and what the readings tell
 * besides is laid over it smoothly. Needs black and white among the readings; throws Error naming what is missing.
 */
export function characterizeAnew(before: Characterization, readings: readonly PatchReading[]): Characterization {
  const [white, black] = [readingOf(readings, [1, 1, 1]), readingOf(readings, [0, 0, 0])]
  if (!white || !black) throw new Error(`The readings hold no ${white ? 'black' : 'white'}.`)
  // The columns change by what the same fit finds in the readings and in what was foretold for the same colours.
  const foretold = readings.map((p) => ({ ...p, xyz: predictXyz(before, p.rgb) }))
  const was = columnsUnder(before, foretold, before.white, before.black)
  const is = columnsUnder(before, readings, white, black)
  const matrix = before.matrix.map((v, i) => {
    const [row, column] = [Math.floor(i / 3), i % 3]
    return v + is[row][column] / white[row] - was[row][column] / before.white[row]
  })
  return withFittedResidual(
    { ...before, white, black, matrix, relativeBlack: Float64Array.from(black, (v, k) => v / white[k]) },
    readings,
    true,
  )
}
