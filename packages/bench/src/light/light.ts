import type { XYZ } from '@bichroma/core/color'
import { xyzOfSpectrum, type Spectrum } from './spectrum'

/** Light as parts: a few spectra that never change, and how much of each is there now. */
export interface Light {
  readonly spectra: readonly Spectrum[]
  readonly weights: ArrayLike<number>
}

/** Something that makes three numbers of a spectrum, linearly; what it makes of each spectrum is worked out once. */
export function makeDetector(responseTo: (spectrum: Spectrum) => XYZ): (light: Light) => XYZ {
  const known = new WeakMap<Spectrum, XYZ>()
  const responseOf = (spectrum: Spectrum): XYZ => {
    let found = known.get(spectrum)
    if (!found) known.set(spectrum, (found = responseTo(spectrum)))
    return found
  }
  return ({ spectra, weights }) => {
    let [x, y, z] = [0, 0, 0]
    for (let i = 0; i < spectra.length; i++) {
      const response = responseOf(spectra[i])
      x += weights[i] * response[0]
      y += weights[i] * response[1]
      z += weights[i] * response[2]
    }
    return [x, y, z]
  }
}

/** XYZ of light in cd/m², as the CIE 1931 observer defines it: the truth of the bench. */
export const xyzOfLight = makeDetector(xyzOfSpectrum)

/** Light of both at once. */
export const addLight = (a: Light, b: Light): Light => ({
  spectra: [...a.spectra, ...b.spectra],
  weights: [...Array.from(a.weights), ...Array.from(b.weights)],
})

/** The same light, stronger or weaker. */
export const scaleLight = ({ spectra, weights }: Light, by: number): Light => ({
  spectra,
  weights: Array.from(weights, (w) => w * by),
})
