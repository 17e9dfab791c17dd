import { aimTargets, type ResolvedAim } from '../aims/aim'
import { predictXyz, type Characterization } from '../characterization/characterization'
import { convertChromaticityToXyz, type XYZ } from '../color/chromaticity'
import { encodings, matrixOfEncoding, standardWhites, type StandardPrimaries } from '../color/encodings'
import type { Lab } from '../color/lab'
import { multiplyVector, type Triple } from '../color/matrix3'
import { screenOfLab } from '../color/cssOfLab'
import { adaptLab } from './gamutOf'
import { hueSectors, lightnessSlices, solidOfSurface, tessellate, type GamutSolid } from './gamutSolid'

/** The surface of a gamut for drawing: triangles of corners in CIELAB (nine numbers each) and their screen colours 0–1. */
export interface GamutSurface {
  readonly corners: Float64Array
  readonly colors: Float64Array
  readonly solid: GamutSolid
}

/** Squares along each edge of a face: fine enough to look smooth, few enough to turn at once. */
const squares = 20

/** The surface of whatever maps signals to CIELAB (under D50). */
function surfaceOf(labOf: (rgb: Triple) => Lab): GamutSurface {
  const corners = tessellate(labOf, squares)
  const colors = new Float64Array(corners.length)
  for (let i = 0; i < corners.length; i += 3) colors.set(screenOfLab([corners[i], corners[i + 1], corners[i + 2]]), i)
  return { corners, colors, solid: solidOfSurface(corners) }
}

/** What a display shows, its black included. */
export function surfaceOfDisplay(c: Characterization): GamutSurface {
  const toLab = adaptLab(c.white)
  return surfaceOf((rgb) => toLab(predictXyz(c, rgb)))
}

/** What an aim asks for. */
export function surfaceOfAim(aim: ResolvedAim): GamutSurface {
  const toLab = adaptLab(aim.white)
  const targets = aimTargets(aim)
  return surfaceOf((rgb) => toLab(targets(rgb)))
}

/** A standard encoding, black at zero. */
export function surfaceOfEncoding(name: StandardPrimaries): GamutSurface {
  const white: XYZ = convertChromaticityToXyz(standardWhites[encodings[name].white])
  const toLab = adaptLab(white)
  const matrix = matrixOfEncoding(name)
  return surfaceOf((rgb) => toLab(multiplyVector(matrix, rgb.map((v) => v ** 2.2) as unknown as Triple)))
}

/** How far a colour may stick out before it counts as outside, in chroma: less is hardly seen, and within what solids are coarse by. */
const slack = 3

/** The largest chroma that a solid has at a lightness and hue, or in the slices and sectors beside: near its tips it changes fast. */
function reachOf({ radius }: GamutSolid, lightness: number, hue: number): number {
  const slice = Math.floor(lightness)
  const sector = Math.floor(hue)
  let most = 0
  for (let i = Math.max(0, slice - 1); i <= Math.min(lightnessSlices - 1, slice + 1); i++)
    for (let j = sector - 1; j <= sector + 1; j++)
      most = Math.max(most, radius[i * hueSectors + ((j + hueSectors) % hueSectors)])
  return most
}

/** Whether a CIELAB colour lies outside a solid by more than is coarse about it. */
export function isOutside(solid: GamutSolid, [L, a, b]: Lab): boolean {
  const hue = ((Math.atan2(b, a) / (2 * Math.PI)) * hueSectors + hueSectors) % hueSectors
  return Math.hypot(a, b) > reachOf(solid, Math.min(lightnessSlices - 0.5, Math.max(0, L)), hue) + slack
}

/** The triangles of a surface of which a corner lies outside a solid: nine numbers each. */
export function trianglesOutside({ corners }: GamutSurface, solid: GamutSolid): Float64Array {
  const kept: number[] = []
  for (let t = 0; t < corners.length; t += 9) {
    const outside = [0, 3, 6].some((k) => isOutside(solid, [corners[t + k], corners[t + k + 1], corners[t + k + 2]]))
    if (outside) for (let k = 0; k < 9; k++) kept.push(corners[t + k])
  }
  return Float64Array.from(kept)
}
