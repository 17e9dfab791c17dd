import { convertChromaticityToXyz } from '../../color/chromaticity'
import { matrixOfPrimaries, standardPrimaries, standardWhites } from '../../color/encodings'
import { convertXyzToLab } from '../../color/lab'
import { add, multiplyVector, scale, type Triple } from '../../color/matrix3'
import { uniformFrom } from '../../basics/random'

const white = convertChromaticityToXyz(standardWhites.D65)
const matrix = matrixOfPrimaries(standardPrimaries.sRGB, white)
/** Black of a nominal display, as a share of white: without it the darkest colours would lie endlessly far apart. */
const nominalBlack = 0.001

/** CIELAB of a signal on a nominal display. */
const nominalLab = (rgb: Triple) =>
  convertXyzToLab(
    add(
      scale(multiplyVector(matrix, rgb.map((v) => v ** 2.2) as unknown as Triple), 1 - nominalBlack),
      scale(white, nominalBlack),
    ),
    white,
  )

const fewestCandidates = 2000
const candidatesPerColor = 12

/**
 * Colours (signals 0–1) spread through the colour space as a nominal display shows it, none near another or near those
 * that are there already: one candidate after another is taken that lies furthest from all taken so far. The same for
 * the same seed. T. F. Gonzalez, Theoretical Computer Science 38, 1985.
 */
export function spaceFillingColors(count: number, seed: number, existing: readonly Triple[] = []): Triple[] {
  const random = uniformFrom(seed)
  const some = () => Math.round(random() * 1023) / 1023
  const candidates: Triple[] = Array.from(
    { length: Math.max(fewestCandidates, candidatesPerColor * count) },
    (): Triple => [some(), some(), some()],
  )
  const labs = new Float64Array(3 * candidates.length)
  candidates.forEach((rgb, i) => labs.set(nominalLab(rgb), 3 * i))
  const nearest = new Float64Array(candidates.length).fill(Infinity)
  const take = (lab: ArrayLike<number>, from = 0) => {
    for (let i = 0, p = 0; i < nearest.length; i++, p += 3) {
      const [dl, da, db] = [labs[p] - lab[from], labs[p + 1] - lab[from + 1], labs[p + 2] - lab[from + 2]]
      nearest[i] = Math.min(nearest[i], dl * dl + da * da + db * db)
    }
  }
  existing.forEach((rgb) => take(nominalLab(rgb)))
  return Array.from({ length: count }, () => {
    let furthest = 0
    for (let i = 1; i < nearest.length; i++) if (nearest[i] > nearest[furthest]) furthest = i
    take(labs, 3 * furthest)
    return candidates[furthest]
  })
}
