import {
  convertChromaticityToUv,
  convertChromaticityToXyz,
  convertUvToChromaticity,
  type Chromaticity,
  type UvPrime,
  type XYZ,
} from '../color/chromaticity'
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
import { hlgSystemGamma } from '../tone/hlg'
import { toneCurve, type ToneResponse } from '../tone/toneResponse'

export type AimWhite =
  | { readonly kind: 'standard'; readonly name: StandardWhite }
  | { readonly kind: 'xy'; readonly x: number; readonly y: number }
  | { readonly kind: 'temperature'; readonly kelvin: number }
  | { readonly kind: 'panel' }
  | ByEyeWhite

/** A white that several displays can be brought to: the panel’s own is each one’s other. */
export type SharedWhite = Exclude<AimWhite, { kind: 'panel' | 'by eye' }>

/** Another white, moved in u′v′ by as much as a person found that it has to be to look like a neighbour’s. */
export interface ByEyeWhite {
  readonly kind: 'by eye'
  readonly of: SharedWhite
  readonly u: number
  readonly v: number
}

export type AimPrimaries =
  | { readonly kind: 'standard'; readonly name: StandardPrimaries }
  | { readonly kind: 'panel' }
  | ({ readonly kind: 'xy' } & Primaries)

/**
 * The black an aim asks for: the panel's own, the panel's own times a factor (1 or more), or a luminance in cd/m². Less
 * than the panel has cannot be met, so a fixed black below it becomes the panel's own.
 */
export type AimBlack =
  | { readonly kind: 'panel' }
  | { readonly kind: 'relative'; readonly factor: number }
  | { readonly kind: 'fixed'; readonly luminance: number }

/** What one slot shall reach. */
export interface Aim {
  readonly white: AimWhite
  /** cd/m²; the least that will do for an aim that is as bright as it goes. */
  readonly luminance: number
  /** As bright as the display goes at its white. A run then puts the luminance that it found in place of the least. */
  readonly asBright?: boolean
  /**
   * As bright as paper under the light that is agreed on for the display's room; `luminance` is then the least. A run puts
   * what follows in its place.
   */
  readonly fromRoom?: boolean
  readonly toneResponse: ToneResponse
  readonly primaries: AimPrimaries
  /** The panel's own when left out. */
  readonly black?: AimBlack
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
  /** The rule that made `black`, when it was not simply the panel's own. */
  readonly blackRule?: AimBlack
}

/** A white moved in u′v′. */
export function movedWhite(white: Chromaticity, by: UvPrime): Chromaticity {
  const { u, v } = convertChromaticityToUv(white)
  return convertUvToChromaticity({ u: u + by.u, v: v + by.v })
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
    case 'by eye':
      return movedWhite(whiteChromaticity(white.of, panelWhite), white)
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
  return fill(white, panel.black, primaries, aim.toneResponse, aim.black)
}

/** The panel's black with so much of the aim's white added that the rule is met. */
function liftedBlack(panelBlack: XYZ, white: XYZ, rule: AimBlack): XYZ {
  if (rule.kind === 'panel') return panelBlack
  const wanted = rule.kind === 'fixed' ? rule.luminance : rule.factor * panelBlack[1]
  return add(panelBlack, scale(white, Math.max(0, wanted - panelBlack[1]) / white[1]))
}

function fill(
  white: XYZ,
  panelBlack: XYZ,
  primaries: Primaries,
  toneResponse: ToneResponse,
  blackRule: AimBlack = { kind: 'panel' },
): ResolvedAim {
  const black = liftedBlack(panelBlack, white, blackRule)
  const matrix = matrixOfPrimaries(primaries, subtract(white, black))
  const { red, green, blue } = primaries
  // Those that an aim brings itself say what kind they are of; that is its own affair.
  const resolved = { white, black, primaries: { red, green, blue }, toneResponse, matrix }
  return blackRule.kind === 'panel' ? resolved : { ...resolved, blackRule }
}

/**
 * The same aim at another luminance and on a panel of another black (cd/m²): what a display is judged by, so that colour
 * differences tell colour and tone, and luminance is told by its own figure. A black that the aim asks for stays.
 */
export function aimAtLuminance(aim: ResolvedAim, luminance: number, black: XYZ): ResolvedAim {
  const white = scale(aim.white, luminance / aim.white[1])
  if (!aim.blackRule) return fill(white, black, aim.primaries, aim.toneResponse)
  return { ...fill(white, aim.black, aim.primaries, aim.toneResponse), blackRule: aim.blackRule }
}

/** The light above black, 0–1, that an aim asks for at a signal of one channel. */
export const aimCurve = (aim: ResolvedAim) =>
  toneCurve(aim.toneResponse, { blackRatio: aim.black[1] / aim.white[1], peak: aim.white[1] })

/**
 * A function from signal (0–1) to the XYZ in cd/m² that an aim asks for; make it once for many signals. HLG's system
 * gamma acts on the luminance of a colour as a whole (ITU-R BT.2100-2 table 5), every other response on each channel.
 */
export function aimTargets(aim: ResolvedAim): (signal: Triple) => XYZ {
  const { decode } = aimCurve(aim)
  const of = (light: Triple) => add(aim.black, multiplyVector(aim.matrix, light))
  if (aim.toneResponse.kind !== 'HLG') return ([r, g, b]) => of([decode(r), decode(g), decode(b)])
  const gamma = hlgSystemGamma(aim.white[1])
  const weights = scale(aim.matrix[1], 1 / (aim.white[1] - aim.black[1]))
  return (signal) => {
    // A grey's light is E^γ, so that E comes back from the grey curve with the black's lift in it.
    const scene = signal.map((v) => decode(v) ** (1 / gamma)) as unknown as Triple
    const luminance = scene[0] * weights[0] + scene[1] * weights[1] + scene[2] * weights[2]
    return of(scale(scene, luminance > 0 ? luminance ** (gamma - 1) : 0))
  }
}

/** XYZ in cd/m² that an aim asks for at a signal (0–1). */
export const targetXyz = (aim: ResolvedAim, signal: Triple): XYZ => aimTargets(aim)(signal)
