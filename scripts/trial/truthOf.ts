import { aimTargets, computeMetrics, percentile, type Metrics, type ResolvedAim } from '@bichroma/core/aims'
import { uniformFrom } from '@bichroma/core/basics'
import { convertXyzToLab, deltaE2000, type Triple, type XYZ } from '@bichroma/core/color'
import { quantizeSignal } from '@bichroma/core/tables'

/** Patches that no run reads, from a seed: anywhere in the cube, at the signal's steps. */
export function unseenPatches(count: number, seed: number, bits: number): Triple[] {
  const uniform = uniformFrom(seed)
  return Array.from({ length: count }, () => quantizeSignal([uniform(), uniform(), uniform()], bits))
}

/** Distance in CIELAB, beyond what any table could mend, from which a colour counts as out of the panel's reach. */
const outOfReach = 1

/** How a slot does, judged by what the panel truly emits. */
export interface TruthResult {
  readonly patches: number
  readonly averageDeltaE: number
  readonly percentile95DeltaE: number
  readonly worstDeltaE: number
  /** Patches that the panel cannot reach, judged apart. */
  readonly outOfReach: { readonly patches: number; readonly averageDeltaE: number; readonly worstDeltaE: number } | null
  readonly white: { readonly x: number; readonly y: number; readonly deltaUv: number }
  readonly luminance: { readonly cdPerM2: number; readonly aim: number; readonly offPercent: number }
  readonly greyChroma: { readonly average: number; readonly worst: number }
}

const greyLevels = 33

/**
 * Judges a slot by noise-free truth on patches. `reaches`: whether the panel could show an XYZ at all. `truth`: XYZ in
 * cd/m² of signals.
 */
export function judgeByTruth(
  aim: ResolvedAim,
  patches: readonly Triple[],
  truth: (signals: readonly Triple[]) => XYZ[],
  reaches: (wanted: XYZ) => number,
): TruthResult {
  const target = aimTargets(aim)
  const lab = (xyz: XYZ) => convertXyzToLab(xyz, aim.white)
  const shown = truth(patches)
  const all = patches.map((rgb, i) => {
    const wanted = target(rgb)
    return { deltaE: deltaE2000(lab(wanted), lab(shown[i])), left: reaches(wanted) }
  })
  const inside = all.filter((p) => p.left < outOfReach).map((p) => p.deltaE)
  const outside = all.filter((p) => p.left >= outOfReach).map((p) => p.deltaE)
  const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / v.length
  const greys = Array.from(
    { length: greyLevels },
    (_, i): Triple => [i, i, i].map((v) => v / (greyLevels - 1)) as never,
  )
  const signals: Triple[] = [[1, 1, 1], [0, 0, 0], ...greys]
  const seen = truth(signals)
  const metrics: Metrics = computeMetrics(
    signals.map((rgb, i) => ({ name: String(i), rgb, xyz: seen[i] })),
    aim,
  )
  const chroma = greys.slice(1).map((rgb, i) => {
    const [, a, b] = lab(seen[i + 3])
    const [, wa, wb] = lab(target(rgb))
    return Math.hypot(a - wa, b - wb)
  })
  return {
    patches: inside.length,
    averageDeltaE: mean(inside),
    percentile95DeltaE: percentile(inside, 0.95),
    worstDeltaE: Math.max(...inside),
    outOfReach: outside.length
      ? { patches: outside.length, averageDeltaE: mean(outside), worstDeltaE: Math.max(...outside) }
      : null,
    white: { ...metrics.white, deltaUv: metrics.whiteDeltaUv },
    luminance: { cdPerM2: metrics.luminance, aim: aim.white[1], offPercent: metrics.luminanceOff },
    greyChroma: { average: mean(chroma), worst: Math.max(...chroma) },
  }
}
