import { resolveAim, type Aim, type ResolvedAim } from '../aims/aim'
import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { invert, multiplyVector, scale, subtract } from '../color/matrix3'
import { channelColumns, type Characterization } from './characterization'

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
