import { normalFrom, uniformFrom } from '../../basics/random'
import { convertXyzToUv, convertChromaticityToXyz, deltaUv, type XYZ } from '../../color/chromaticity'
import { invert, multiplyVector, transpose, type Matrix3 } from '../../color/matrix3'
import type { PatchReading } from '../../color/patchReading'
import type { ResolvedAim } from '../aim'
import { limitedMetrics } from '../limitedMetrics'
import { formulaOf, type Doubt, type LimitRule, type Limits } from '../limits'
import { computeMetrics, type Metrics } from '../metrics'
import { calmed, drawCommon, intervalOf, lightsOf, noLess, shake, withoutBias, type Normal } from './imagine'
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
    const common = drawCommon(spreads, lights, back, () => normal)
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
    return (value) => calmed(value, values)
  })
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
          : [
              {
                xyz: multiplyVector(
                  drawCommon(own, lights, back, () => normal),
                  white,
                ),
              },
            ]
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
