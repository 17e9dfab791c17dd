import type { XYZ } from './chromaticity'
import { deltaE2000 } from './deltaE2000'
import { convertXyzToICtCp, type ICtCp } from './ictcp'
import { convertXyzToLab, type Lab } from './lab'

/** CIE 1976 colour difference ΔE*ab. CIE 15:2018 §8.2.1. */
export const deltaE76 = (a: Lab, b: Lab): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

/**
 * CIE94 colour difference with the weights of graphic arts (kL = 1, K1 = 0.045, K2 = 0.015). Not symmetric: the first
 * colour is the reference. CIE 116-1995.
 */
export function deltaE94(reference: Lab, sample: Lab): number {
  const C1 = Math.hypot(reference[1], reference[2])
  const dC = C1 - Math.hypot(sample[1], sample[2])
  const da = reference[1] - sample[1]
  const db = reference[2] - sample[2]
  const dH2 = Math.max(0, da * da + db * db - dC * dC)
  const dL = reference[0] - sample[0]
  const sC = 1 + 0.045 * C1
  const sH = 1 + 0.015 * C1
  return Math.sqrt(dL * dL + (dC / sC) ** 2 + dH2 / (sH * sH))
}

/**
 * A change of a colour in the terms of ΔE94, lightness, and along and across its hue: its sum of squares is about that
 * difference squared, and it changes smoothly through nothing, as least squares need it.
 */
export function termsOfDeltaE94([, a, b]: Lab, [dL, da, db]: Lab): Lab {
  const chroma = Math.hypot(a, b)
  const [cosine, sine] = chroma > 1e-9 ? [a / chroma, b / chroma] : [1, 0]
  return [dL, (cosine * da + sine * db) / (1 + 0.045 * chroma), (cosine * db - sine * da) / (1 + 0.015 * chroma)]
}

/** ΔE ITP: 1 is just visible. ITU-R BT.2124-0, with T = Ct/2. */
export const deltaEItp = (a: ICtCp, b: ICtCp): number => 720 * Math.hypot(a[0] - b[0], 0.5 * (a[1] - b[1]), a[2] - b[2])

/** What is left of a CIELAB difference without lightness: how far a grey is from neutral, whatever its level. */
export const deltaChroma = (a: Lab, b: Lab): number => Math.hypot(a[1] - b[1], a[2] - b[2])

/** The lightness part of a CIELAB difference, signed: positive when `b` is the lighter. */
export const deltaLightness = (a: Lab, b: Lab): number => b[0] - a[0]

/** The formulas by which colours are judged, by the names used in files and on the command line. */
export const differenceFormulas = ['de2000', 'de94', 'de76', 'deitp'] as const
export type DifferenceFormula = (typeof differenceFormulas)[number]

export const differenceLabels: Readonly<Record<DifferenceFormula, string>> = {
  de2000: 'ΔE2000',
  de94: 'ΔE94',
  de76: 'ΔE76',
  deitp: 'ΔE ITP',
}

const labFormulas = { de2000: deltaE2000, de94: deltaE94, de76: deltaE76 }

/** The difference of two CIELAB colours by a formula that works on CIELAB. */
export const deltaOfLab = (formula: Exclude<DifferenceFormula, 'deitp'>, reference: Lab, sample: Lab): number =>
  labFormulas[formula](reference, sample)

/**
 * The difference of two absolute colours (XYZ in cd/m²) by any formula; CIELAB is taken under `white` (cd/m²), ΔE ITP
 * needs none.
 */
export const deltaOfXyz = (formula: DifferenceFormula, reference: XYZ, sample: XYZ, white: XYZ): number =>
  formula === 'deitp'
    ? deltaEItp(convertXyzToICtCp(reference), convertXyzToICtCp(sample))
    : deltaOfLab(formula, convertXyzToLab(reference, white), convertXyzToLab(sample, white))
