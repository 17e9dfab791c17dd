import {
  convertChromaticityToXyz,
  identity3,
  invert,
  multiplyVector,
  scale,
  subtract,
  transpose,
  type Matrix3,
  type XYZ,
} from '@bichroma/core/color'
import { fourColorMatrix, panelKindNames, type FourColors, type PanelKind } from '@bichroma/core/register'
import { spectrumOfBands, typicalEmission } from '../light/bands'
import { integrate, observer, spectrumLength, wavelengthAt, xyzOfSpectrum, type Spectrum } from '../light/spectrum'
import type { InstrumentModel } from './instrumentSchema'

/** A spectrum between its places, nothing beyond its ends. */
function between(spectrum: Spectrum, at: number): number {
  const i = Math.floor(at)
  if (i < 0 || i >= spectrumLength - 1) return at === spectrumLength - 1 ? spectrum[spectrumLength - 1] : 0
  return spectrum[i] + (spectrum[i + 1] - spectrum[i]) * (at - i)
}

/** The sensitivities of a colorimeter's three filtered cells: the observer's functions, shifted, tilted, leaking. */
export function filterCurves({
  shiftNm,
  slope,
  leak,
}: NonNullable<InstrumentModel['filters']>): [Spectrum, Spectrum, Spectrum] {
  return [0, 1, 2].map((k) => {
    const peak = Math.max(...observer[k])
    return Float64Array.from({ length: spectrumLength }, (_, i) => {
      const tilt = 1 + (slope[k] * (wavelengthAt(i) - 560)) / 100
      return Math.max(0, between(observer[k], i - shiftNm[k]) * tilt) + leak[k] * peak
    })
  }) as [Spectrum, Spectrum, Spectrum]
}

/** A spectrum as a grating sees it: shifted, blurred by its bandwidth (a triangle), with stray light under all of it. */
export function throughGrating(
  spectrum: Spectrum,
  { shiftNm, widthNm, stray }: NonNullable<InstrumentModel['grating']>,
): Spectrum {
  const reach = Math.ceil(widthNm)
  const taps = Array.from({ length: 2 * reach + 1 }, (_, n) => Math.max(0, 1 - Math.abs(n - reach) / widthNm))
  const sum = taps.reduce((a, b) => a + b, 0)
  const mean = spectrum.reduce((a, b) => a + b, 0) / spectrumLength
  return Float64Array.from({ length: spectrumLength }, (_, i) => {
    const blurred = taps.reduce((total, tap, n) => total + tap * between(spectrum, i + n - reach - shiftNm), 0) / sum
    return (1 - stray) * blurred + stray * mean
  })
}

/** What an instrument's optics make of a spectrum, before any correction; cd/m² for the light they were adjusted to. */
export function responseOf(model: InstrumentModel): (spectrum: Spectrum) => XYZ {
  if (model.kind === 'spectroradiometer') return (spectrum) => xyzOfSpectrum(throughGrating(spectrum, model.grating!))
  const curves = filterCurves(model.filters!)
  // The maker adjusts each cell so that light of equal energy reads right.
  const equal = new Float64Array(spectrumLength).fill(1)
  const [right, raw] = [xyzOfSpectrum(equal), integrate(equal, curves)]
  return (spectrum) => integrate(spectrum, curves).map((v, k) => (v * right[k]) / raw[k]) as unknown as XYZ
}

/** Share of a typical white that comes from a white subpixel, and the white that a typical panel has. */
const typicalWhite = { subpixelShare: 0.4, chromaticity: { x: 0.3127, y: 0.329 } }

/** The spectra of a typical panel's white, red, green and blue, by its kind. */
function typicalColors(kind: PanelKind): Record<keyof FourColors, Spectrum> {
  const emission = typicalEmission[kind]
  const [red, green, blue] = [emission.red, emission.green, emission.blue].map((bands) => spectrumOfBands(bands))
  const subpixel = emission.white && spectrumOfBands(emission.white)
  const share = subpixel ? typicalWhite.subpixelShare / xyzOfSpectrum(subpixel)[1] : 0
  const wanted = convertChromaticityToXyz(typicalWhite.chromaticity)
  const rest = subpixel ? subtract(wanted, scale(xyzOfSpectrum(subpixel), share)) : wanted
  const columns = transpose([xyzOfSpectrum(red), xyzOfSpectrum(green), xyzOfSpectrum(blue)])
  const [r, g, b] = multiplyVector(invert(columns), rest)
  const white = red.map((v, i) => r * v + g * green[i] + b * blue[i] + share * (subpixel?.[i] ?? 0))
  return { white, red, green, blue }
}

/**
 * The corrections that a colorimeter leaves its factory with, one for each kind of panel: made by the four-colour method
 * on a panel that is typical of the kind.
 */
export function factoryCorrections(model: InstrumentModel): Partial<Record<PanelKind, Matrix3>> {
  if (model.kind === 'spectroradiometer' || !model.ownCorrections) return {}
  const response = responseOf(model)
  const read = ({ white, red, green, blue }: Record<keyof FourColors, Spectrum>, by: (s: Spectrum) => XYZ) => ({
    white: by(white),
    red: by(red),
    green: by(green),
    blue: by(blue),
  })
  return Object.fromEntries(
    panelKindNames.map((kind) => {
      const colors = typicalColors(kind)
      return [kind, fourColorMatrix(read(colors, xyzOfSpectrum), read(colors, response))]
    }),
  )
}

export const uncorrected: Matrix3 = identity3
