import {
  convertChromaticityToUv,
  convertXyzToChromaticity,
  convertXyzToUv,
  deltaUv,
  type Chromaticity,
  type XYZ,
} from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { deltaChroma, deltaLightness } from '../color/differences'
import { convertXyzToLab, type Lab } from '../color/lab'
import { subtract, type Triple } from '../color/matrix3'
import { correlatedColorTemperature } from '../color/temperature'
import { percentile } from './percentile'
import { aimAtLuminance, aimCurve, aimTargets, type ResolvedAim } from './aim'
import type { Primaries } from '../color/encodings'
import type { PatchReading } from '../color/patchReading'
import { comparePrimaries, type Diagram, type PlanarGamut } from '../color/planarGamut'

/** One patch beside what the aim asks for. */
export interface JudgedPatch extends PatchReading {
  /** cd/m² */
  readonly target: XYZ
  readonly lab: Lab
  readonly targetLab: Lab
  readonly deltaE: number
  /** How long the reading took, ms, where a run made it. */
  readonly tookMs?: number
}

/** One grey level against the aim. */
export interface JudgedGrey {
  /** Signal, 0–1. */
  readonly level: number
  /** Light above black, 0–1, of its own white: measured and aimed. */
  readonly light: number
  readonly targetLight: number
  /** L* measured less L* aimed: the tone error at this level. */
  readonly lightnessError: number
  /** Δu′v′ to the aim's white. */
  readonly deltaUv: number
  /** Difference of a* and b* only, the lightness left out. */
  readonly chroma: number
  /** Local exponent ln(light)/ln(signal). */
  readonly exponent: number
  readonly targetExponent: number
}

/** All figures of one set of readings against one aim. */
export interface Metrics {
  readonly patches: readonly JudgedPatch[]
  readonly averageDeltaE: number
  /** The smallest difference that 95 % of the patches do not exceed. */
  readonly percentile95DeltaE: number
  readonly worstDeltaE: number
  readonly worstPatch: string
  readonly white: Chromaticity
  readonly aimWhite: Chromaticity
  /** K; null where a temperature means nothing. */
  readonly whiteTemperature: number | null
  readonly aimWhiteTemperature: number | null
  readonly whiteDeltaUv: number
  /** cd/m² */
  readonly luminance: number
  readonly aimLuminance: number
  /** 100·(achieved − aim)/aim */
  readonly luminanceOff: number
  /** cd/m² */
  readonly black: number
  /** White ÷ black; null for a black without light. */
  readonly contrast: number | null
  readonly greys: readonly JudgedGrey[]
  readonly averageExponent: number
  readonly aimAverageExponent: number
  readonly averageGreyChroma: number
  /** The grey furthest from neutral, and the one furthest off in tone; null when no grey was read. */
  readonly worstGreyChroma: GreyFigure | null
  readonly worstTone: GreyFigure | null
  /** Null when red, green or blue was not read, or gives no light. */
  readonly primaries: Primaries | null
  readonly aimPrimaries: Primaries
  /** The measured triangle against the aim's, in both diagrams; null when red, green or blue was not read. */
  readonly gamut: Readonly<Record<Diagram, PlanarGamut>> | null
  /** How even the screen was when it was last read place by place: the worst luminance off the centre, %, and Δu′v′. */
  readonly uniformity?: { readonly luminanceOff: number; readonly deltaUv: number; readonly at: string }
}

export interface MetricsOptions {
  /** False leaves colour temperatures out (null), which take most of the time. */
  readonly temperatures?: boolean
}

/** A figure of one grey level (signal, 0–1). */
interface GreyFigure {
  readonly level: number
  readonly value: number
}

const equal = (rgb: Triple, r: number, g: number, b: number) => rgb[0] === r && rgb[1] === g && rgb[2] === b
const isGrey = ([r, g, b]: Triple) => r === g && g === b && r > 0 && r < 1
const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length)

/**
 * Every figure of a set of readings against an aim. The white must be among the readings and brighter than the black
 * (RangeError otherwise); black and primaries are used where they were read, a primary where it gives light. Colour differences are CIEDE2000 in CIELAB under the aim's white at the
 * measured luminance; the luminance has its own figure.
 */
export function computeMetrics(
  readings: readonly PatchReading[],
  aim: ResolvedAim,
  { temperatures = true }: MetricsOptions = {},
): Metrics {
  const find = (r: number, g: number, b: number) => readings.find((p) => equal(p.rgb, r, g, b))?.xyz
  const whiteXyz = find(1, 1, 1)
  if (!whiteXyz) throw new RangeError('The readings hold no white, so nothing can be judged against it.')
  if (!(Math.min(...whiteXyz) > 0))
    throw new RangeError('The white that was read has no light, so nothing can be judged against it.')
  const blackXyz = find(0, 0, 0) ?? aim.black
  if (!(whiteXyz[1] > blackXyz[1]))
    throw new RangeError('The white that was read is no brighter than the black, so nothing can be judged against it.')
  const judged = aimAtLuminance(aim, whiteXyz[1], blackXyz)

  const targetOf = aimTargets(judged)
  const patches = readings.map((p): JudgedPatch => {
    const target = targetOf(p.rgb)
    const lab = convertXyzToLab(p.xyz, judged.white)
    const targetLab = convertXyzToLab(target, judged.white)
    return { ...p, target, lab, targetLab, deltaE: deltaE2000(targetLab, lab) }
  })
  const worst = patches.reduce((a, b) => (b.deltaE > a.deltaE ? b : a))

  const curve = aimCurve(judged)
  const aimWhite = convertXyzToChromaticity(aim.white)
  const range = whiteXyz[1] - blackXyz[1]
  const greys = patches
    .filter((p) => isGrey(p.rgb))
    .sort((a, b) => a.rgb[0] - b.rgb[0])
    .map((p): JudgedGrey => {
      const level = p.rgb[0]
      const light = Math.max(1e-6, (p.xyz[1] - blackXyz[1]) / range)
      const targetLight = curve.decode(level)
      return {
        level,
        light,
        targetLight,
        lightnessError: deltaLightness(p.targetLab, p.lab),
        // Light above black, so that the black's own colour does not count as a fault of the dark greys.
        deltaUv: safeDeltaUv(subtract(p.xyz, blackXyz), aimWhite),
        chroma: deltaChroma(p.targetLab, p.lab),
        exponent: Math.log(light) / Math.log(level),
        targetExponent: Math.log(targetLight) / Math.log(level),
      }
    })
  const middle = greys.filter((g) => g.level >= 0.1 && g.level <= 0.9)

  const above = (xyz: XYZ | undefined) => {
    const light = xyz && subtract(xyz, blackXyz)
    return light && light[1] > 0 && light[0] + light[1] + light[2] > 0 ? convertXyzToChromaticity(light) : null
  }
  const [red, green, blue] = [above(find(1, 0, 0)), above(find(0, 1, 0)), above(find(0, 0, 1))]
  const primaries = red && green && blue ? { red, green, blue } : null
  const white = convertXyzToChromaticity(whiteXyz)
  const temperature = (c: Chromaticity) => (temperatures ? (correlatedColorTemperature(c)?.cct ?? null) : null)
  return {
    patches,
    averageDeltaE: mean(patches.map((p) => p.deltaE)),
    percentile95DeltaE: percentile(
      patches.map((p) => p.deltaE),
      0.95,
    ),
    worstDeltaE: worst.deltaE,
    worstPatch: worst.name,
    white,
    aimWhite,
    whiteTemperature: temperature(white),
    aimWhiteTemperature: temperature(aimWhite),
    whiteDeltaUv: deltaUv(convertChromaticityToUv(white), convertChromaticityToUv(aimWhite)),
    luminance: whiteXyz[1],
    aimLuminance: aim.white[1],
    luminanceOff: (100 * (whiteXyz[1] - aim.white[1])) / aim.white[1],
    black: blackXyz[1],
    contrast: blackXyz[1] > 0 ? whiteXyz[1] / blackXyz[1] : null,
    greys,
    averageExponent: mean(middle.map((g) => g.exponent)),
    aimAverageExponent: mean(middle.map((g) => g.targetExponent)),
    averageGreyChroma: mean(greys.map((g) => g.chroma)),
    worstGreyChroma: worstGrey(greys, (g) => g.chroma),
    worstTone: worstGrey(greys, (g) => g.lightnessError),
    primaries,
    aimPrimaries: aim.primaries,
    gamut: primaries && {
      xy: comparePrimaries(primaries, aim.primaries, 'xy'),
      uv: comparePrimaries(primaries, aim.primaries, 'uv'),
    },
  }
}

const worstGrey = (greys: readonly JudgedGrey[], of: (grey: JudgedGrey) => number): GreyFigure | null =>
  greys.reduce<GreyFigure | null>(
    (worst, g) => (worst && Math.abs(worst.value) >= Math.abs(of(g)) ? worst : { level: g.level, value: of(g) }),
    null,
  )

function safeDeltaUv(xyz: XYZ, white: Chromaticity): number {
  return xyz[1] > 0 && xyz[0] > 0 ? deltaUv(convertXyzToUv(xyz), convertChromaticityToUv(white)) : 0
}
