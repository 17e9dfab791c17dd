import { convertChromaticityToXyz, type Chromaticity, type XYZ } from '../color/chromaticity'
import {
  matrixOfPrimaries,
  standardPrimaries,
  standardWhites,
  type Primaries,
  type StandardPrimaries,
  type StandardWhite,
} from '../color/encodings'
import { add, multiplyVector, scale, subtract, type Matrix3, type Triple } from '../color/matrix3'
import { whiteOfTemperature } from '../color/temperature'
import { toneCurve, type ToneResponse } from '../tone/toneResponse'

export type AimWhite =
  | { readonly kind: 'standard'; readonly name: StandardWhite }
  | { readonly kind: 'xy'; readonly x: number; readonly y: number }
  | { readonly kind: 'temperature'; readonly kelvin: number }
  | { readonly kind: 'panel' }

export type AimPrimaries =
  | { readonly kind: 'standard'; readonly name: StandardPrimaries }
  | { readonly kind: 'panel' }
  | ({ readonly kind: 'xy' } & Primaries)

/** What one slot shall reach. Black is always the panel's own: asking for less than it has cannot be met. */
export interface Aim {
  readonly white: AimWhite
  /** cd/m² */
  readonly luminance: number
  readonly toneResponse: ToneResponse
  readonly primaries: AimPrimaries
}

/** What an aim has to be told about the panel, all measured. */
export interface PanelFacts {
  readonly white: Chromaticity
  readonly primaries: Primaries
  /** cd/m² */
  readonly black: XYZ
}

/** An aim with every "panel's own" filled in: it says which XYZ each signal shall have. */
export interface ResolvedAim {
  /** cd/m² */
  readonly white: XYZ
  /** cd/m² */
  readonly black: XYZ
  /** Linear RGB above black (0–1) → XYZ above black, cd/m². */
  readonly matrix: Matrix3
  readonly primaries: Primaries
  readonly toneResponse: ToneResponse
}

/** The chromaticity that an aim's white asks for. */
export function whiteChromaticity(white: AimWhite, panelWhite: Chromaticity): Chromaticity {
  switch (white.kind) {
    case 'standard':
      return standardWhites[white.name]
    case 'xy':
      return { x: white.x, y: white.y }
    case 'temperature':
      return whiteOfTemperature(white.kelvin)
    case 'panel':
      return panelWhite
  }
}

/** Fills an aim in for a panel. Throws RangeError when the primaries lie on one line. */
export function resolveAim(aim: Aim, panel: PanelFacts): ResolvedAim {
  const white = convertChromaticityToXyz(whiteChromaticity(aim.white, panel.white), aim.luminance)
  const primaries =
    aim.primaries.kind === 'standard'
      ? standardPrimaries[aim.primaries.name]
      : aim.primaries.kind === 'panel'
        ? panel.primaries
        : aim.primaries
  return fill(white, panel.black, primaries, aim.toneResponse)
}

const fill = (white: XYZ, black: XYZ, primaries: Primaries, toneResponse: ToneResponse): ResolvedAim => ({
  white,
  black,
  primaries,
  toneResponse,
  matrix: matrixOfPrimaries(primaries, subtract(white, black)),
})

/**
 * The same aim at another luminance and black (cd/m²): what a display is judged by, so that colour differences tell
 * colour and tone, and luminance is told by its own figure.
 */
export const aimAtLuminance = (aim: ResolvedAim, luminance: number, black: XYZ): ResolvedAim =>
  fill(scale(aim.white, luminance / aim.white[1]), black, aim.primaries, aim.toneResponse)

/** The light above black, 0–1, that an aim asks for at a signal of one channel. */
export const aimCurve = (aim: ResolvedAim) => toneCurve(aim.toneResponse, aim.black[1] / aim.white[1])

/** XYZ in cd/m² that an aim asks for at a signal (0–1). */
export function targetXyz(aim: ResolvedAim, signal: Triple): XYZ {
  const curve = aimCurve(aim)
  return add(aim.black, multiplyVector(aim.matrix, signal.map(curve.decode) as unknown as Triple))
}
