import type { Aim, AimWhite } from '../aims/aim'
import type { Primaries } from '../color/encodings'
import { comparePrimaries } from '../color/planarGamut'
import type { ToneResponse } from '../tone/toneResponse'
import type { CommonGround } from './commonGround'

/** What was adopted as the ground of a set. */
export interface AdoptedGround extends Pick<CommonGround, 'luminance' | 'primaries' | 'standard'> {
  /** Black that all are lifted to, cd/m²; null where each keeps its own. */
  readonly black: number | null
}

/** How much more a set's ground may come to be before it is told: light and gamut, as shares. */
const worthMore = 0.05
/** What measuring again changes by itself: light and black as shares, coverage in %. */
const alike = { light: 0.01, black: 0.1, coverage: 99 }

/** In what a set's ground is not any more what was adopted. */
export const groundMoves = ['less light', 'less gamut', 'more black', 'more light', 'more gamut', 'none'] as const
export type GroundMove = (typeof groundMoves)[number]

/** A luminance that is no more than the ground's, as an aim tells it: whole cd/m², tenths where it is dim. */
export const roundedLight = (luminance: number): number =>
  luminance >= 20 ? Math.floor(luminance) : Math.floor(luminance * 10) / 10

/** A black that is no less than the ground's, in two digits; 0 where there is none. */
export function roundedBlack(black: number): number {
  if (!(black > 0)) return 0
  const unit = 10 ** (Math.floor(Math.log10(black)) - 1)
  return Number((Math.ceil(black / unit - 1e-9) * unit).toPrecision(2))
}

/** The aim that is a set's common ground. */
export function aimOfGround(
  ground: AdoptedGround,
  { white, toneResponse }: { readonly white: AimWhite; readonly toneResponse: ToneResponse },
): Aim {
  const { red, green, blue } = ground.primaries
  const black = ground.black === null ? 0 : roundedBlack(ground.black)
  return {
    white,
    luminance: roundedLight(ground.luminance),
    toneResponse,
    primaries: ground.standard
      ? { kind: 'standard', name: ground.standard }
      : { kind: 'xy', red: rounded(red), green: rounded(green), blue: rounded(blue) },
    ...(black > 0 && { black: { kind: 'fixed', luminance: black } }),
  }
}

const rounded = ({ x, y }: { readonly x: number; readonly y: number }) => ({
  x: Math.round(x * 1e5) / 1e5,
  y: Math.round(y * 1e5) / 1e5,
})

/**
 * How a set's ground has moved since it was adopted; `now` null where there is none any more. Less is told as soon as it is
 * more than measuring again changes by itself; more when it is worth calibrating anew.
 */
export function howGroundMoved(adopted: AdoptedGround, now: CommonGround | null): GroundMove[] {
  if (!now) return ['none']
  const share = (of: Primaries, by: Primaries) => comparePrimaries(by, of, 'uv').coverage
  const kept = share(adopted.primaries, now.primaries)
  const used = share(now.primaries, adopted.primaries)
  const light = now.luminance / adopted.luminance
  return [
    ...(light < 1 - alike.light ? (['less light'] as const) : []),
    ...(kept < alike.coverage ? (['less gamut'] as const) : []),
    ...(adopted.black !== null && now.black > adopted.black * (1 + alike.black) && now.black > 0
      ? (['more black'] as const)
      : []),
    ...(light > 1 + worthMore ? (['more light'] as const) : []),
    ...(kept >= alike.coverage && used < 100 * (1 - worthMore) ? (['more gamut'] as const) : []),
  ]
}
