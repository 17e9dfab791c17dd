import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { standardPrimaries, type Primaries } from '../color/encodings'
import { subtract, type Triple } from '../color/matrix3'
import { readingOf } from './additiveModel'
import type { AimPrimaries, PanelFacts } from '../aims/aim'
import type { PatchReading } from '../color/patchReading'

const hues = { red: [1, 0, 0], green: [0, 1, 0], blue: [0, 0, 1] } as const

/**
 * What readings tell of a panel's own white, black and primaries. A black that was not read counts as none; primaries
 * that were not read are those of the aim, unless it asks for the panel's own. Throws Error naming what is missing.
 */
export function panelFactsOf(readings: readonly PatchReading[], asked: AimPrimaries): PanelFacts {
  const white = readingOf(readings, [1, 1, 1])
  if (!white)
    throw new Error('The readings hold no white (full red, green and blue), so nothing can be told of the panel.')
  const black: XYZ = readingOf(readings, [0, 0, 0]) ?? [0, 0, 0]
  const chromaticity = (rgb: Triple) => {
    const xyz = readingOf(readings, rgb)
    return xyz && convertXyzToChromaticity(subtract(xyz, black))
  }
  const [red, green, blue] = [chromaticity(hues.red), chromaticity(hues.green), chromaticity(hues.blue)]
  const read = red && green && blue ? { red, green, blue } : null
  if (!read && asked.kind === 'panel')
    throw new Error('The aim asks for the panel’s own primaries, but the readings hold no full red, green and blue.')
  const known = asked.kind === 'standard' ? standardPrimaries[asked.name] : asked
  return { white: convertXyzToChromaticity(white), black, primaries: read ?? (known as Primaries) }
}
