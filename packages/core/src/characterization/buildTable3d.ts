import { aimTargets, resolveAim, type Aim, type ResolvedAim } from '../aims/aim'
import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { uniformFrom } from '../basics/random'
import { termsOfDeltaE94 } from '../color/differences'
import { convertXyzToLab } from '../color/lab'
import { invert, multiplyVector, scale, subtract, type Triple } from '../color/matrix3'
import { fitGrid3d, type GridSamples } from '../tables/fitGrid3d'
import { roundGrid3d, type RoundedFor } from '../tables/roundGrid3d'
import { fineBits, toInteger } from '../tables/slotTables'
import { applyTetrahedral, levelGreys, roughnessOf, smoothTable3d, type Table3D } from '../tables/table3d'
import { codeOfSignal, signalOfCode, type SignalRange } from '../tables/signalRange'
import { channelColumns, predictLabInto, type Characterization } from './characterization'
import { makeInverter } from './inversion'

/** An aim made to fit a characterized display, and how bright the display can be at the aim's white. */
export interface FittedAim {
  readonly aim: ResolvedAim
  /** The largest luminance at the aim's white, cd/m². */
  readonly reachable: number
}

/**
 * Fills an aim in from a characterized display. A luminance that the display cannot reach at the aim's white becomes the
 * largest that it can.
 */
export function fitAim(aim: Aim, c: Characterization): FittedAim {
  const columns = channelColumns(c)
  const column = (k: 0 | 1 | 2): XYZ => [columns[0][k], columns[1][k], columns[2][k]]
  const panel = {
    white: convertXyzToChromaticity(c.white),
    black: c.black,
    primaries: {
      red: convertXyzToChromaticity(column(0)),
      green: convertXyzToChromaticity(column(1)),
      blue: convertXyzToChromaticity(column(2)),
    },
  }
  const wanted = resolveAim(aim, panel)
  const back = invert(columns)
  /** The largest channel that a luminance at the aim's white needs. */
  const needed = (luminance: number) =>
    Math.max(...multiplyVector(back, subtract(scale(wanted.white, luminance / wanted.white[1]), c.black)))
  const [at0, at1] = [needed(0), needed(1)]
  const reachable = (1 - at0) / (at1 - at0)
  // Crosstalk can take a little from what the additive part promises.
  const luminance = Math.min(aim.luminance, reachable * 0.999)
  return { aim: luminance < aim.luminance ? resolveAim({ ...aim, luminance }, panel) : wanted, reachable }
}

export interface Table3dOptions {
  /** Nodes along each axis, 9–65. */
  readonly size: number
  readonly range?: SignalRange
  /** Bits of the code values, for a limited range: 8, 10, 12 or 16. */
  readonly bits?: number
  /** What stands at a node in place of a drive 0–1, rising in it: of a table with curves behind it. The drive unless given. */
  readonly heldFor?: (drive: number, channel: number) => number
}

/** Nodes along an axis up to which a table is fitted to what lies between them: of drives, and of what is nearly straight. */
const [mostFitted, mostFittedWithCurves] = [20, 12]
/** Places between nodes along each axis at which a table is looked at: every half step of a small one, fewer of a large. */
const placesAlong = (size: number) => (size <= 12 ? 2 * size - 1 : size + 8)
/** Step of the numeric slope of a colour over a drive, and how much more a grey counts. */
const [slopeStep, greyWeight] = [1 / 512, 6]
/** ΔE76 over a whole drive that counts at most. */
const steepest = 400

/** What a table shall do between its nodes, and how colour changes there with what stands in it. */
interface Between extends GridSamples {
  /** CIELAB for each channel's value in turn, nine to a sample. */
  readonly slopes: Float64Array
}

/**
 * Samples lie close together near black, where a step of signal is a large step of colour. `shown`: a table as it was fitted
 * before; how colour changes is then seen over the way from what is wanted to what it gives, for near black light starts flat
 * and a short step would see nothing of a long one.
 */
function between(
  c: Characterization,
  aim: ResolvedAim,
  { size, range = 'full', bits = 10, heldFor = (drive) => drive }: Table3dOptions,
  shown?: Table3D,
): Between {
  const target = aimTargets(aim)
  const { intoSignal } = makeInverter(c)
  const count = placesAlong(size)
  const codes = Array.from({ length: count }, (_, i) => (i / (count - 1)) ** 1.25)
  const signals = codes.map((code) => Math.min(1, Math.max(0, signalOfCode(code, range, bits))))
  const places = new Float64Array(3 * count ** 3)
  const wanted = new Float64Array(places.length)
  const weights = new Float64Array(places.length)
  const slopes = new Float64Array(3 * places.length)
  const [found, lab, moved] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)]
  for (let i = 0, at = 0; i < count; i++)
    for (let j = 0; j < count; j++)
      for (let k = 0; k < count; k++, at += 3) {
        places.set([codes[i], codes[j], codes[k]], at)
        const [L, a, b] = convertXyzToLab(target([signals[i], signals[j], signals[k]]), c.white)
        intoSignal(L, a, b, found)
        predictLabInto(c, found[0], found[1], found[2], lab)
        const given = shown && applyTetrahedral(shown, [codes[i], codes[j], codes[k]])
        for (let q = 0; q < 3; q++) {
          const there = Float64Array.from(found)
          const step = given ? signalOfCode(given[q], range, bits) - found[q] : 0
          there[q] += Math.abs(step) > slopeStep ? step : there[q] > 0.5 ? -slopeStep : slopeStep
          predictLabInto(c, there[0], there[1], there[2], moved)
          wanted[at + q] = heldFor(codeOfSignal(found[q], range, bits), q)
          const apart = heldFor(codeOfSignal(there[q], range, bits), q) - wanted[at + q]
          const whole =
            Math.hypot(moved[0] - lab[0], moved[1] - lab[1], moved[2] - lab[2]) / Math.max(1e-6, Math.abs(apart))
          // A step of the drive that changes nothing counts nothing, and none counts without end.
          const slope = Math.min(steepest, whole)
          const counts = i === j && j === k ? greyWeight : 1
          weights[at + q] = slope ** 2 * counts
          const share = whole && apart ? (Math.sqrt(counts) * slope) / (whole * apart) : 0
          slopes.set(
            scale(termsOfDeltaE94([L, a, b], [moved[0] - lab[0], moved[1] - lab[1], moved[2] - lab[2]]), share),
            3 * (at + q),
          )
        }
      }
  return { places, wanted, weights, slopes }
}

/** Places between the nodes of a large table at which it is looked at: so many in each cell, and more in those of greys. */
const [inEachCell, inCellsOfGreys] = [2, 8]

/**
 * What a table gives between its nodes, and how colour changes there with what stands in it: what its integers shall come to.
 * `drives`: the table of which it was made.
 */
function asItIs(
  c: Characterization,
  table: Table3D,
  drives: Table3D,
  { size, range = 'full', bits = 10, heldFor = (drive) => drive }: Table3dOptions,
): RoundedFor {
  const cells = size - 1
  const random = uniformFrom(size)
  const places: number[] = []
  for (let i = 0; i < cells; i++)
    for (let j = 0; j < cells; j++)
      for (let k = 0; k < cells; k++) {
        const count = i === j && j === k ? inCellsOfGreys : inEachCell
        for (let n = 0; n < count; n++)
          places.push((i + random()) / cells, (j + random()) / cells, (k + random()) / cells)
      }
  const wanted = new Float64Array(places.length)
  const slopes = new Float64Array(3 * places.length)
  const [lab, moved] = [new Float64Array(3), new Float64Array(3)]
  for (let at = 0; at < places.length; at += 3) {
    const place: Triple = [places[at], places[at + 1], places[at + 2]]
    wanted.set(applyTetrahedral(table, place), at)
    const drive = applyTetrahedral(drives, place).map((code) => signalOfCode(code, range, bits))
    predictLabInto(c, drive[0], drive[1], drive[2], lab)
    for (let q = 0; q < 3; q++) {
      const there = [...drive]
      there[q] += there[q] > 0.5 ? -slopeStep : slopeStep
      predictLabInto(c, there[0], there[1], there[2], moved)
      const held = (signal: number) => heldFor(codeOfSignal(signal, range, bits), q)
      const apart = held(there[q]) - held(drive[q])
      if (!apart) continue
      const terms = termsOfDeltaE94([lab[0], lab[1], lab[2]], [moved[0] - lab[0], moved[1] - lab[1], moved[2] - lab[2]])
      // A step of the drive that changes nothing counts nothing, and none counts without end.
      slopes.set(
        scale(terms, Math.min(1 / Math.abs(apart), steepest / Math.hypot(...terms)) * Math.sign(apart)),
        3 * (at + q),
      )
    }
  }
  return { places: Float64Array.from(places), wanted, slopes }
}

/** How far a node may stand from the mean of its neighbours, in steps of the grid. */
const roughest = 1.5

/** A table, and what it was fitted to; null for one so large that interpolation leaves nothing worth it. */
interface FittedTable {
  readonly table: Table3D
  /** The same before anything is made of its drives by what lies behind it. */
  readonly drives: Table3D
  readonly samples: RoundedFor | null
}

function fitTable(c: Characterization, aim: ResolvedAim, options: Table3dOptions): FittedTable {
  const { size, range = 'full', bits = 10, heldFor = (drive) => drive } = options
  if (!(Number.isInteger(size) && size >= 9 && size <= 65))
    throw new RangeError('A 3D table has 9 to 65 nodes along each axis.')
  const target = aimTargets(aim)
  const { intoSignal } = makeInverter(c)
  const values = new Float64Array(3 * size ** 3)
  const signals = Array.from({ length: size }, (_, i) => signalOfCode(i / (size - 1), range, bits))
  const inside = signals.map((s) => Math.min(1, Math.max(0, s)))
  const found = new Float64Array(3)
  for (let i = 0, at = 0; i < size; i++)
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++, at += 3) {
        const [L, a, b] = convertXyzToLab(target([inside[i], inside[j], inside[k]]), c.white)
        intoSignal(L, a, b, found)
        // Below black and above white the table goes on straight, so that both ends fall where they should.
        const beyond = [signals[i] - inside[i], signals[j] - inside[j], signals[k] - inside[k]]
        for (let q = 0; q < 3; q++)
          values[at + q] = Math.min(1, Math.max(0, codeOfSignal(found[q] + beyond[q], range, bits)))
      }
  const levelled = levelGreys({ size, values })
  const bound = roughest / (size - 1)
  const drives = roughnessOf(levelled) <= bound ? levelled : levelGreys(smoothTable3d(levelled, bound))
  const held = drives.values.map((drive, i) => heldFor(drive, i % 3))
  if (size > (options.heldFor ? mostFittedWithCurves : mostFitted))
    return { table: levelGreys({ size, values: held }), drives, samples: null }
  const clamped = (of: Float64Array) => of.map((v) => Math.min(1, Math.max(0, v)))
  let samples = between(c, aim, { size, range, bits, heldFor })
  let fitted = fitGrid3d(size, held, samples)
  if (!options.heldFor) {
    samples = between(c, aim, { size, range, bits }, { size, values: clamped(fitted) })
    fitted = fitGrid3d(size, held, samples)
  }
  const whole = levelGreys({ size, values: clamped(fitted) })
  return { table: roughnessOf(whole) <= bound ? whole : levelGreys(smoothTable3d(whole, bound)), drives, samples }
}

/**
 * A 3D table that brings a characterized display to an aim: signal in, signal for the display out. Colours that the
 * display cannot show go to the nearest that it can, hue kept. Greys never step back, and no node stands further than
 * 1.5 steps of the grid from the mean of its neighbours. Throws RangeError on a size outside 9–65.
 */
export const buildTable3d = (c: Characterization, aim: ResolvedAim, options: Table3dOptions): Table3D =>
  fitTable(c, aim, options).table

/**
 * The same in integers of so many bits (0 to 2^bits − 1, red slowest). Where these are coarse, they are the ones with which
 * colours between the nodes come out best together, and not each the nearest to its own node.
 */
export function buildGrid(
  c: Characterization,
  aim: ResolvedAim,
  { integerBits, ...options }: Table3dOptions & { readonly integerBits: number },
): number[] {
  const { table, drives, samples } = fitTable(c, aim, options)
  const looked =
    integerBits >= fineBits ? null : options.size > mostFitted ? asItIs(c, table, drives, options) : samples
  return looked ? roundGrid3d(table, looked, integerBits) : Array.from(table.values, (v) => toInteger(v, integerBits))
}
