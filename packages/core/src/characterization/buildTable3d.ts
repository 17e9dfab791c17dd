import { aimTargets, type ResolvedAim } from '../aims/aim'
import { convertXyzToLab } from '../color/lab'
import { fitGrid3d } from '../tables/fitGrid3d'
import { roundGrid3d, type RoundedFor } from '../tables/roundGrid3d'
import { fineBits, toInteger } from '../tables/slotTables'
import { levelGreys, roughnessOf, smoothTable3d, type Table3D } from '../tables/table3d'
import { codeOfSignal, signalOfCode } from '../tables/signalRange'
import type { Characterization } from './characterization'
import { makeInverter } from './inversion'
import { givenBetween, wantedBetween, type Table3dOptions } from './table3dSamples'

/** Nodes along an axis up to which a table is fitted to what lies between them: of drives, and of what is nearly straight. */
const [mostFitted, mostFittedWithCurves] = [20, 12]
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
  let samples = wantedBetween(c, aim, { size, range, bits, heldFor })
  let fitted = fitGrid3d(size, held, samples)
  if (!options.heldFor) {
    samples = wantedBetween(c, aim, { size, range, bits }, { size, values: clamped(fitted) })
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
 * colours between the nodes come out best together, and not each the nearest to its own node; but for 13 to 20 nodes before
 * curves, where that gains nothing.
 */
export function buildGrid(
  c: Characterization,
  aim: ResolvedAim,
  { integerBits, ...options }: Table3dOptions & { readonly integerBits: number },
): number[] {
  const { table, drives, samples } = fitTable(c, aim, options)
  const looked =
    integerBits >= fineBits ? null : options.size > mostFitted ? givenBetween(c, table, drives, options) : samples
  return looked ? roundGrid3d(table, looked, integerBits) : Array.from(table.values, (v) => toInteger(v, integerBits))
}
