import { unshareLight } from '../characterization/sharedLight'
import { convertChromaticityToXyz, convertXyzToChromaticity, type Chromaticity, type XYZ } from '../color/chromaticity'
import { matrixOfPrimaries, type Primaries } from '../color/encodings'
import { invert, multiplyVector, subtract, transpose, type Matrix3, type Triple } from '../color/matrix3'

/** The five readings that say how a raw panel mixes its light, cd/m². */
export interface RawCorners {
  readonly white: XYZ
  readonly black: XYZ
  readonly red: XYZ
  readonly green: XYZ
  readonly blue: XYZ
}

/** A raw panel's own primaries, its black taken off. Throws RangeError where one gives no light. */
export function primariesOfCorners({ black, red, green, blue }: RawCorners): Primaries {
  const of = (xyz: XYZ) => convertXyzToChromaticity(subtract(xyz, black))
  return { red: of(red), green: of(green), blue: of(blue) }
}

/**
 * The matrix from a raw panel's linear channel light (0–1 each) to XYZ above black in cd/m²: the primaries' directions,
 * scaled so that 1 1 1 gives the measured white. Throws RangeError when the primaries lie on one line.
 */
export function panelMatrix(corners: RawCorners): Matrix3 {
  const light = (xyz: XYZ) => subtract(xyz, corners.black)
  const columns = transpose([light(corners.red), light(corners.green), light(corners.blue)])
  const gains = multiplyVector(invert(columns), light(corners.white))
  return columns.map((row) => row.map((v, c) => v * gains[c])) as unknown as Matrix3
}

/** How much brighter the raw white must be than the aim, because correcting its colour takes light away. */
export interface Headroom {
  /** Raw white ÷ corrected white luminance, 1 or more. */
  readonly factor: number
  /** Linear channel weights of the corrected white, the largest 1. */
  readonly weights: Triple
}

/**
 * Headroom for bringing a raw panel's white to `white`, and for its colours to keep up where a white subpixel helps white but
 * not them; `primaries`: those of the aim, for the latter. Throws RangeError when the panel cannot make that white.
 */
export function headroomFor(corners: RawCorners, white: Chromaticity, primaries: Primaries): Headroom {
  const matrix = panelMatrix(corners)
  const mix = multiplyVector(invert(matrix), convertChromaticityToXyz(white))
  const most = Math.max(...mix)
  const weights = mix.map((w) => w / most) as unknown as Triple
  if (Math.min(...weights) <= 0.02)
    throw new RangeError(
      'The panel cannot mix the white of the aim from its primaries. Choose a white nearer to its own.',
    )
  const corrected = multiplyVector(matrix, weights)[1] + corners.black[1]
  const factor = corners.white[1] / corrected
  return {
    factor: sharesLight(corners) ? Math.max(factor, colourHeadroom(corners, white, primaries)) : factor,
    weights,
  }
}

/** The corners of an aim's cube but black. */
const aimCorners: readonly Triple[] = [
  [1, 1, 1],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [0, 1, 1],
  [1, 0, 1],
  [1, 1, 0],
]

/**
 * Raw white ÷ aim's white in luminance at which each colour of the aim finds its channels: a channel of a display whose white
 * subpixel shines with the least of the three is the limit for colours long before it is for white. What lies out of the
 * panel's gamut is taken to be brought to its edge.
 */
function colourHeadroom(corners: RawCorners, white: Chromaticity, primaries: Primaries): number {
  const above = (xyz: XYZ) => subtract(xyz, corners.black)
  const columns = [above(corners.red), above(corners.green), above(corners.blue)] as const
  const back = invert(transpose([...columns]))
  const shared = [0, 1, 2].map((k) => above(corners.white)[k] - columns[0][k] - columns[1][k] - columns[2][k])
  const sharedBack = multiplyVector(back, shared as unknown as XYZ)
  if (Math.min(...sharedBack) <= -1) return 1 / additivityOf(corners)
  const aim = matrixOfPrimaries(primaries, convertChromaticityToXyz(white))
  const drives = aimCorners.map((corner) => Math.max(...unshareLight(back, sharedBack, multiplyVector(aim, corner))))
  return corners.white[1] * Math.max(...drives)
}

/** Additivity from which a display's white counts as the sum of its primaries: crosstalk and the supply take a little. */
const nearlyAdditive = 0.88

/**
 * Luminance of red, green and blue together, above black, as a share of white's: about 1, and well below it where a white
 * subpixel helps white but not the colours. Such a panel must be brighter, for its colours to keep up with its white.
 */
export function additivityOf({ white, black, red, green, blue }: RawCorners): number {
  return (red[1] + green[1] + blue[1] - 3 * black[1]) / (white[1] - black[1])
}

/** Whether white is helped by a white subpixel that its colours lack. */
export const sharesLight = (corners: RawCorners): boolean => additivityOf(corners) < nearlyAdditive

/** One try of the backlight control. */
export interface LevelTry {
  /** Setting of the control. */
  readonly control: number
  /** Luminance of the raw white at it, cd/m². */
  readonly luminance: number
}

export type LevelStep =
  | { readonly kind: 'try'; readonly control: number }
  | { readonly kind: 'settled'; readonly at: LevelTry; readonly asLow: boolean }
  | { readonly kind: 'unreachable'; readonly most: LevelTry }

/** Readings after which the search takes the best it has. */
const mostTries = 10
/** How far above the goal is as good as at it. */
const near = 1.008

/**
 * The next move of the search for the lowest whole setting whose luminance is not below `goal` (cd/m²). A display is
 * never left below: the tables can only take light away. Assumes that luminance rises with the control.
 */
export function nextLevelStep(
  tries: readonly LevelTry[],
  goal: number,
  range: { min: number; max: number },
): LevelStep {
  const above = tries.filter((t) => t.luminance >= goal).sort((a, b) => a.control - b.control)[0]
  const below = tries.filter((t) => t.luminance < goal).sort((a, b) => b.control - a.control)[0]
  if (above && (above.luminance <= goal * near || above.control <= range.min || tries.length >= mostTries))
    return { kind: 'settled', at: above, asLow: above.control <= range.min && above.luminance > goal * near }
  if (above && below && above.control - below.control <= 1) return { kind: 'settled', at: above, asLow: false }
  if (!above && below && below.control >= range.max) return { kind: 'unreachable', most: below }

  const from = below ?? { control: range.min - 1, luminance: 0 }
  const to = above ?? null
  const guess = to
    ? from.control + ((goal - from.luminance) / (to.luminance - from.luminance)) * (to.control - from.control)
    : tries.length < 2
      ? from.control * (goal / Math.max(from.luminance, 1e-6))
      : range.max
  const lowest = below ? below.control + 1 : range.min
  const highest = above ? above.control - 1 : range.max
  return { kind: 'try', control: Math.min(highest, Math.max(lowest, Math.ceil(guess))) }
}

/** What hands should do with the brightness. */
export type Turn = 'up' | 'down' | 'hold' | 'done'

/**
 * What to turn, from the luminances read so far (newest last) and the band they are to rest in: up below it, down above
 * it, hold inside it, and done once so many readings in a row lay inside and the light held still. Where the buttons' steps
 * leap over the band, the lowest light above it will do, once a step down from there was seen to be too little.
 */
export function turnOf(
  luminances: readonly number[],
  { from, to, steady }: { from: number; to: number; steady: number },
): Turn {
  const newest = luminances[luminances.length - 1]
  if (newest < from) return 'up'
  const top = Math.max(to, nearestAbove(luminances, from) * stillShare)
  if (newest > top) return 'down'
  const last = luminances.slice(-steady)
  const rests = last.length === steady && last.every((l) => l >= from && l <= top)
  return rests && Math.max(...last) <= Math.min(...last) * stillShare ? 'done' : 'hold'
}

/** Shares that readings of one setting are apart by at most; less where only a word says that it goes no further, for small steps of a button are no end. */
const apart = { bySetting: 0.01, byWord: 0.003 }

/**
 * Whether hands have come to the end of the brightness: the light rested over the newest readings, and either the display
 * tells that its setting is at the end (`atEnd`), or somebody said so (`said`: what the gauge asked for when “Go on” was
 * pressed since the reading before; null when it was not). A word while nothing, or the other way, was asked for does not
 * say it.
 */
export function goesNoFurther(
  luminances: readonly number[],
  turn: Turn,
  { said, atEnd, steady }: { said: Turn | null; atEnd: boolean; steady: number },
): boolean {
  if (turn !== 'up' && turn !== 'down') return false
  const newest = luminances.slice(-steady)
  const rests = (within: number) =>
    newest.length === steady && Math.max(...newest) <= (1 + within) * Math.min(...newest)
  return (atEnd && rests(apart.bySetting)) || (said === turn && rests(apart.byWord))
}

/** Readings of one setting differ by less than this, by noise and warmth. */
const stillShare = 1.006

/** The lowest luminance at or above a goal from which a later reading fell below it; 0 when none did. */
function nearestAbove(luminances: readonly number[], from: number): number {
  const fell = luminances.findLastIndex((l, i) => l < from && luminances[i - 1] >= from)
  const above = luminances.slice(0, Math.max(0, fell)).filter((l) => l >= from)
  return above.length ? Math.min(...above) : 0
}
