import { normalFrom, uniformFrom } from '../../basics/random'
import { convertXyzToUv, convertChromaticityToXyz, deltaUv, type XYZ } from '../../color/chromaticity'
import { diagonal, invert, multiply, multiplyVector, subtract, transpose, type Matrix3 } from '../../color/matrix3'
import type { PatchReading } from '../../color/patchReading'
import type { ResolvedAim } from '../aim'
import { limitedMetrics } from '../limitedMetrics'
import { formulaOf, type Doubt, type Interval, type LimitRule, type Limits } from '../limits'
import { computeMetrics, type Metrics } from '../metrics'
import { percentile } from '../percentile'
import {
  commonSpreads,
  doubtParts,
  type CommonSpread,
  type CorrectionOrigin,
  type DoubtPart,
  type InstrumentFacts,
  type WhiteMove,
} from './instrumentDoubt'
import { noiseByLevel, type ReadingNoise } from './noise'

/** Times that the truth is imagined. */
const draws = 200
/** Times that noise alone is imagined. */
const noiseDraws = 12
/** White's own part of the doubt: times, for each cause. */
const partDraws = 60
/** A figure without bound, such as the contrast of a black without light, is past any edge: it is held to this. */
const most = 1e9

/** Corrections by which nothing counts as within. */
const unsureBy: Readonly<Partial<Record<CorrectionOrigin, string>>> = {
  'other kind': 'the instrument is corrected for another kind of panel',
}

type Normal = () => number

/** Columns: the light of red, green and blue as it was read, above black; null where they were not read, or give none. */
function lightsOf(readings: readonly PatchReading[]): Matrix3 | null {
  const find = (r: number, g: number, b: number) =>
    readings.find(({ rgb }) => rgb[0] === r && rgb[1] === g && rgb[2] === b)?.xyz
  const black = find(0, 0, 0) ?? [0, 0, 0]
  const columns = [find(1, 0, 0), find(0, 1, 0), find(0, 0, 1)].map((xyz) => xyz && subtract(xyz, black))
  if (!columns.every((c): c is XYZ => c !== undefined && Math.min(...c) >= 0 && c[1] > 0)) return null
  return transpose(columns as [XYZ, XYZ, XYZ])
}

/** What readings would have to be multiplied by, were what is wrong with them alike drawn from these. */
function drawCommon(spreads: readonly CommonSpread[], lights: Matrix3, back: Matrix3, normal: Normal): Matrix3 {
  const columns = transpose(lights)
  const uv = columns.map(convertXyzToUv)
  const shifts = columns.map(() => ({ u: 0, v: 0, amount: 0 }))
  let cells: [number, number, number] = [0, 0, 0]
  for (const spread of spreads) {
    const all = (spread.all ?? 0) * normal()
    cells = cells.map((c, k) => c + all + (spread.cells?.[k] ?? 0) * normal()) as typeof cells
    spread.lights?.forEach((of, k) => {
      shifts[k].u += of.u * normal()
      shifts[k].v += of.v * normal()
      shifts[k].amount += of.amount * normal()
    })
  }
  const moved = columns.map(([x, y, z], k): XYZ => {
    const u = Math.max(0.001, uv[k].u + shifts[k].u)
    const v = Math.max(0.01, uv[k].v + shifts[k].v)
    // Another colour of as much light: its sum stays, and its luminance follows v′.
    const sum = (x + 15 * y + 3 * z) * Math.exp(shifts[k].amount)
    return [(u * sum) / 4, (v * sum) / 9, Math.max(0, sum * (1 - u / 4 - (15 * v) / 9)) / 3]
  }) as [XYZ, XYZ, XYZ]
  const gains = diagonal(cells.map((c) => Math.exp(c)) as never)
  return multiply(gains, multiply(transpose(moved), back))
}

/** The light of an aim's primaries, where a display's own were not read. */
const aimLights = ({ primaries: { red, green, blue } }: ResolvedAim): Matrix3 =>
  transpose([convertChromaticityToXyz(red), convertChromaticityToXyz(green), convertChromaticityToXyz(blue)])

/** The lights that readings are made of, and the way back from XYZ; the aim's where those that were read lie on one line. */
function lightsBothWays(readings: readonly PatchReading[], aim: ResolvedAim): { lights: Matrix3; back: Matrix3 } {
  const own = lightsOf(readings)
  const back = own && backFrom(own)
  if (own && back) return { lights: own, back }
  const lights = aimLights(aim)
  return { lights, back: invert(lights) }
}

function backFrom(lights: Matrix3): Matrix3 | null {
  try {
    const back = invert(lights)
    return back.flat().every(Number.isFinite) ? back : null
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

const noLess = ([x, y, z]: XYZ): XYZ => [Math.max(0, x), Math.max(0, y), Math.max(0, z)]

function shake(readings: readonly PatchReading[], at: (luminance: number) => ReadingNoise, normal: Normal) {
  return readings.map((p): PatchReading => {
    const { luminance, x, z } = at(p.xyz[1])
    const y = luminance * normal()
    return {
      ...p,
      xyz: noLess([p.xyz[0] * (1 + y + x * normal()), p.xyz[1] * (1 + y), p.xyz[2] * (1 + y + z * normal())]),
    }
  })
}

/** Metrics of imagined readings; null for ones of no display at all. */
function imagined(readings: readonly PatchReading[], aim: ResolvedAim): Metrics | null {
  try {
    return computeMetrics(readings, aim, { temperatures: false })
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

const valueOf = (metrics: Metrics, limits: Limits, { metric, levels }: LimitRule) => {
  const value = limitedMetrics[metric].of(metrics, { formula: formulaOf(limits), levels })?.value
  return value === undefined ? null : Math.min(value, most)
}

/**
 * Between what each rule's figure lies, 95 times of 100, by all that is known of the instrument: the truth is imagined
 * again and again, each time with something else wrong with all readings alike and with the noise of each taken off, and
 * judged anew (JCGM 101; no figure of these is linear in its readings). What noise adds to a figure on average, as it does
 * to differences, is taken off. Deterministic by `seed`. The readings must hold a white (RangeError).
 */
export function figureDoubt(
  readings: readonly PatchReading[],
  aim: ResolvedAim,
  limits: Limits,
  instrument: InstrumentFacts,
  moved: WhiteMove,
  seed = 1,
): Doubt {
  const seen = computeMetrics(readings, aim, { temperatures: false })
  const white = readings.find(({ rgb }) => rgb.every((v) => v === 1))!.xyz
  const { lights, back } = lightsBothWays(readings, aim)
  const spreads = commonSpreads(instrument, moved)
  const at = noiseByLevel(instrument.noise, white[1])
  const normal = normalFrom(uniformFrom(seed))
  const drawn = limits.rules.map((): { calm: number; noisy: number }[] => [])
  for (let n = 0; n < draws; n++) {
    const common = drawCommon(spreads, lights, back, normal)
    const truth = readings.map((p): PatchReading => ({ ...p, xyz: noLess(multiplyVector(common, p.xyz)) }))
    const [calm, noisy] = [imagined(truth, aim), imagined(shake(truth, at, normal), aim)]
    limits.rules.forEach((rule, i) => {
      const of = { calm: calm && valueOf(calm, limits, rule), noisy: noisy && valueOf(noisy, limits, rule) }
      if (of.calm !== null && of.noisy !== null) drawn[i].push(of as { calm: number; noisy: number })
    })
  }
  const calmer = withoutNoise(readings, aim, limits, at, normal)
  return {
    intervals: limits.rules.map((rule, i) => {
      const value = valueOf(seen, limits, rule)
      return value === null || drawn[i].length < draws / 2
        ? null
        : intervalOf(withoutBias(drawn[i]), value, calmer[i](value))
    }),
    unsure: unsureBy[instrument.origin] ?? null,
    mostly: mostOf(spreads, lights, back, at(white[1]), white, normal),
  }
}

/**
 * By rule, what is left of a figure when noise is taken off. Noise adds to differences by squares: shaken once more, they
 * grow by as much as they had grown.
 */
function withoutNoise(
  readings: readonly PatchReading[],
  aim: ResolvedAim,
  limits: Limits,
  at: (luminance: number) => ReadingNoise,
  normal: Normal,
): ((value: number) => number)[] {
  const shaken = Array.from({ length: noiseDraws }, () => imagined(shake(readings, at, normal), aim))
  return limits.rules.map((rule) => {
    const values = shaken.flatMap((m) => (m && valueOf(m, limits, rule)) ?? [])
    const squares = values.reduce((sum, v) => sum + v * v, 0) / Math.max(1, values.length)
    return (value) =>
      values.length ? Math.sqrt(Math.max(0, 2 * value * value - Math.max(value * value, squares))) : value
  })
}

/** Figures as they are drawn with noise, less what noise adds to them on average. */
function withoutBias(drawn: readonly { readonly calm: number; readonly noisy: number }[]): number[] {
  const added = drawn.reduce((sum, { calm, noisy }) => sum + noisy - calm, 0) / drawn.length
  return drawn.map(({ noisy }) => Math.max(0, noisy - added))
}

/**
 * The 95 of 100 in the middle; where what was seen lies below them, as differences do that a run brought near to none, what
 * lies between it, noise taken off (`calm`), and the 95th.
 */
function intervalOf(values: readonly number[], seen: number, calm: number): Interval {
  const [low, high] = [percentile(values, 0.025), percentile(values, 0.975)]
  if (seen < low) return { low: Math.min(calm, seen), high: Math.max(seen, percentile(values, 0.95)) }
  if (seen > high) return { low: percentile(values, 0.05), high: seen }
  return { low, high }
}

/** The cause that moves white furthest. */
function mostOf(
  spreads: readonly CommonSpread[],
  lights: Matrix3,
  back: Matrix3,
  noise: ReadingNoise,
  white: XYZ,
  normal: Normal,
): DoubtPart {
  const from = convertXyzToUv(white)
  const sizeOf = (part: DoubtPart) => {
    const own = spreads.filter((s) => s.part === part)
    let sum = 0
    for (let n = 0; n < partDraws; n++) {
      const [shaken] =
        part === 'noise'
          ? shake([{ name: '', rgb: [1, 1, 1], xyz: white }], () => noise, normal)
          : [{ xyz: multiplyVector(drawCommon(own, lights, back, normal), white) }]
      // A per cent of luminance counts as much as the Δu′v′ of 0.001 that is as hard to see.
      sum += !(shaken.xyz[1] > 0)
        ? 1
        : deltaUv(convertXyzToUv(shaken.xyz), from) ** 2 + (0.1 * (shaken.xyz[1] / white[1] - 1)) ** 2
    }
    return sum
  }
  const sizes = doubtParts.map((part) => ({ part, size: sizeOf(part) }))
  return sizes.reduce((a, b) => (b.size > a.size ? b : a)).part
}
