import { convertXyzToLab } from '../color/lab'
import { deltaE2000 } from '../color/deltaE2000'
import { invert, multiply, multiplyVector, subtract, type Matrix3, type Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { aimCurve, targetXyz, type ResolvedAim } from '../aims/aim'
import { fitMatrix } from '../tables/fitMatrix'
import { nearestSent, type SignalCodes } from '../tables/signalCodes'
import type { PipelineAim } from '../tables/slotTables'
import { invertRising, monotoneCurve, type CurveFunction } from '../tone/monotoneCurve'
import { panelMatrix, type RawCorners } from './level'

/** A raw panel's answer to a drive: drive 0–1 per channel, XYZ in cd/m². */
export interface DriveReading {
  readonly drive: Triple
  readonly xyz: XYZ
}

/** One reading of a round: the grey signal it stands for besides. */
export interface GreyReading extends DriveReading {
  readonly level: number
}

type ChannelCurves = readonly [CurveFunction, CurveFunction, CurveFunction]

/** What Shape knows of a panel: how drive becomes linear channel light, and linear channel light XYZ. */
export interface PanelModel {
  readonly black: XYZ
  /** Linear channel light → XYZ above black, cd/m²; fitted to the greys' own decomposition. */
  readonly matrix: Matrix3
  /** Drive 0–1 → linear channel light 0–1, rising. */
  readonly light: ChannelCurves
}

const channels = [0, 1, 2] as const
const each = <T>(f: (c: 0 | 1 | 2) => T) => channels.map(f) as unknown as readonly [T, T, T]

/** Light is interpolated as its 2.4th root, in which panels of every kind are nearly straight. */
const rootExponent = 2.4

const risingThrough = (points: readonly (readonly [number, number])[]): CurveFunction => {
  const sorted = [...points].sort((a, b) => a[0] - b[0]).filter((p, i, all) => i === 0 || p[0] - all[i - 1][0] > 1e-9)
  const roots = sorted.map(([, light]) => Math.max(0, light) ** (1 / rootExponent))
  for (let i = 1; i < roots.length; i++) roots[i] = Math.max(roots[i], roots[i - 1])
  const curve = monotoneCurve(
    sorted.map(([d]) => d),
    roots,
  )
  return (d) => Math.max(0, curve(d)) ** rootExponent
}

/**
 * A panel model from raw corners and raw greys (equal drives, any order). Greys are decomposed into channel light by
 * the corner matrix; each channel's curve runs through them, from nothing at 0 to 1 at 1.
 */
export function modelFromGreys(corners: RawCorners, greys: readonly DriveReading[]): PanelModel {
  const matrix = panelMatrix(corners)
  const back = invert(matrix)
  const decomposed = greys
    .filter(({ drive }) => drive[0] > 0 && drive[0] < 1)
    .map(({ drive, xyz }) => ({ drive, light: multiplyVector(back, subtract(xyz, corners.black)) }))
  const light = each((c) =>
    risingThrough([[0, 0], ...decomposed.map((g) => [g.drive[c], g.light[c]] as const), [1, 1]]),
  )
  return { black: corners.black, matrix, light }
}

/** How a corrected grey differed from the model that predicted it, channel by channel: measured ÷ predicted light. */
function ratios(model: PanelModel, readings: readonly GreyReading[]) {
  const back = invert(model.matrix)
  return readings.map(({ level, drive, xyz }) => {
    const measured = multiplyVector(back, subtract(xyz, model.black))
    return { level, drive, ratio: each((c) => measured[c] / Math.max(model.light[c](drive[c]), 1e-9)) }
  })
}

/** Bounds on what one round may claim of the model, so that a misread shadow cannot bend the curve. */
const ratioBounds = [0.5, 2] as const

/**
 * The model bent so that it agrees with corrected greys of one round or several. Readings of one level are averaged, so
 * that more rounds also mean less noise.
 */
export function refineModel(model: PanelModel, readings: readonly GreyReading[]): PanelModel {
  const all = ratios(model, readings)
  const levels = [...new Set(all.map((r) => r.level))]
  const light = each((c) => {
    const points = levels
      .map((level) => {
        const same = all.filter((r) => r.level === level)
        const mean = (f: (r: (typeof same)[number]) => number) => same.reduce((sum, r) => sum + f(r), 0) / same.length
        const ratio = Math.min(
          ratioBounds[1],
          Math.max(
            ratioBounds[0],
            mean((r) => r.ratio[c]),
          ),
        )
        return [mean((r) => r.drive[c]), ratio] as const
      })
      .sort((a, b) => a[0] - b[0])
      .filter((p, i, sorted) => i === 0 || p[0] - sorted[i - 1][0] > 1e-9)
    const bend = monotoneCurve(
      points.map((p) => p[0]),
      points.map((p) => p[1]),
    )
    const [first, last] = [points[0], points[points.length - 1]]
    const bounded = (d: number) => (d <= first[0] ? first[1] : d >= last[0] ? last[1] : bend(d))
    return (d: number) => model.light[c](d) * bounded(d)
  })
  return { ...model, light }
}

/** The mixing that takes linear aim RGB to linear channel light. */
export const mixingMatrix = (panel: Matrix3, aim: ResolvedAim): Matrix3 => multiply(invert(panel), aim.matrix)

/** Drive of linear channel light: the rising inverse of the model's curves, clipped to what the panel has. */
const driveOfLight = (model: PanelModel, light: Triple): Triple =>
  each((c) => invertRising(model.light[c], Math.max(0, light[c])))

/** The drives, rounded to what can be sent, that should show a signal as the aim wants it. */
export function solveDrive(
  model: PanelModel,
  mixing: Matrix3,
  aim: ResolvedAim,
  signal: Triple,
  codes: SignalCodes,
): Triple {
  const curve = aimCurve(aim)
  const light = multiplyVector(mixing, signal.map(curve.decode) as unknown as Triple)
  return nearestSent(driveOfLight(model, light), codes)
}

/** ΔE2000 of a reading to what the aim asks for at a signal, in CIELAB under the aim's white. */
export const residual = (aim: ResolvedAim, signal: Triple, xyz: XYZ): number =>
  deltaE2000(convertXyzToLab(targetXyz(aim, signal), aim.white), convertXyzToLab(xyz, aim.white))

/** When more rounds stop paying. */
export const roundRules = {
  /** A round must lower the average residual by this share of it to earn another. */
  gain: 0.1,
  /** An average ΔE2000 below which another round is not worth its minutes. */
  enough: 0.12,
} as const

/**
 * Whether another round of greys is worth it, given the average residual of each round so far and how many there may be;
 * `repeatability` of the instrument (ΔE2000) where it is known: below that a round would only follow its noise.
 */
export function anotherRound(averages: readonly number[], most: number, repeatability: number | null = null): boolean {
  const n = averages.length
  if (n >= most) return false
  if (n === 0) return true
  if (averages[n - 1] <= Math.max(roundRules.enough, repeatability ?? 0)) return false
  return n === 1 || averages[n - 1] < averages[n - 2] * (1 - roundRules.gain)
}

/**
 * The panel matrix refitted to colours shown raw, with the aim's white held: it takes up as much of the channels'
 * crosstalk as a matrix can. The held white keeps the greys exactly where the curves put them.
 */
export function refitMatrix(model: PanelModel, aim: ResolvedAim, colors: readonly DriveReading[]): Matrix3 {
  const aimLight = subtract(aim.white, aim.black)
  const weights = multiplyVector(invert(model.matrix), aimLight)
  return fitMatrix(
    colors.map(({ drive, xyz }) => ({
      input: each((c) => model.light[c](drive[c])),
      output: subtract(xyz, model.black),
    })),
    { input: weights, output: aimLight },
  )
}

/** The pipeline that a slot shall hold. */
export function pipelineFor(model: PanelModel, mixing: Matrix3, aim: ResolvedAim): PipelineAim {
  const curve = aimCurve(aim)
  return {
    decode: each(() => curve.decode),
    matrix: mixing,
    drive: each((c) => (light: number) => invertRising(model.light[c], light)),
  }
}
