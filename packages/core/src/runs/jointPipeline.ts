import { predictXyz, type Characterization } from '../characterization/characterization'
import { leastSquares } from '../characterization/leastSquares'
import { targetXyz, type ResolvedAim } from '../aims/aim'
import { uniformFrom } from '../basics/random'
import { termsOfDeltaE94 } from '../color/differences'
import { convertXyzToLab, type Lab } from '../color/lab'
import { add, identity3, multiply, multiplyVector, scale, subtract, type Matrix3, type Triple } from '../color/matrix3'
import type { PipelineAim } from '../tables/slotTables'
import type { GreyReading } from './shape'

/** Places along each curve at which it may be bent: even in the root of light, as its table is; none at black. */
const knots = 10
const [matrixParts, curveParts] = [9, 3 * knots]
const parts = matrixParts + curveParts

/** How far a part is expected to go: shares of light for the matrix, drive for the curves. */
const expected = { matrix: 0.05, curve: 0.02 }
/** Steps of the search, and the change of each part by which slopes are found. */
const search = { mostSteps: 12, probe: 5e-4 }

/** Entries of the curves as they are looked up. */
const entries = 2048

/** A colour of the aim: light that its signal asks for, what it should look like, and how much it counts. */
interface Wanted {
  readonly light: Triple
  readonly lab: Lab
  readonly weight: number
  /** What the characterization is off by there, as greys that were read say. */
  readonly off: Lab
}

/** What a characterization is off by on corrected greys, by level, between which it is interpolated. */
function greysOff(greys: readonly GreyReading[], c: Characterization, aim: ResolvedAim): (level: number) => Lab {
  const lab = (xyz: Triple) => convertXyzToLab(xyz, aim.white)
  const levels = [...new Set(greys.map((g) => g.level))].sort((a, b) => a - b)
  const offs = levels.map((level) => {
    const same = greys.filter((g) => g.level === level)
    const each = same.map(({ drive, xyz }) => subtract(lab(xyz), lab(predictXyz(c, drive))))
    return scale(each.reduce(add), 1 / same.length)
  })
  if (!levels.length) return () => [0, 0, 0]
  return (level) => {
    const next = levels.findIndex((l) => l >= level)
    if (next <= 0) return offs[next < 0 ? offs.length - 1 : 0]
    const t = (level - levels[next - 1]) / (levels[next] - levels[next - 1])
    return add(scale(offs[next - 1], 1 - t), scale(offs[next], t))
  }
}

/** Colours that count: greys, for casts in them are seen first; even steps; and others anywhere. */
function wantedOf(aim: ResolvedAim, { decode }: PipelineAim, off: (level: number) => Lab): Wanted[] {
  const signals: { rgb: Triple; weight: number }[] = []
  const steps = [0, 0.25, 0.5, 0.75, 1]
  for (let i = 1; i <= 32; i++) signals.push({ rgb: [i / 32, i / 32, i / 32], weight: i === 32 ? 20 : 3 })
  for (const r of steps) for (const g of steps) for (const b of steps) signals.push({ rgb: [r, g, b], weight: 1 })
  const random = uniformFrom(5)
  for (let i = 0; i < 160; i++) signals.push({ rgb: [random(), random(), random()], weight: 1 })
  return signals.map(({ rgb, weight }) => ({
    light: [decode[0](rgb[0]), decode[1](rgb[1]), decode[2](rgb[2])],
    lab: convertXyzToLab(targetXyz(aim, rgb), aim.white),
    weight,
    off: rgb[0] === rgb[1] && rgb[1] === rgb[2] ? off(rgb[0]) : [0, 0, 0],
  }))
}

/** A bump at one knot, which together are 1 everywhere. */
const bump = (distance: number) => (Math.abs(distance) >= 1 ? 0 : 0.5 + 0.5 * Math.cos(Math.PI * distance))

const matrixOf = (p: Float64Array, base: Matrix3): Matrix3 => {
  const row = (k: number): Triple => [p[3 * k], p[3 * k + 1], p[3 * k + 2]]
  const change: Matrix3 = [add(identity3[0], row(0)), add(identity3[1], row(1)), add(identity3[2], row(2))]
  return multiply(change, base)
}

/** By how much a curve is bent at the root of a light. */
function bend(p: Float64Array, c: number, root: number): number {
  const at = root * knots
  const below = Math.floor(at)
  const of = (knot: number) => (knot < 1 || knot > knots ? 0 : p[matrixParts + c * knots + knot - 1] * bump(at - knot))
  return of(below) + of(below + 1)
}

const clamp = (v: number) => Math.min(1, Math.max(0, v))

/**
 * The matrix and the curves behind it of a slot, made to fit each other: both are bent until the colours of the aim, as the
 * panel was characterized by its drives, miss least; `greys` that were read say what that is off by on greys. Taken apart,
 * each of the two is best for itself, and what the one leaves the other does not take. Least squares by Levenberg and
 * Marquardt, from the pipeline that was solved part by part, and never worse than that by its own measure.
 */
export function fitPipeline(
  base: PipelineAim,
  c: Characterization,
  aim: ResolvedAim,
  greys: readonly GreyReading[] = [],
): PipelineAim {
  const wanted = wantedOf(aim, base, greysOff(greys, c, aim))
  const curves = [0, 1, 2].map((k) =>
    Float64Array.from({ length: entries + 1 }, (_, i) => base.drive[k]((i / entries) ** 2)),
  )
  const driveOf = (p: Float64Array, k: number, light: number) => {
    const root = Math.sqrt(clamp(light))
    const at = Math.min(entries - 1, Math.floor(root * entries))
    const [low, high] = [curves[k][at], curves[k][at + 1]]
    return clamp(low + (high - low) * (root * entries - at) + bend(p, k, root))
  }
  const residuals = (p: Float64Array) => {
    const mixing = matrixOf(p, base.matrix)
    const out = new Float64Array(3 * wanted.length)
    wanted.forEach(({ light, lab, weight, off }, i) => {
      const mixed = multiplyVector(mixing, light)
      const shown = predictXyz(c, [driveOf(p, 0, mixed[0]), driveOf(p, 1, mixed[1]), driveOf(p, 2, mixed[2])])
      termsOfDeltaE94(lab, subtract(add(convertXyzToLab(shown, aim.white), off), lab)).forEach(
        (t, k) => (out[3 * i + k] = weight * t),
      )
    })
    return out
  }
  const deviation = new Float64Array(parts).fill(expected.matrix, 0, matrixParts).fill(expected.curve, matrixParts)
  const { parts: p } = leastSquares({ residuals, start: new Float64Array(parts), expected: deviation, ...search })
  return {
    decode: base.decode,
    matrix: matrixOf(p, base.matrix),
    drive: [0, 1, 2].map(
      (k) => (light: number) => clamp(base.drive[k](light) + bend(p, k, Math.sqrt(clamp(light)))),
    ) as unknown as PipelineAim['drive'],
  }
}
