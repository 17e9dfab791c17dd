import { choleskyInPlace, inverseDiagonal, solveCholesky } from './cholesky'
import { pickLeastCertain } from './leastCertain'

/** How alike the residual is at two places of one axis, by their distance. */
export type AxisKernel = (distance: number) => number

const gaussian =
  (length: number): AxisKernel =>
  (d) =>
    Math.exp((-0.5 * d * d) / (length * length))

/** Matérn of order 5/2: twice differentiable, for panels whose electronics have corners. */
const matern =
  (length: number): AxisKernel =>
  (d) => {
    const s = (Math.sqrt(5) * Math.abs(d)) / length
    return (1 + s + (s * s) / 3) * Math.exp(-s)
  }

/** What the fit may choose between: shape and length of the kernel (in signal, 0–1), and the share of noise in a reading. */
interface Kernel {
  readonly name: string
  readonly of: AxisKernel
}
/** The roughest of the kernels, so that no place counts as known but those beside a point. */
const rough: Kernel = { name: 'Matérn 5/2, length 0.8', of: matern(0.8) }

const kernels: readonly Kernel[] = [
  ...[0.6, 1, 1.6].map((l) => ({ name: `Gaussian, length ${l}`, of: gaussian(l) })),
  rough,
  ...[2, 4].map((l) => ({ name: `Matérn 5/2, length ${l}`, of: matern(l) })),
]
/** For what is known to change slowly over the whole cube. */
const smoothKernels: readonly Kernel[] = [1, 1.6, 3].map((l) => ({ name: `Gaussian, length ${l}`, of: gaussian(l) }))
const noiseShares = [1e-7, 1e-5, 1e-3, 3e-2]
const middlingShare = 1e-5

/** Points that take part in the choice of kernel; the fit itself uses all. */
const mostForChoice = 180

/** Scattered values in the RGB cube made into a smooth function. */
export interface Smoother {
  readonly kernel: string
  /** Values of the three outputs at places (3·m numbers). */
  readonly at: (places: Float64Array) => Float64Array
  /** Values of all outputs on a regular grid of `size`³ places, red slowest; 3·size³ numbers. */
  readonly onGrid: (size: number) => Float64Array
}

function kernelMatrix(kernel: AxisKernel, points: Float64Array, noise: Float64Array): Float64Array {
  const n = noise.length
  const a = new Float64Array(n * n)
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++)
      a[i * n + j] =
        kernel(points[3 * i] - points[3 * j]) *
        kernel(points[3 * i + 1] - points[3 * j + 1]) *
        kernel(points[3 * i + 2] - points[3 * j + 2])
    a[i * n + i] += noise[i]
  }
  return a
}

const column = (values: Float64Array, n: number, k: number) =>
  Float64Array.from({ length: n }, (_, i) => values[3 * i + k])

/** Mean square error of predicting each point from all others (closed form). Infinity for an unusable matrix. */
function leaveOneOut(kernel: AxisKernel, points: Float64Array, values: Float64Array, noise: Float64Array): number {
  const n = noise.length
  try {
    const factor = choleskyInPlace(kernelMatrix(kernel, points, noise), n)
    const diagonal = inverseDiagonal(factor, n)
    let sum = 0
    for (let k = 0; k < 3; k++) {
      const weights = solveCholesky(factor, n, column(values, n, k))
      for (let i = 0; i < n; i++) sum += (weights[i] / diagonal[i]) ** 2
    }
    return sum / n
  } catch {
    return Infinity
  }
}

/** Some of the points, evenly from all. */
function someOf({ points, values, noise }: Scattered): Scattered {
  const n = noise.length
  const step = Math.max(1, n / mostForChoice)
  const chosen = Array.from({ length: Math.min(n, mostForChoice) }, (_, i) => Math.floor(i * step))
  const some = (from: Float64Array, width: number) =>
    Float64Array.from(chosen.flatMap((i) => [...from.subarray(width * i, width * (i + 1))]))
  return { points: some(points, 3), values: some(values, 3), noise: some(noise, 1) }
}

/** The kernel and share of noise that predict each of some of the points best from the others. */
function chooseKernel(kernels: readonly Kernel[], all: Scattered) {
  const { points: p, values: v, noise: w } = someOf(all)
  const errorOf = (kernel: Kernel, share: number) =>
    leaveOneOut(
      kernel.of,
      p,
      v,
      w.map((x) => x * share),
    )
  // First the shape at a middling share of noise, then the share for that shape: seldom worse than trying all pairs.
  let best = { error: Infinity, kernel: kernels[0], share: noiseShares[noiseShares.length - 1] }
  const consider = (kernel: Kernel, share: number) => {
    const error = errorOf(kernel, share)
    if (error < best.error) best = { error, kernel, share }
  }
  kernels.forEach((kernel) => consider(kernel, middlingShare))
  const { kernel } = best
  noiseShares.filter((share) => share !== middlingShare).forEach((share) => consider(kernel, share))
  return best
}

/** The factor of all points' matrix; the share of noise grows where they are too alike for so little of it. */
function factorize(kernel: AxisKernel, points: Float64Array, noise: Float64Array, share: number) {
  for (let s = share; ; s *= 10) {
    const scaled = noise.map((x) => x * s)
    try {
      return { factor: choleskyInPlace(kernelMatrix(kernel, points, scaled), noise.length), share: s }
    } catch (error) {
      if (s > 1e3) throw error
    }
  }
}

/** Scattered values: `points` and `values` hold 3·n numbers (places in 0–1 and three outputs), `noise` n relative variances. */
export interface Scattered {
  readonly points: Float64Array
  readonly values: Float64Array
  /** 1 for a usual reading. */
  readonly noise: Float64Array
}

/** How scattered values may be smoothed, chosen by what each of them is foretold from the others. */
export interface Smoothing {
  readonly kernel: Kernel
  readonly share: number
  /** Mean square error of predicting each point from all others. */
  readonly error: number
}

/** By which kernel, and shares of noise, two models are compared, before one is chosen for the better of them. */
const [middling, comparedBy] = [matern(2), [middlingShare, 1e-3]] as const

/** About what {@link chooseSmoothing} would come to, in a fifth of its time: for what is compared with others. */
export const roughErrorOf = (scattered: Scattered): number => {
  const { points, values, noise } = someOf(scattered)
  const errorAt = (share: number) =>
    leaveOneOut(
      middling,
      points,
      values,
      noise.map((x) => x * share),
    )
  return Math.min(...comparedBy.map(errorAt))
}

/** The kind and length of the kernel and the share of noise that do best. */
export const chooseSmoothing = (scattered: Scattered, smoothly = false): Smoothing =>
  chooseKernel(smoothly ? smoothKernels : kernels, scattered)

/**
 * A smooth function through scattered values: Gaussian process regression with a separable kernel. C. E. Rasmussen,
 * C. K. I. Williams, Gaussian Processes for Machine Learning, 2006, §2.2 and §5.4.2.
 */
export function fitSmoother({ points, values, noise }: Scattered, { kernel, share: least }: Smoothing): Smoother {
  const n = noise.length
  const { factor } = factorize(kernel.of, points, noise, least)
  const weights = [0, 1, 2].map((k) => solveCholesky(factor, n, column(values, n, k)))
  return {
    kernel: kernel.name,
    at: (places) => evaluateAt(kernel.of, points, weights, places),
    onGrid: (size) => evaluateOnGrid(kernel.of, points, weights, size),
  }
}

/** Indices of the `count` candidates (3·m numbers) of which points (3·n) tell least, whatever was found there; the least certain first. */
export function leastCertain(points: Float64Array, candidates: Float64Array, count: number): number[] {
  const { factor, share } = factorize(rough.of, points, new Float64Array(points.length / 3).fill(1), middlingShare)
  return pickLeastCertain(rough.of, points, factor, share, candidates, count)
}

function evaluateAt(kernel: AxisKernel, points: Float64Array, weights: readonly Float64Array[], places: Float64Array) {
  const out = new Float64Array(places.length)
  for (let i = 0; i < places.length; i += 3)
    for (let j = 0; j < points.length; j += 3) {
      const alike =
        kernel(points[j] - places[i]) * kernel(points[j + 1] - places[i + 1]) * kernel(points[j + 2] - places[i + 2])
      for (let k = 0; k < 3; k++) out[i + k] += alike * weights[k][j / 3]
    }
  return out
}

/** The kernel is a product over axes, so each axis is tabulated once and the sum needs no further exponentials. */
function evaluateOnGrid(kernel: AxisKernel, points: Float64Array, weights: readonly Float64Array[], size: number) {
  const n = weights[0].length
  const axis = [0, 1, 2].map((k) => {
    const table = new Float64Array(size * n)
    for (let i = 0; i < size; i++)
      for (let c = 0; c < n; c++) table[i * n + c] = kernel(points[3 * c + k] - i / (size - 1))
    return table
  })
  const [first, second, third] = weights
  const blue = axis[2]
  const out = new Float64Array(3 * size ** 3)
  const both = new Float64Array(3 * n)
  for (let r = 0, at = 0; r < size; r++)
    for (let g = 0; g < size; g++) {
      for (let c = 0; c < n; c++) {
        const k = axis[0][r * n + c] * axis[1][g * n + c]
        both[3 * c] = k * first[c]
        both[3 * c + 1] = k * second[c]
        both[3 * c + 2] = k * third[c]
      }
      // Two places at once, so that each product of weights is read once for both.
      for (let b = 0; b < size; b += 2, at += 6) {
        const row = b * n
        const next = b + 1 < size ? row + n : row
        let s0 = 0
        let s1 = 0
        let s2 = 0
        let t0 = 0
        let t1 = 0
        let t2 = 0
        for (let c = 0, c3 = 0; c < n; c++, c3 += 3) {
          const k = blue[row + c]
          const l = blue[next + c]
          const w0 = both[c3]
          const w1 = both[c3 + 1]
          const w2 = both[c3 + 2]
          s0 += k * w0
          s1 += k * w1
          s2 += k * w2
          t0 += l * w0
          t1 += l * w1
          t2 += l * w2
        }
        out[at] = s0
        out[at + 1] = s1
        out[at + 2] = s2
        if (next === row) {
          at -= 3
          continue
        }
        out[at + 3] = t0
        out[at + 4] = t1
        out[at + 5] = t2
      }
    }
  return out
}
