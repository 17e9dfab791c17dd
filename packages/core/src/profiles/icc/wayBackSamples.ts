import type { Characterization } from '../../characterization/characterization'
import { termsOfDeltaE94 } from '../../color/differences'
import type { Lab } from '../../color/lab'
import type { Matrix3, Triple } from '../../color/matrix3'
import type { GridSamples } from '../../tables/fitGrid3d'
import { evenly, gridOfColors } from './colorGrid'
import type { ConnectionTable } from './connectionTable'

/** One function for each channel. */
export type Functions = readonly ((x: number) => number)[]

/** Places along each axis at which the way back is fitted to the way there: all over, on the gamut's faces, and in the dark. */
const [fittedAlong, fittedOnFaces, fittedInDark] = [57, 65, 17]
/** The lightness up to which it is dark, and greys besides. */
const [darkest, fittedGreys] = [0.2, 257]
/** How much more a grey counts than a colour, and black and white, which must come back as they are. */
const [greyWeight, endWeight] = [12, 2000]
const countOf = (r: number, g: number, b: number) =>
  r !== g || g !== b ? 1 : r === 0 || r === 1 ? endWeight : greyWeight
/** Step of the numeric slope of a colour over a lightness, towards the middle. */
const slopeStep = 1 / 64
const further = (v: number) => (v > 0.5 ? v - slopeStep : v + slopeStep)

type Axes = readonly Float64Array[]

/** Lightnesses of red, green and blue, every combination of which is a sample: a block for each place where many are wanted. */
function blocks(): Axes[] {
  const all = evenly(fittedAlong)
  const face = evenly(fittedOnFaces)
  const dark = evenly(fittedInDark).map((v) => v * darkest)
  return [
    [all, all, all],
    [dark, dark, dark],
    ...[0, 1, 2].flatMap((fixed) => [0, 1].map((end) => [0, 1, 2].map((k) => (k === fixed ? [end] : face)))),
    ...Array.from(evenly(fittedGreys), (v) => [[v], [v], [v]]),
  ].map((axes) => axes.map((axis) => Float64Array.from(axis)))
}

const labAt = (labs: Float64Array, at: number): Lab => [labs[at], labs[at + 1], labs[at + 2]]

/** The square of how far a colour of a run is seen from one of another. */
function apart(labs: Float64Array, at: number, others: Float64Array, to: number): number {
  const [dL, da, db] = [others[to] - labs[at], others[to + 1] - labs[at + 1], others[to + 2] - labs[at + 2]]
  const [l, c, h] = termsOfDeltaE94(labAt(labs, at), [dL, da, db])
  return l * l + c * c + h * h
}

/**
 * The square of how far a colour of a block is from the next along an axis, or from the one before at its end, for a lightness
 * of 1: of the colour that begins at `at` and is the `i`th along axis `q`.
 */
function slopesOf(axes: Axes, labs: Float64Array, read: (axes: Axes) => Float64Array) {
  const [red, green, blue] = axes.map((axis) => axis.length)
  const lengths = [red, green, blue]
  const strides = [3 * green * blue, 3 * blue, 3]
  // Along an axis that stays where it is, the same a little further.
  const moved = axes.map((axis, q) =>
    axis.length === 1 ? read(axes.map((other, k) => (k === q ? other.map(further) : other))) : null,
  )
  return (at: number, q: number, i: number): number => {
    const beside = moved[q]
    if (beside) return apart(labs, at, beside, at) / slopeStep ** 2
    const by = i === lengths[q] - 1 ? -1 : 1
    return apart(labs, at, labs, at + by * strides[q]) / (axes[q][i + by] - axes[q][i]) ** 2
  }
}

/**
 * Colours that the display shows, the lightnesses that show them, and how much of colour a step of each is: all over, and
 * closer together on the gamut's faces, beside which cells of the grid may lie that hold no more than a sliver of it.
 * `signals`: lightness of a channel → signal, 0–1.
 */
export function wayBackSamples(
  c: Characterization,
  signals: Functions,
  adapt: Matrix3,
  space: ConnectionTable,
): GridSamples {
  const all = blocks()
  const size = 3 * all.reduce((sum, [r, g, b]) => sum + r.length * g.length * b.length, 0)
  const [places, wanted, weights] = [new Float64Array(size), new Float64Array(size), new Float64Array(size)]
  const read = (axes: Axes) =>
    gridOfColors(
      c,
      axes.map((axis, k) => axis.map(signals[k])),
      adapt,
    )
  let start = 0
  for (const axes of all) {
    const labs = read(axes)
    const slopeOf = slopesOf(axes, labs, read)
    const [red, green, blue] = axes
    let at = 0
    for (let i = 0; i < red.length; i++)
      for (let j = 0; j < green.length; j++)
        for (let k = 0; k < blue.length; k++, at += 3) {
          const rgb: Triple = [red[i], green[j], blue[k]]
          const counts = countOf(...rgb)
          places.set(space.placeOf(labAt(labs, at)), start + at)
          wanted.set(rgb, start + at)
          weights[start + at] = slopeOf(at, 0, i) * counts
          weights[start + at + 1] = slopeOf(at, 1, j) * counts
          weights[start + at + 2] = slopeOf(at, 2, k) * counts
        }
    start += at
  }
  return { places, wanted, weights }
}
