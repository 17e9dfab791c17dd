import type { PatchReading } from '../color/patchReading'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import { fitAdditiveModel, type AdditiveModel } from './additiveModel'
import { fitWithSharedLight, surelyShared, surplusOf } from './sharedLight'
import { uniformFrom } from '../basics/random'
import { curveEntries, gridSize, predictLabInto, type Characterization } from './characterization'
import { fitSmoother, type Smoother } from './smoother'

/** Reading noise relative to the light, and the light (relative to white) below which the dark's own noise takes over. */
const darkNoiseKnee = 2e-3

/** An additive model as a characterization has it. */
export function withoutResidual(
  base: AdditiveModel & { readonly shared?: XYZ },
): Omit<Characterization, 'residual' | 'kernel' | 'readings'> {
  const curves = new Float64Array(3 * curveEntries)
  for (let c = 0; c < 3; c++)
    for (let i = 0; i < curveEntries; i++)
      curves[c * curveEntries + i] = Math.cbrt(base.curves[c](i / (curveEntries - 1)))
  return {
    white: base.white,
    black: base.black,
    matrix: Float64Array.from(base.matrix.flatMap((row, k) => row.map((v) => v / base.white[k]))),
    relativeBlack: Float64Array.from(base.black.map((v, k) => v / base.white[k])),
    shared: Float64Array.from(base.shared ?? [0, 0, 0], (v, k) => v / base.white[k]),
    curves,
  }
}

export const noResidual = new Float64Array(3 * gridSize ** 3)

/** Readings that the fit of the residual takes account of: its time grows with their cube. */
const mostFitted = 2000

/** Readings without which nothing can be fitted: greys, and the corners of the cube. */
export const isNeeded = ({ rgb: [r, g, b] }: PatchReading) =>
  (r === g && g === b) || [r, g, b].every((v) => v === 0 || v === 1)

/** At most {@link mostFitted} of the readings: those that are needed, and of the others some from anywhere. */
function someOf(readings: readonly PatchReading[]): readonly PatchReading[] {
  if (readings.length <= mostFitted) return readings
  const uniform = uniformFrom(1)
  const shuffled = readings.map((reading) => ({ reading, place: isNeeded(reading) ? -1 : uniform() }))
  shuffled.sort((a, b) => a.place - b.place)
  return shuffled.slice(0, mostFitted).map(({ reading }) => reading)
}

/** What the additive model leaves, in CIELAB, as a smooth function of the signal. */
function fitResidual(all: readonly PatchReading[], plain: Characterization, smoothly = false): Smoother {
  const readings = someOf(all)
  const n = readings.length
  const points = new Float64Array(3 * n)
  const values = new Float64Array(3 * n)
  const noise = new Float64Array(n)
  const predicted = new Float64Array(3)
  readings.forEach(({ rgb, xyz }, i) => {
    points.set(rgb, 3 * i)
    const lab = convertXyzToLab(xyz, plain.white)
    predictLabInto(plain, rgb[0], rgb[1], rgb[2], predicted)
    values.set(
      lab.map((v, k) => v - predicted[k]),
      3 * i,
    )
    const y = Math.max(0, xyz[1] / plain.white[1])
    // The slope of L* over luminance times the noise there, squared, and 1 at white.
    noise[i] = Math.max(y, 0.008856) ** (-4 / 3) * (y * y + darkNoiseKnee ** 2)
  })
  return fitSmoother(points, values, noise, smoothly)
}

const baseOf = (model: Parameters<typeof withoutResidual>[0], readings: readonly PatchReading[]): Characterization => ({
  ...withoutResidual(model),
  residual: noResidual,
  kernel: '',
  readings: readings.length,
})

/** Mean square of what an additive model leaves of colours, ΔE76. */
function leftBy(base: Characterization, readings: readonly PatchReading[]): number {
  const predicted = new Float64Array(3)
  const colors = readings.filter((p) => !isNeeded(p))
  let sum = 0
  for (const { rgb, xyz } of colors) {
    const lab = convertXyzToLab(xyz, base.white)
    predictLabInto(base, rgb[0], rgb[1], rgb[2], predicted)
    for (let k = 0; k < 3; k++) sum += (lab[k] - predicted[k]) ** 2
  }
  return sum / Math.max(1, colors.length)
}

/** Share of what the plain model leaves that a light with the least channel must not exceed to be taken for one. */
const sharedLeaves = 0.5

/**
 * The additive part. Where white is more than its primaries, a light that comes with the least channel may be why, or
 * crosstalk: what leaves less of the colours, which neither was fitted to, tells. Clearly more, and it is such a light.
 */
function additive(readings: readonly PatchReading[]): Characterization {
  const shared = fitWithSharedLight(readings)
  if (!shared) return baseOf(fitAdditiveModel(readings), readings)
  const withShared = baseOf(shared, readings)
  if (surplusOf(shared) > surelyShared) return withShared
  const plain = baseOf(fitAdditiveModel(readings), readings)
  return leftBy(withShared, readings) < sharedLeaves * leftBy(plain, readings) ? withShared : plain
}

/** A characterization, and laid over it what it leaves of the readings. */
export function withFittedResidual(
  c: Characterization,
  readings: readonly PatchReading[],
  smoothly = false,
): Characterization {
  const smoother = fitResidual(readings, c, smoothly)
  const more = smoother.onGrid(gridSize)
  return { ...c, residual: more.map((v, i) => v + c.residual[i]), kernel: smoother.kernel, readings: readings.length }
}

/**
 * Characterizes a display from readings (signal 0–1, XYZ in cd/m²). Needs what {@link fitAdditiveModel} needs; throws
 * Error naming what is missing.
 */
export const characterize = (readings: readonly PatchReading[]): Characterization =>
  withFittedResidual(additive(readings), readings)

/** Candidates among which the least certain colours are looked for, and readings of which the search takes account. */
const [candidateCount, mostReadings] = [600, 700]

/**
 * Colours (signals 0–1) of which readings tell least so far: what to read next. The same for the same readings and seed.
 * Needs what {@link characterize} needs.
 */
export function leastCertainColors(readings: readonly PatchReading[], count: number, seed = 1): Triple[] {
  const step = Math.max(1, readings.length / mostReadings)
  const some = Array.from({ length: Math.min(readings.length, mostReadings) }, (_, i) => readings[Math.floor(i * step)])
  const random = uniformFrom(seed)
  const candidates = Float64Array.from({ length: 3 * candidateCount }, () => Math.round(random() * 1023) / 1023)
  return fitResidual(some, additive(readings))
    .leastCertain(candidates, count)
    .map((i): Triple => [candidates[3 * i], candidates[3 * i + 1], candidates[3 * i + 2]])
}
