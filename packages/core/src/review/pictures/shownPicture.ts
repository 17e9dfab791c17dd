import { aimCurve, aimTargets, type ResolvedAim } from '../../aims/aim'
import { predictXyz, type Characterization } from '../../characterization/characterization'
import { bradfordMatrix } from '../../color/adaptation'
import { convertChromaticityToXyz, type XYZ } from '../../color/chromaticity'
import { matrixOfEncoding, standardWhites } from '../../color/encodings'
import { deltaE2000 } from '../../color/deltaE2000'
import { convertXyzToLab, type Lab } from '../../color/lab'
import { invert, multiply, multiplyVector, subtract, type Triple } from '../../color/matrix3'
import { tabulate3d, type Table3D } from '../../tables/table3d'
import { toneCurve } from '../../tone/toneResponse'
import { screenOfLab } from '../../color/cssOfLab'

/** How a display answers a signal (0–1): XYZ in cd/m². */
export type Shows = (signal: Triple) => XYZ

const srgb = toneCurve({ kind: 'sRGB' })
const d65 = convertChromaticityToXyz(standardWhites.D65)
const fromSrgb = matrixOfEncoding('sRGB')

/**
 * What a colour-managed program sends to a display whose slot is on its aim, for a picture in sRGB (codes 0–1): the
 * picture's colour, adapted from D65 to the aim's white, as the aim's signal. What the aim cannot show is clipped.
 */
export function signalForAim(aim: ResolvedAim): (picture: Triple) => Triple {
  const { encode } = aimCurve(aim)
  const whiteLight = subtract(aim.white, aim.black)
  const relative: XYZ = [aim.white[0] / aim.white[1], 1, aim.white[2] / aim.white[1]]
  const toAim = multiply(bradfordMatrix(d65, relative), fromSrgb)
  const back = invert(aim.matrix)
  return (picture) => {
    const light = multiplyVector(toAim, picture.map((v) => srgb.decode(v)) as unknown as Triple)
    return multiplyVector(back, light.map((v) => v * whiteLight[1]) as unknown as Triple).map((v) =>
      encode(v),
    ) as unknown as Triple
  }
}

/** The aim itself as a display that meets it. */
export const aimShows = (aim: ResolvedAim): Shows => aimTargets(aim)

/** A display as its readings describe it. */
export const displayShows =
  (c: Characterization): Shows =>
  (signal) =>
    predictXyz(c, signal)

/**
 * CIELAB of what a display shows for a picture's colour: under the aim's white at the display's own luminance, so that a
 * white that is off looks off, and brightness, to which the eye adapts, does not.
 */
export function seenLab(shows: Shows, aim: ResolvedAim): (picture: Triple) => Lab {
  const signal = signalForAim(aim)
  const own = shows([1, 1, 1])[1]
  const white: XYZ = [(aim.white[0] / aim.white[1]) * own, own, (aim.white[2] / aim.white[1]) * own]
  return (picture) => convertXyzToLab(shows(signal(picture)), white)
}

/** Nodes along each axis of the tables that pictures go through. */
const nodes = 33

/** A table from a picture's codes to the codes by which an sRGB screen shows what the display shows. */
export function seenTable(shows: Shows, aim: ResolvedAim, size = nodes): Table3D {
  const lab = seenLab(shows, aim)
  return tabulate3d(size, (picture) => screenOfLab(lab(picture)))
}

/** ΔE2000 between what two displays show for a picture's colour, at even places of the RGB cube; one number each. */
export function differenceTable(a: Shows, b: Shows, aim: ResolvedAim, size = nodes): Float64Array {
  const [first, second] = [seenLab(a, aim), seenLab(b, aim)]
  const table = tabulate3d(size, (picture) => {
    const d = deltaE2000(first(picture), second(picture))
    return [d, d, d]
  })
  return table.values.filter((_, i) => i % 3 === 0)
}

/** A table of single numbers over the RGB cube at a colour in codes of 8 bits, trilinear. */
export function scalarLookup(table: ArrayLike<number>, size: number): (r: number, g: number, b: number) => number {
  const top = size - 1
  const low = Int32Array.from({ length: 256 }, (_, v) => Math.min(top - 1, Math.floor((v * top) / 255)))
  const part = Float64Array.from({ length: 256 }, (_, v) => (v * top) / 255 - low[v])
  return (r, g, b) => {
    const at = (low[r] * size + low[g]) * size + low[b]
    const [x, y, z] = [part[r], part[g], part[b]]
    const along = (i: number) => table[i] + (table[i + 1] - table[i]) * z
    const plane = (i: number) => along(i) + (along(i + size) - along(i)) * y
    return plane(at) + (plane(at + size * size) - plane(at)) * x
  }
}
