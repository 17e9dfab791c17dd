import type { PatchReading } from '../color/patchReading'
import { scale, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { readingOf } from './additiveModel'
import { addResidual, channelColumns, channelLight, curveEntries, type Characterization } from './characterization'
import { overlaid, withoutResidual } from './characterize'
import { fitCoupledModel, type Expected, type LightModel } from './coupledModel'

/** What ages: light and tone, and hardly how drives couple; and signals at which the curves may be bent. */
const expected: Expected = { coupling: 2e-3, sag: 0.02, light: 0.3, knot: 0.02 }
const levels = [0.06, 0.15, 0.3, 0.5, 0.75]

/** Share of the squared error of what is left out that a display whose light was brought to readings must come below. */
const muchBetter = 0.5

/** The light of a characterized display whose white and black have become others, each row of its columns changed like white. */
function lightOf(c: Characterization, white: XYZ, black: XYZ): LightModel {
  const become = white.map((v, k) => v / c.white[k])
  const of = (k: 0 | 1 | 2) => (signal: number) => channelLight(c.curves, k * curveEntries, signal)
  const columns = channelColumns(c)
  return {
    ...{ white, black },
    matrix: [scale(columns[0], become[0]), scale(columns[1], become[1]), scale(columns[2], become[2])],
    curves: [of(0), of(1), of(2)],
    ...(c.shared.some((v) => v !== 0) && { shared: white.map((v, k) => v * c.shared[k]) as unknown as XYZ }),
    coupling: c.coupling,
    sag: [c.sag[0], c.sag[1], c.sag[2]],
  }
}

/**
 * A display characterized from a few readings and from what was known of it before. Where that foretells them much better, it
 * has become another: white and black are those of the readings, and its columns and curves are brought to them from where they
 * were. Else its light is what it was. What the readings tell besides is laid over it smoothly. Needs black and white among the
 * readings; throws Error naming what is missing.
 */
export function characterizeAnew(before: Characterization, readings: readonly PatchReading[]): Characterization {
  const [white, black] = [readingOf(readings, [1, 1, 1]), readingOf(readings, [0, 0, 0])]
  if (!white || !black) throw new Error(`The readings hold no ${white ? 'black' : 'white'}.`)
  const onTop = ([r, g, b]: Triple): Triple => {
    const out = new Float64Array(3)
    addResidual(before.residual, r, g, b, out)
    return [out[0], out[1], out[2]]
  }
  const now = fitCoupledModel({ start: lightOf(before, white, black), readings, levels, onTop, expected })
  const { residual, kernel } = before
  const brought = { ...withoutResidual(now), residual, kernel, readings: readings.length }
  const [kept, moved] = [overlaid(before, readings), overlaid(brought, readings)]
  return (moved.error < muchBetter * kept.error ? moved : kept).laid()
}
