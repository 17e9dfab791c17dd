import type { PatchReading } from '../color/patchReading'
import { convertXyzToLab, type Lab } from '../color/lab'
import { add, type Triple } from '../color/matrix3'
import { fitAdditiveModel, greyLevelsOf } from './additiveModel'
import { fitCoupledModel, type LightModel } from './coupledModel'
import { noCoupling } from './coupling'
import { fitWithSharedLight, surelyShared, surplusOf } from './sharedLight'
import { uniformFrom } from '../basics/random'
import { curveEntries, gridSize, predictLab, predictLabInto, type Characterization } from './characterization'
import { someReadings } from './someReadings'
import { chooseSmoothing, fitSmoother, leastCertain, roughErrorOf, type Scattered, type Smoother } from './smoother'

/** Reading noise relative to the light, and the light (relative to white) below which the dark's own noise takes over. */
const darkNoiseKnee = 2e-3

/** A model of a display's light as a characterization has it. */
export function withoutResidual(base: LightModel): Omit<Characterization, 'residual' | 'kernel' | 'readings'> {
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
    coupling: base.coupling ?? noCoupling,
    sag: Float64Array.from(base.sag ?? [0, 0, 0]),
    curves,
  }
}

export const noResidual = new Float64Array(3 * gridSize ** 3)

/** Readings that the fit of the residual takes account of: its time grows with their cube. */
const mostFitted = 2000

/** What a model of the light leaves of readings, in CIELAB. */
function leftOf(all: readonly PatchReading[], plain: Characterization): Scattered {
  const readings = someReadings(all, mostFitted)
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
  return { points, values, noise }
}

const baseOf = (model: Parameters<typeof withoutResidual>[0], readings: readonly PatchReading[]): Characterization => ({
  ...withoutResidual(model),
  residual: noResidual,
  kernel: '',
  readings: readings.length,
})

/** A model of a display's light, and what it leaves of the readings. */
interface Fitted {
  readonly base: Characterization
  readonly smoother: Smoother
}

/** Share of the squared error of what was left out that a model with more parts must come below to be taken. */
const clearly = 0.9

/**
 * The model of the light that readings carry: additive, or with a light that comes with the least channel where white is
 * more than its primaries; and that with drives that couple and a supply that sags. The one that foretells best what it was
 * not given, and the simpler one where the difference is small.
 */
function fitLight(readings: readonly PatchReading[]): Fitted {
  const consider = (model: LightModel) => {
    const base = baseOf(model, readings)
    const left = leftOf(readings, base)
    return { model, base, left, error: roughErrorOf(left) }
  }
  const better = (one: ReturnType<typeof consider>, other: ReturnType<typeof consider>) =>
    other.error < clearly * one.error ? other : one
  const shared = fitWithSharedLight(readings)
  const start =
    shared && surplusOf(shared) > surelyShared
      ? consider(shared)
      : [fitAdditiveModel(readings), ...(shared ? [shared] : [])].map(consider).reduce(better)
  const coupled = fitCoupledModel({
    start: start.model,
    readings,
    levels: greyLevelsOf(readings),
  })
  const { base, left } = better(start, consider(coupled))
  return { base, smoother: fitSmoother(left, chooseSmoothing(left)) }
}

const laidOver = ({ base, smoother }: Fitted, readings: number): Characterization => ({
  ...base,
  residual: smoother.onGrid(gridSize).map((v, i) => v + base.residual[i]),
  kernel: smoother.kernel,
  readings,
})

/** A characterization that readings may be laid smoothly over. */
export interface Overlay {
  /** Mean square of what readings are missed by, each foretold from the others laid over it; ΔE76. */
  readonly error: number
  /** The characterization with what it leaves of the readings laid over it. */
  readonly laid: () => Characterization
}

export function overlaid(c: Characterization, readings: readonly PatchReading[]): Overlay {
  const left = leftOf(readings, c)
  const smoothing = chooseSmoothing(left, true)
  return {
    error: smoothing.error,
    laid: () => laidOver({ base: c, smoother: fitSmoother(left, smoothing) }, readings.length),
  }
}

/**
 * Characterizes a display from readings (signal 0–1, XYZ in cd/m²). Needs what {@link fitAdditiveModel} needs; throws
 * Error naming what is missing.
 */
export const characterize = (readings: readonly PatchReading[]): Characterization =>
  laidOver(fitLight(readings), readings.length)

/** CIELAB under the measured white of colours (signals 0–1) as {@link characterize} would foretell them. */
export function foretell(readings: readonly PatchReading[], colors: readonly Triple[]): Lab[] {
  const { base, smoother } = fitLight(readings)
  const more = smoother.at(Float64Array.from(colors.flat()))
  return colors.map((rgb, i) => add(predictLab(base, rgb), [more[3 * i], more[3 * i + 1], more[3 * i + 2]]))
}

/** Candidates among which the least certain colours are looked for, and readings of which the search takes account. */
const [candidateCount, mostReadings] = [600, 700]

/**
 * Colours (signals 0–1) of which readings tell least so far: what to read next. It is where they were read that tells, not
 * what was found there: the same for the same places and seed.
 */
export function leastCertainColors(readings: readonly PatchReading[], count: number, seed = 1): Triple[] {
  const step = Math.max(1, readings.length / mostReadings)
  const some = Array.from({ length: Math.min(readings.length, mostReadings) }, (_, i) => readings[Math.floor(i * step)])
  const random = uniformFrom(seed)
  const candidates = Float64Array.from({ length: 3 * candidateCount }, () => Math.round(random() * 1023) / 1023)
  const points = Float64Array.from(some.flatMap(({ rgb }) => rgb))
  return leastCertain(points, candidates, count).map((i): Triple => [
    candidates[3 * i],
    candidates[3 * i + 1],
    candidates[3 * i + 2],
  ])
}
