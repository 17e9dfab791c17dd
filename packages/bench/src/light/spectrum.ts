import { fineObserver1931, type XYZ } from '@bichroma/core/color'

/** Wavelengths of every spectrum on the bench: 380–780 nm in 1 nm steps. */
export const spectrumLength = 401
export const wavelengthAt = (i: number) => 380 + i

/** A radiance over wavelength, at {@link spectrumLength} places. Relative until something scales it. */
export type Spectrum = Float64Array

/** Between the 5 nm rows of the observer's table: a cubic through the four nearest (Catmull and Rom 1974). */
function observerAt(nm: number, k: number): number {
  const at = (nm - 380) / 5
  const i = Math.min(fineObserver1931.length - 2, Math.max(0, Math.floor(at)))
  const t = at - i
  const row = (n: number) => fineObserver1931[Math.min(fineObserver1931.length - 1, Math.max(0, n))][k]
  const [a, b, c, d] = [row(i - 1), row(i), row(i + 1), row(i + 2)]
  const cubic = b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)))
  return Math.max(0, cubic)
}

/** The CIE 1931 observer x̄ ȳ z̄ on the bench's wavelengths. CIE 15:2018 table T.4, interpolated. */
export const observer: readonly [Spectrum, Spectrum, Spectrum] = [0, 1, 2].map((k) =>
  Float64Array.from({ length: spectrumLength }, (_, i) => observerAt(wavelengthAt(i), k)),
) as unknown as [Spectrum, Spectrum, Spectrum]

/** Maximum luminous efficacy, lm/W. CIE 15:2018 §7.1. */
const maximumEfficacy = 683.002

/** What a detector with three sensitivities makes of a spectrum. */
export function integrate(spectrum: Spectrum, sensitivities: readonly [Spectrum, Spectrum, Spectrum]): XYZ {
  const sum = (sensitivity: Spectrum) => {
    let total = 0
    for (let i = 0; i < spectrumLength; i++) total += spectrum[i] * sensitivity[i]
    return maximumEfficacy * total
  }
  return [sum(sensitivities[0]), sum(sensitivities[1]), sum(sensitivities[2])]
}

/** XYZ in cd/m² of a spectral radiance in W/(sr·m²·nm). CIE 15:2018 §7.1. */
export const xyzOfSpectrum = (spectrum: Spectrum): XYZ => integrate(spectrum, observer)
