import type { XYZ } from './chromaticity'
import { observerBetween } from './observerBetween'

/** First wavelength of the tables below, in nm. */
const firstWavelength = 380
/** Step of the tables below, in nm. */
const wavelengthStep = 10

/**
 * Colour-matching functions of the CIE 1931 2° standard observer, 380–780 nm in 10 nm steps (41 rows of x̄ ȳ z̄).
 * CIE 15:2018 table T.4, rounded to six decimals.
 */
export const observer1931: readonly XYZ[] = [
  [0.001368, 0.000039, 0.00645],
  [0.004243, 0.00012, 0.02005],
  [0.01431, 0.000396, 0.06785],
  [0.04351, 0.00121, 0.2074],
  [0.13438, 0.004, 0.6456],
  [0.2839, 0.0116, 1.3856],
  [0.34828, 0.023, 1.74706],
  [0.3362, 0.038, 1.77211],
  [0.2908, 0.06, 1.6692],
  [0.19536, 0.09098, 1.28764],
  [0.09564, 0.13902, 0.81295],
  [0.03201, 0.20802, 0.46518],
  [0.0049, 0.323, 0.272],
  [0.0093, 0.503, 0.1582],
  [0.06327, 0.71, 0.07825],
  [0.1655, 0.862, 0.04216],
  [0.2904, 0.954, 0.0203],
  [0.43345, 0.99495, 0.00875],
  [0.5945, 0.995, 0.0039],
  [0.7621, 0.952, 0.0021],
  [0.9163, 0.87, 0.00165],
  [1.0263, 0.757, 0.0011],
  [1.0622, 0.631, 0.0008],
  [1.0026, 0.503, 0.00034],
  [0.85445, 0.381, 0.00019],
  [0.6424, 0.265, 0.00005],
  [0.4479, 0.175, 0.00002],
  [0.2835, 0.107, 0],
  [0.1649, 0.061, 0],
  [0.0874, 0.032, 0],
  [0.04677, 0.017, 0],
  [0.0227, 0.00821, 0],
  [0.011359, 0.004102, 0],
  [0.00579, 0.002091, 0],
  [0.002899, 0.001047, 0],
  [0.00144, 0.00052, 0],
  [0.00069, 0.000249, 0],
  [0.000332, 0.00012, 0],
  [0.000166, 0.00006, 0],
  [0.000083, 0.00003, 0],
  [0.000042, 0.000015, 0],
]

/** The wavelengths of {@link observer1931}, in nm. */
export const wavelengths: readonly number[] = observer1931.map((_, i) => firstWavelength + i * wavelengthStep)

/** The same functions in 5 nm steps (81 rows), for spectra that are known as finely. CIE 15:2018 table T.4. */
export const fineObserver1931: readonly XYZ[] = observer1931.flatMap((row, i) =>
  i < observerBetween.length ? [row, observerBetween[i]] : [row],
)

/** The wavelengths of {@link fineObserver1931}, in nm. */
export const fineWavelengths: readonly number[] = fineObserver1931.map(
  (_, i) => firstWavelength + (i * wavelengthStep) / 2,
)

/** Maximum luminous efficacy, lm/W. CIE 15:2018 §7.1. */
const maximumEfficacy = 683.002

/**
 * XYZ in cd/m² of a spectral radiance in W/(sr·m²·nm), sampled at {@link wavelengths} (41 values) or
 * {@link fineWavelengths} (81 values). Throws RangeError on another length. CIE 15:2018 §7.1, summation.
 */
export function convertSpectrumToXyz(radiance: ArrayLike<number>): XYZ {
  const fine = radiance.length === fineObserver1931.length
  const observer = fine ? fineObserver1931 : observer1931
  if (radiance.length !== observer.length)
    throw new RangeError(
      `A spectrum needs ${observer1931.length} values in 10 nm steps or ${fineObserver1931.length} in 5 nm steps, 380 to 780 nm.`,
    )
  const scale = (fine ? wavelengthStep / 2 : wavelengthStep) * maximumEfficacy
  let [x, y, z] = [0, 0, 0]
  for (let i = 0; i < observer.length; i++) {
    const row = observer[i]
    x += radiance[i] * row[0]
    y += radiance[i] * row[1]
    z += radiance[i] * row[2]
  }
  return [x * scale, y * scale, z * scale]
}
