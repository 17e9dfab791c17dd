import type { PatchReading } from '../aims/metrics'
import type { XYZ } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertLabToXyz, convertXyzToLab, type Lab } from '../color/lab'
import type { Matrix3, Triple } from '../color/matrix3'
import { fitAdditiveModel, type AdditiveModel } from '../profiles/additiveModel'
import { uniformFrom } from '../random'
import { fitSmoother, type Smoother } from './smoother'

/** Entries of the channel curves of a characterization. */
const curveEntries = 1025
/** Places along each axis at which the residual is stored. */
const gridSize = 33

/**
 * A display as readings describe it, as plain data that can be sent to a worker: an additive model (black removed,
 * a curve per channel, a matrix), and a smooth residual in CIELAB that takes up crosstalk and whatever else is not
 * additive.
 */
export interface Characterization {
  /** Measured, cd/m². */
  readonly white: XYZ
  readonly black: XYZ
  /** Columns red, green, blue above black, divided by white's X, Y, Z row by row (nine numbers). */
  readonly matrix: Float64Array
  /** Black divided by white's X, Y, Z. */
  readonly relativeBlack: Float64Array
  /** Cube root of linear light 0–1 of each channel, at 1,025 even signals; three runs. */
  readonly curves: Float64Array
  /** CIELAB residual (under `white`) at 33³ even places, red slowest; 3·33³ numbers. */
  readonly residual: Float64Array
  /** What the fit of the residual chose. */
  readonly kernel: string
  readonly readings: number
}

/** Reading noise relative to the light, and the light (relative to white) below which the dark's own noise takes over. */
const darkNoiseKnee = 2e-3

function withoutResidual(base: AdditiveModel): Omit<Characterization, 'residual' | 'kernel' | 'readings'> {
  const curves = new Float64Array(3 * curveEntries)
  for (let c = 0; c < 3; c++)
    for (let i = 0; i < curveEntries; i++)
      curves[c * curveEntries + i] = Math.cbrt(base.curves[c](i / (curveEntries - 1)))
  return {
    white: base.white,
    black: base.black,
    matrix: Float64Array.from(base.matrix.flatMap((row, k) => row.map((v) => v / base.white[k]))),
    relativeBlack: Float64Array.from(base.black.map((v, k) => v / base.white[k])),
    curves,
  }
}

const noResidual = new Float64Array(3 * gridSize ** 3)

/** Readings that the fit of the residual takes account of: its time grows with their cube. */
const mostFitted = 2000

/** Readings without which nothing can be fitted: greys, and the corners of the cube. */
const isNeeded = ({ rgb: [r, g, b] }: PatchReading) =>
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
function fitResidual(all: readonly PatchReading[], plain: Characterization): Smoother {
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
  return fitSmoother(points, values, noise)
}

const additive = (readings: readonly PatchReading[]): Characterization => ({
  ...withoutResidual(fitAdditiveModel(readings)),
  residual: noResidual,
  kernel: '',
  readings: readings.length,
})

/**
 * Characterizes a display from readings (signal 0–1, XYZ in cd/m²). Needs what {@link fitAdditiveModel} needs; throws
 * Error naming what is missing.
 */
export function characterize(readings: readonly PatchReading[]): Characterization {
  const plain = additive(readings)
  const smoother = fitResidual(readings, plain)
  return { ...plain, residual: smoother.onGrid(gridSize), kernel: smoother.kernel }
}

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

const epsilon = (6 / 29) ** 3
const kappa = (29 / 3) ** 3
const labRoot = (t: number) => (t > epsilon ? Math.cbrt(t) : (kappa * t + 16) / 116)

/** CIELAB (under the measured white) that a signal 0–1 will show, written into `out`; outside 0–1 the curves go on straight. */
export function predictLabInto(c: Characterization, r: number, g: number, b: number, out: Float64Array): void {
  const lr = channelLight(c.curves, 0, r)
  const lg = channelLight(c.curves, curveEntries, g)
  const lb = channelLight(c.curves, 2 * curveEntries, b)
  const m = c.matrix
  const k = c.relativeBlack
  const fx = labRoot(k[0] + m[0] * lr + m[1] * lg + m[2] * lb)
  const fy = labRoot(k[1] + m[3] * lr + m[4] * lg + m[5] * lb)
  const fz = labRoot(k[2] + m[6] * lr + m[7] * lg + m[8] * lb)
  out[0] = 116 * fy - 16
  out[1] = 500 * (fx - fy)
  out[2] = 200 * (fy - fz)
  addResidual(c.residual, r, g, b, out)
}

function channelLight(curves: Float64Array, offset: number, signal: number): number {
  const at = signal * (curveEntries - 1)
  const i = at <= 0 ? 0 : at >= curveEntries - 1 ? curveEntries - 2 : at | 0
  const low = curves[offset + i]
  const root = low + (curves[offset + i + 1] - low) * (at - i)
  return root * root * root
}

const clamp = (t: number) => (t <= 0 ? 0 : t >= 1 ? 1 : t)

/** Trilinear: continuous in value, and the residual is smooth on the scale of the grid. */
function addResidual(grid: Float64Array, r: number, g: number, b: number, out: Float64Array): void {
  const top = gridSize - 1
  const x = clamp(r) * top
  const y = clamp(g) * top
  const z = clamp(b) * top
  const i = x >= top ? top - 1 : x | 0
  const j = y >= top ? top - 1 : y | 0
  const k = z >= top ? top - 1 : z | 0
  const dx = x - i
  const dy = y - j
  const dz = z - k
  const stepR = 3 * gridSize * gridSize
  const stepG = 3 * gridSize
  const p = 3 * ((i * gridSize + j) * gridSize + k)
  const w000 = (1 - dx) * (1 - dy) * (1 - dz)
  const w001 = (1 - dx) * (1 - dy) * dz
  const w010 = (1 - dx) * dy * (1 - dz)
  const w011 = (1 - dx) * dy * dz
  const w100 = dx * (1 - dy) * (1 - dz)
  const w101 = dx * (1 - dy) * dz
  const w110 = dx * dy * (1 - dz)
  const w111 = dx * dy * dz
  for (let c = 0; c < 3; c++) {
    const q = p + c
    out[c] +=
      w000 * grid[q] +
      w001 * grid[q + 3] +
      w010 * grid[q + stepG] +
      w011 * grid[q + stepG + 3] +
      w100 * grid[q + stepR] +
      w101 * grid[q + stepR + 3] +
      w110 * grid[q + stepR + stepG] +
      w111 * grid[q + stepR + stepG + 3]
  }
}

/** The columns of the additive part: red, green and blue at full signal above black, cd/m². */
export function channelColumns({ matrix: m, white }: Characterization): Matrix3 {
  const row = (k: number): Triple => [m[3 * k] * white[k], m[3 * k + 1] * white[k], m[3 * k + 2] * white[k]]
  return [row(0), row(1), row(2)]
}

/** CIELAB under the measured white that a signal (0–1) will show. */
export function predictLab(c: Characterization, rgb: Triple): Lab {
  const out = new Float64Array(3)
  predictLabInto(c, rgb[0], rgb[1], rgb[2], out)
  return [out[0], out[1], out[2]]
}

/** XYZ in cd/m² that a signal (0–1) will show. */
export const predictXyz = (c: Characterization, rgb: Triple): XYZ => convertLabToXyz(predictLab(c, rgb), c.white)

/** How well a characterization predicts colours it has not seen. */
export interface CrossValidation {
  readonly folds: number
  readonly averageDeltaE: number
  readonly percentile95DeltaE: number
  readonly worstDeltaE: number
}

/**
 * The error of {@link characterize} on readings that it was not given, by leaving out one fold after another (ΔE2000
 * under the measured white). Greys and full primaries stay in every fit. Null when too few others are left to say.
 */
export function crossValidate(readings: readonly PatchReading[], folds = 5): CrossValidation | null {
  const kept = readings.filter(isNeeded)
  const others = readings.filter((p) => !isNeeded(p))
  if (others.length < 2 * folds) return null
  const errors: number[] = []
  for (let fold = 0; fold < folds; fold++) {
    const model = characterize([...kept, ...others.filter((_, i) => i % folds !== fold)])
    others.forEach((p, i) => {
      if (i % folds === fold) errors.push(deltaE2000(convertXyzToLab(p.xyz, model.white), predictLab(model, p.rgb)))
    })
  }
  errors.sort((a, b) => a - b)
  return {
    folds,
    averageDeltaE: errors.reduce((a, b) => a + b, 0) / errors.length,
    percentile95DeltaE: errors[Math.floor(0.95 * (errors.length - 1))],
    worstDeltaE: errors[errors.length - 1],
  }
}
