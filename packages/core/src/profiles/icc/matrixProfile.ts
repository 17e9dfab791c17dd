import type { XYZ } from '../../color/chromaticity'
import { bradfordMatrix } from '../../color/adaptation'
import { pcsWhite } from '../../color/encodings'
import { multiply, transpose, type Matrix3 } from '../../color/matrix3'
import type { MatrixModel } from '../../characterization/matrixModel'
import { tableCurve } from './curves'
import { xyzTag } from './tags'
import { assembleProfile, commonTags, type ProfileFacts, type TagData } from './writeIcc'

/** Entries of each tone curve in the profiles we write. */
const profileCurveEntries = 1024

/** The linear Bradford matrix from a display's white (cd/m²) to the connection space's D50. */
export const adaptationOf = (white: XYZ): Matrix3 =>
  bradfordMatrix([white[0] / white[1], 1, white[2] / white[1]], pcsWhite)

/** Colorants adapted to D50, and curves. ICC.1:2022 §8.4.3. */
export function matrixTags(model: MatrixModel): TagData[] {
  const relative = model.matrix.map((row) => row.map((v) => v / model.white[1])) as unknown as Matrix3
  const colorants = transpose(multiply(adaptationOf(model.white), relative))
  const curve = (c: number) => tableCurve(model.curves[c], profileCurveEntries)
  return [
    ['rXYZ', xyzTag(colorants[0])],
    ['gXYZ', xyzTag(colorants[1])],
    ['bXYZ', xyzTag(colorants[2])],
    ['rTRC', curve(0)],
    ['gTRC', curve(1)],
    ['bTRC', curve(2)],
  ]
}

/**
 * An ICC.1 display profile of matrix-and-curve kind from a fitted model, version 4.4 or 2.4: colorants adapted to D50 by
 * linear Bradford, `chad` with that matrix, `lumi` in cd/m². ICC.1:2022 §8.4.3, §9.
 */
export const writeMatrixProfile = (model: MatrixModel, facts: ProfileFacts): Uint8Array =>
  assembleProfile(facts, 'XYZ ', [...commonTags(facts, model.white, adaptationOf(model.white)), ...matrixTags(model)])
