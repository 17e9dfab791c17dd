import { convertChromaticityToXyz, type XYZ } from '../color/chromaticity'
import { deltaOfXyz, type DifferenceFormula } from '../color/differences'
import { percentile } from './percentile'
import type { JudgedPatch, Metrics } from './metrics'

/** What a set of readings comes to under one difference formula. */
export interface DifferenceFigures {
  readonly average: number
  /** The smallest difference that 95 % of the patches do not exceed. */
  readonly percentile95: number
  readonly worst: PatchFigure
  /** The worst of full red, green and blue; null when none was read. */
  readonly worstPrimary: PatchFigure | null
  /** White at the measured luminance. */
  readonly white: number
}

/** A figure of one patch. */
interface PatchFigure {
  readonly patch: string
  readonly value: number
}

/** XYZ in cd/m² of the aim's white at the luminance that was measured: what colours are judged under. */
export const judgingWhite = (metrics: Pick<Metrics, 'aimWhite' | 'luminance'>): XYZ =>
  convertChromaticityToXyz(metrics.aimWhite, metrics.luminance)

/** The difference of one patch to its aim under a formula. */
export const patchDifference = (patch: JudgedPatch, formula: DifferenceFormula, white: XYZ): number =>
  formula === 'de2000' ? patch.deltaE : deltaOfXyz(formula, patch.target, patch.xyz, white)

const isPrimary = ({ rgb }: JudgedPatch) => Math.max(...rgb) === 1 && rgb[0] + rgb[1] + rgb[2] === 1
const isWhite = ({ rgb }: JudgedPatch) => rgb.every((v) => v === 1)

const found = new WeakMap<Metrics, Map<DifferenceFormula, DifferenceFigures>>()

/** The difference figures of metrics under a formula, reckoned from what was read and aimed at; once for each. */
export function differenceFigures(metrics: Metrics, formula: DifferenceFormula): DifferenceFigures {
  const known = found.get(metrics) ?? new Map<DifferenceFormula, DifferenceFigures>()
  found.set(metrics, known)
  const before = known.get(formula)
  if (before) return before
  const white = judgingWhite(metrics)
  const all = metrics.patches.map((p) => ({ p, value: patchDifference(p, formula, white) }))
  const worstOf = (some: typeof all): PatchFigure | null =>
    some.length
      ? some.map(({ p, value }) => ({ patch: p.name, value })).reduce((a, b) => (b.value > a.value ? b : a))
      : null
  const figures: DifferenceFigures = {
    average: all.reduce((sum, a) => sum + a.value, 0) / all.length,
    percentile95: percentile(
      all.map((a) => a.value),
      0.95,
    ),
    worst: worstOf(all)!,
    worstPrimary: worstOf(all.filter(({ p }) => isPrimary(p))),
    white: all.find(({ p }) => isWhite(p))?.value ?? 0,
  }
  known.set(formula, figures)
  return figures
}
