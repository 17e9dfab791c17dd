import { aimTargets, resolveAim, type Aim, type ResolvedAim } from '../aims/aim'
import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { convertXyzToLab } from '../color/lab'
import { invert, multiplyVector, scale, subtract } from '../color/matrix3'
import { levelGreys, roughnessOf, smoothTable3d, type Table3D } from '../tables/table3d'
import { codeOfSignal, signalOfCode, type SignalRange } from '../tables/signalRange'
import { channelColumns, type Characterization } from './characterization'
import { makeInverter } from './inversion'

/** An aim made to fit a characterized display, and how bright the display can be at the aim's white. */
export interface FittedAim {
  readonly aim: ResolvedAim
  /** The largest luminance at the aim's white, cd/m². */
  readonly reachable: number
}

/**
 * Fills an aim in from a characterized display. A luminance that the display cannot reach at the aim's white becomes the
 * largest that it can.
 */
export function fitAim(aim: Aim, c: Characterization): FittedAim {
  const columns = channelColumns(c)
  const column = (k: 0 | 1 | 2): XYZ => [columns[0][k], columns[1][k], columns[2][k]]
  const panel = {
    white: convertXyzToChromaticity(c.white),
    black: c.black,
    primaries: {
      red: convertXyzToChromaticity(column(0)),
      green: convertXyzToChromaticity(column(1)),
      blue: convertXyzToChromaticity(column(2)),
    },
  }
  const wanted = resolveAim(aim, panel)
  const back = invert(columns)
  /** The largest channel that a luminance at the aim's white needs. */
  const needed = (luminance: number) =>
    Math.max(...multiplyVector(back, subtract(scale(wanted.white, luminance / wanted.white[1]), c.black)))
  const [at0, at1] = [needed(0), needed(1)]
  const reachable = (1 - at0) / (at1 - at0)
  // Crosstalk can take a little from what the additive part promises.
  const luminance = Math.min(aim.luminance, reachable * 0.999)
  return { aim: luminance < aim.luminance ? resolveAim({ ...aim, luminance }, panel) : wanted, reachable }
}

export interface Table3dOptions {
  /** Nodes along each axis, 9–65. */
  readonly size: number
  readonly range?: SignalRange
  /** Bits of the code values, for a limited range: 8, 10, 12 or 16. */
  readonly bits?: number
}

/** How far a node may stand from the mean of its neighbours, in steps of the grid. */
const roughest = 1.5

/**
 * A 3D table that brings a characterized display to an aim: signal in, signal for the display out. Colours that the
 * display cannot show go to the nearest that it can, hue kept. Greys never step back, and no node stands further than
 * 1.5 steps of the grid from the mean of its neighbours. Throws RangeError on a size outside 9–65.
 */
export function buildTable3d(
  c: Characterization,
  aim: ResolvedAim,
  { size, range = 'full', bits = 10 }: Table3dOptions,
): Table3D {
  if (!(Number.isInteger(size) && size >= 9 && size <= 65))
    throw new RangeError('A 3D table has 9 to 65 nodes along each axis.')
  const target = aimTargets(aim)
  const { intoSignal } = makeInverter(c)
  const values = new Float64Array(3 * size ** 3)
  const signals = Array.from({ length: size }, (_, i) => signalOfCode(i / (size - 1), range, bits))
  const inside = signals.map((s) => Math.min(1, Math.max(0, s)))
  const found = new Float64Array(3)
  for (let i = 0, at = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++, at += 3) {
        const [L, a, b] = convertXyzToLab(target([inside[i], inside[j], inside[k]]), c.white)
        intoSignal(L, a, b, found)
        // Below black and above white the table goes on straight, so that both ends fall where they should.
        const beyond = [signals[i] - inside[i], signals[j] - inside[j], signals[k] - inside[k]]
        for (let q = 0; q < 3; q++)
          values[at + q] = Math.min(1, Math.max(0, codeOfSignal(found[q] + beyond[q], range, bits)))
      }
  const levelled = levelGreys({ size, values })
  const bound = roughest / (size - 1)
  return roughnessOf(levelled) <= bound ? levelled : levelGreys(smoothTable3d(levelled, bound))
}
