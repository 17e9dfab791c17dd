import { aimTargets, type ResolvedAim } from '../aims/aim'
import { uniformFrom } from '../basics/random'
import { termsOfDeltaE94 } from '../color/differences'
import { convertXyzToLab, type Lab } from '../color/lab'
import { scale, type Triple } from '../color/matrix3'
import type { GridSamples } from '../tables/fitGrid3d'
import type { RoundedFor } from '../tables/roundGrid3d'
import { codeOfSignal, signalOfCode, type SignalRange } from '../tables/signalRange'
import { applyTetrahedral, type Table3D } from '../tables/table3d'
import { predictLabInto, type Characterization } from './characterization'
import { makeInverter } from './inversion'

export interface Table3dOptions {
  /** Nodes along each axis, 9–65. */
  readonly size: number
  readonly range?: SignalRange
  /** Bits of the code values, for a limited range: 8, 10, 12 or 16. */
  readonly bits?: number
  /** What stands at a node in place of a drive 0–1, rising in it: of a table with curves behind it. The drive unless given. */
  readonly heldFor?: (drive: number, channel: number) => number
}

/** Places between nodes along each axis at which a table is looked at: every half step of a small one, fewer of a large. */
const placesAlong = (size: number) => (size <= 12 ? 2 * size - 1 : size + 8)
/** Step of the numeric slope of a colour over a drive, and how much more a grey counts. */
const [slopeStep, greyWeight] = [1 / 512, 6]
/** ΔE76 over a whole drive that counts at most. */
const steepest = 400

/** Towards the middle, for a drive ends at 0 and 1. */
const shortStep = (drive: number) => (drive > 0.5 ? -slopeStep : slopeStep)

/** What a step of one channel's drive does. */
interface Moved {
  /** To what stands for the drive. */
  readonly held: number
  /** To the colour, CIELAB. */
  readonly seen: Lab
}

/**
 * What a step of a channel's drive does to what stands for it, and to colour. `drives`: signals 0–1; of many, one after
 * another, what is seen where nothing moves is worked out once.
 */
function movesOf(c: Characterization, { range = 'full', bits = 10, heldFor = (drive) => drive }: Table3dOptions) {
  const [lab, moved] = [new Float64Array(3), new Float64Array(3)]
  const heldOf = (signal: number, q: number) => heldFor(codeOfSignal(signal, range, bits), q)
  return (drives: Float64Array) => {
    predictLabInto(c, drives[0], drives[1], drives[2], lab)
    return {
      lab: [lab[0], lab[1], lab[2]] as Lab,
      heldOf: (q: number) => heldOf(drives[q], q),
      by: (q: number, step: number): Moved => {
        const there = Float64Array.from(drives)
        there[q] += step
        predictLabInto(c, there[0], there[1], there[2], moved)
        return {
          held: heldOf(there[q], q) - heldOf(drives[q], q),
          seen: [moved[0] - lab[0], moved[1] - lab[1], moved[2] - lab[2]],
        }
      },
    }
  }
}

/** How much of a colour changes with a whole of what stands for a drive: a step that changes nothing counts nothing, and none counts without end. */
const slopeOf = ({ held, seen }: Moved) => Math.min(steepest, Math.hypot(...seen) / Math.max(1e-6, Math.abs(held)))

/** The terms of that as ΔE94 has them around a colour. */
function termsFor(lab: Lab, moved: Moved): Lab {
  const distance = Math.hypot(...moved.seen)
  const share = moved.held && distance ? (Math.sign(moved.held) * slopeOf(moved)) / distance : 0
  return scale(termsOfDeltaE94(lab, moved.seen), share)
}

/** What a table shall do between its nodes, and how colour changes there with what stands in it. */
export type Between = GridSamples & RoundedFor

/**
 * What a table shall do between its nodes. Samples lie close together near black, where a step of signal is a large step of
 * colour. `shown`: a table as it was fitted before; how colour changes is then seen over the way from what is wanted to what it
 * gives, for near black light starts flat and a short step would see nothing of a long one.
 */
export function wantedBetween(
  c: Characterization,
  aim: ResolvedAim,
  options: Table3dOptions,
  shown?: Table3D,
): Between {
  const { size, range = 'full', bits = 10 } = options
  const target = aimTargets(aim)
  const { intoSignal } = makeInverter(c)
  const moves = movesOf(c, options)
  const count = placesAlong(size)
  const codes = Array.from({ length: count }, (_, i) => (i / (count - 1)) ** 1.25)
  const signals = codes.map((code) => Math.min(1, Math.max(0, signalOfCode(code, range, bits))))
  const places = new Float64Array(3 * count ** 3)
  const wanted = new Float64Array(places.length)
  const weights = new Float64Array(places.length)
  const slopes = new Float64Array(3 * places.length)
  const found = new Float64Array(3)
  for (let i = 0, at = 0; i < count; i++)
    for (let j = 0; j < count; j++)
      for (let k = 0; k < count; k++, at += 3) {
        places.set([codes[i], codes[j], codes[k]], at)
        const lab = convertXyzToLab(target([signals[i], signals[j], signals[k]]), c.white)
        intoSignal(lab[0], lab[1], lab[2], found)
        const { heldOf, by } = moves(found)
        const given = shown && applyTetrahedral(shown, [codes[i], codes[j], codes[k]])
        const counts = i === j && j === k ? greyWeight : 1
        for (let q = 0; q < 3; q++) {
          const step = given ? signalOfCode(given[q], range, bits) - found[q] : 0
          const moved = by(q, Math.abs(step) > slopeStep ? step : shortStep(found[q]))
          wanted[at + q] = heldOf(q)
          weights[at + q] = slopeOf(moved) ** 2 * counts
          slopes.set(scale(termsFor(lab, moved), Math.sqrt(counts)), 3 * (at + q))
        }
      }
  return { places, wanted, weights, slopes }
}

/** Places between the nodes of a large table at which it is looked at: so many in each cell, and more in those of greys. */
const [inEachCell, inCellsOfGreys] = [2, 8]

/** Places in every cell of a table, three numbers each. */
function placesInCells(size: number): Float64Array {
  const cells = size - 1
  const random = uniformFrom(size)
  const places: number[] = []
  for (let i = 0; i < cells; i++)
    for (let j = 0; j < cells; j++)
      for (let k = 0; k < cells; k++)
        for (let n = i === j && j === k ? inCellsOfGreys : inEachCell; n > 0; n--)
          places.push((i + random()) / cells, (j + random()) / cells, (k + random()) / cells)
  return Float64Array.from(places)
}

/**
 * What a table gives between its nodes, and how colour changes there with what stands in it: what its integers shall come to.
 * `drives`: the table of which it was made.
 */
export function givenBetween(
  c: Characterization,
  table: Table3D,
  drives: Table3D,
  options: Table3dOptions,
): RoundedFor {
  const { size, range = 'full', bits = 10 } = options
  const moves = movesOf(c, options)
  const places = placesInCells(size)
  const wanted = new Float64Array(places.length)
  const slopes = new Float64Array(3 * places.length)
  for (let at = 0; at < places.length; at += 3) {
    const place: Triple = [places[at], places[at + 1], places[at + 2]]
    wanted.set(applyTetrahedral(table, place), at)
    const drive = Float64Array.from(applyTetrahedral(drives, place), (code) => signalOfCode(code, range, bits))
    const { lab, by } = moves(drive)
    for (let q = 0; q < 3; q++) slopes.set(termsFor(lab, by(q, shortStep(drive[q]))), 3 * (at + q))
  }
  return { places, wanted, slopes }
}
