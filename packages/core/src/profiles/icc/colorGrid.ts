import { predictLabInto, type Characterization } from '../../characterization/characterization'
import type { XYZ } from '../../color/chromaticity'
import { pcsWhite } from '../../color/encodings'
import { convertLabToXyz, convertXyzToLab } from '../../color/lab'
import { multiplyVector, type Matrix3, type Triple } from '../../color/matrix3'
import { placeOnRising } from '../../tables/table1d'
import { curveEntries } from './tableLayout'

/** A white with luminance 1. */
export const relative = (white: XYZ): Triple => [white[0] / white[1], 1, white[2] / white[1]]

/** CIELAB under D50 at every combination of signals along the axes, red slowest; `adapt` brings the display's white to D50. */
export function gridOfColors(c: Characterization, axes: readonly Float64Array[], adapt: Matrix3): Float64Array {
  const [red, green, blue] = axes
  const labs = new Float64Array(3 * red.length * green.length * blue.length)
  const lab = new Float64Array(3)
  const white = relative(c.white)
  let at = 0
  for (const r of red)
    for (const g of green)
      for (const b of blue) {
        predictLabInto(c, r, g, b, lab)
        const xyz = convertLabToXyz([lab[0], lab[1], lab[2]], white)
        labs.set(convertXyzToLab(multiplyVector(adapt, xyz), pcsWhite), at)
        at += 3
      }
  return labs
}

/** The inverse of a rising function on 0–1, through a fine table of it. */
export function invertTable(of: (x: number) => number): (y: number) => number {
  const values = Float64Array.from({ length: curveEntries + 1 }, (_, i) => of(i / curveEntries))
  return (y) => placeOnRising(values, y)
}

/** Even places 0–1. */
export const evenly = (count: number) => Float64Array.from({ length: count }, (_, i) => i / (count - 1))
