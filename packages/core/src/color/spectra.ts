import type { Chromaticity } from './chromaticity'
import { daylightComponents } from './daylightComponents'
import { wavelengths } from './observer'

/** Second radiation constant, m·K. CIE 15:2018 §3 (ITS-90 value). */
const c2 = 1.4388e-2

/**
 * Relative spectral radiance of a blackbody at a temperature in K, at wavelengths in nm (10 nm steps unless given), by
 * Planck's law in air of refractive index 1. CIE 15:2018 §3.
 */
export const blackbodySpectrum = (kelvin: number, at: readonly number[] = wavelengths): number[] =>
  at.map((nm) => {
    const m = nm * 1e-9
    return 1e-30 / (m ** 5 * Math.expm1(c2 / (m * kelvin)))
  })

/** Chromaticity of CIE daylight at 4,000–25,000 K. Throws RangeError outside. CIE 15:2018 §4.1.2. */
export function daylightChromaticity(kelvin: number): Chromaticity {
  if (!(kelvin >= 4000 && kelvin <= 25000)) throw new RangeError('CIE daylight is defined from 4,000 to 25,000 K.')
  const t = 1000 / kelvin
  const x =
    kelvin <= 7000
      ? 0.244063 + 0.09911 * t + 2.9678 * t ** 2 - 4.607 * t ** 3
      : 0.23704 + 0.24748 * t + 1.9018 * t ** 2 - 2.0064 * t ** 3
  return { x, y: -3 * x * x + 2.87 * x - 0.275 }
}

/** Relative spectrum of CIE daylight at 4,000–25,000 K (100 at 560 nm), at {@link wavelengths}. CIE 15:2018 §4.1.2. */
export function daylightSpectrum(kelvin: number): number[] {
  const { x, y } = daylightChromaticity(kelvin)
  const m = 0.0241 + 0.2562 * x - 0.7341 * y
  const m1 = (-1.3515 - 1.7703 * x + 5.9114 * y) / m
  const m2 = (0.03 - 31.4424 * x + 30.0717 * y) / m
  return daylightComponents.map(([s0, s1, s2]) => s0 + m1 * s1 + m2 * s2)
}
