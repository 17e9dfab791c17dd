import type { Characterization } from '../../characterization/characterization'
import { makeInverter } from '../../characterization/inversion'
import { pcsWhite } from '../../color/encodings'
import { convertLabToXyz, convertXyzToLab, type Lab } from '../../color/lab'
import { invert, multiplyVector, type Matrix3, type Triple } from '../../color/matrix3'
import { fitGrid3d, type GridSamples } from '../../tables/fitGrid3d'
import { trilinear } from '../../tables/grid3d'
import { evenly, gridOfColors, invertTable, relative } from './colorGrid'
import type { ConnectionTable } from './connectionTable'
import { curveEntries, type Curves, type TableParts } from './tableLayout'

/** L* ÷ 100 of the cube root of a share of light: straight near nothing, as colours are where a channel is dark beside others. */
const lightness = (root: number) => (root > 6 / 29 ? 1.16 * root - 0.16 : ((29 / 3) ** 3 / 100) * root ** 3)

/** Room below 0 and above 1 in what the grid holds, at each end: so many entries of the curves behind it, the last of which clip. */
const room = 900 / (curveEntries - 1)
const clamp = (v: number) => Math.min(1, Math.max(0, v))
const held = (value: number) => clamp(room + value * (1 - 2 * room))
const released = (x: number) => clamp((x - room) / (1 - 2 * room))

/** Places along each axis at which the way back is fitted to the way there: all over, on the gamut's faces, and in the dark. */
const [fittedAlong, fittedOnFaces, fittedInDark] = [49, 65, 17]
/** The lightness up to which it is dark, and greys besides. */
const [darkest, fittedGreys] = [0.2, 257]
/** How much more a grey counts than a colour, and black and white, which must come back as they are. */
const [greyWeight, endWeight] = [20, 2000]
const countOf = (r: number, g: number, b: number) =>
  r !== g || g !== b ? 1 : r === 0 || r === 1 ? endWeight : greyWeight
/** With how much of the mean weight a node holds on to what it was, and goes on as those beside it do: see {@link GridFit}. */
const [pull, straight] = [0.001, 0.01]

/**
 * The table from the connection space to the device, of `size`³ nodes. `roots`: signal 0–1 → cube root of a channel's
 * light 0–1. Its grid holds lightnesses of the channels. A node whose colour the display cannot show stands where what
 * lies between it and its neighbours inside comes out right, beyond 0–1 where that is there; the others hold the nearest
 * that can be shown, hue kept.
 */
export function wayBack(
  c: Characterization,
  { roots, adapt, space, size }: { roots: Curves; adapt: Matrix3; space: ConnectionTable; size: number },
): TableParts {
  const lightnesses = roots.map((of) => (x: number) => lightness(of(x)))
  const signals = lightnesses.map(invertTable)
  const nearest = nearestSignals({ c, lightnesses, adapt, space }, size)
  const grid = fitGrid3d(size, nearest, samplesOf(c, signals, adapt, space), {
    between: space.connectionSpace === 'Lab ' ? 'trilinear' : 'tetrahedral',
    pull,
    straight,
  })
  return {
    grid: grid.map(held),
    size,
    device: signals.map((of) => (x: number) => of(released(x))) as unknown as Curves,
    pcs: space.intoGrid,
    matrix: space.matrix,
  }
}

type Functions = readonly ((x: number) => number)[]

/** On what display, and by what, signals are sought for the nodes of a grid. */
interface Sought {
  readonly c: Characterization
  readonly lightnesses: Functions
  readonly adapt: Matrix3
  readonly space: ConnectionTable
}

/**
 * At every node, the lightnesses of the channels that show its colour, or the nearest to it: found at every second node,
 * and between them straight, which is as near as outside the gamut matters.
 */
function nearestSignals(of: Sought, size: number): Float64Array {
  const coarse = (size + 1) / 2
  const found = { nodes: [coarse, coarse, coarse] as Triple, values: nearestOn(of, coarse) }
  const grid = new Float64Array(3 * size ** 3)
  const places = evenly(size)
  let at = 0
  for (const x of places)
    for (const y of places)
      for (const z of places) {
        grid.set(trilinear(found, [x, y, z]), at)
        at += 3
      }
  return grid
}

/** The same at every node of a grid. */
function nearestOn({ c, lightnesses, adapt, space }: Sought, size: number): Float64Array {
  const grid = new Float64Array(3 * size ** 3)
  const back = invert(adapt)
  const { intoSignal } = makeInverter(c)
  const found = new Float64Array(3)
  const places = evenly(size)
  const white = relative(c.white)
  let at = 0
  for (const x of places)
    for (const y of places)
      for (const z of places) {
        const xyz = multiplyVector(back, convertLabToXyz(space.labAt([x, y, z]), pcsWhite))
        const [L, a, b] = convertXyzToLab(xyz, white)
        intoSignal(L, a, b, found)
        for (let q = 0; q < 3; q++) grid[at++] = lightnesses[q](found[q])
      }
  return grid
}

/**
 * Colours that the display shows, the lightnesses that show them, and how much of colour a step of each is: all over, and
 * closer together on the gamut's faces, beside which cells of the grid may lie that hold no more than a sliver of it.
 */
function samplesOf(c: Characterization, signals: Functions, adapt: Matrix3, space: ConnectionTable): GridSamples {
  const all = evenly(fittedAlong)
  const face = evenly(fittedOnFaces)
  const dark = evenly(fittedInDark).map((v) => v * darkest)
  const blocks = [
    [all, all, all],
    [dark, dark, dark],
    ...[0, 1, 2].flatMap((fixed) => [0, 1].map((end) => [0, 1, 2].map((k) => (k === fixed ? [end] : face)))),
    ...Array.from(evenly(fittedGreys), (v) => [[v], [v], [v]]),
  ].map((axes) => axes.map((axis) => Float64Array.from(axis)))
  const count = blocks.reduce((sum, [r, g, b]) => sum + r.length * g.length * b.length, 0)
  const places = new Float64Array(3 * count)
  const wanted = new Float64Array(3 * count)
  const weights = new Float64Array(3 * count)
  const read = (axes: readonly Float64Array[]) =>
    gridOfColors(
      c,
      axes.map((axis, k) => axis.map(signals[k])),
      adapt,
    )
  let start = 0
  for (const axes of blocks) {
    const labs = read(axes)
    const lengths = axes.map((axis) => axis.length)
    const strides = [3 * lengths[1] * lengths[2], 3 * lengths[2], 3]
    // Along an axis that stays where it is, the same a little further.
    const moved = axes.map((axis, q) =>
      axis.length === 1 ? read(axes.map((other, k) => (k === q ? other.map(further) : other))) : null,
    )
    /** The square of how far a colour is from the next along an axis, or from the one before at its end, for a lightness of 1. */
    const slopeOf = (at: number, seen: SeenAt, q: number, i: number) => {
      const beside = moved[q]
      if (beside) return seen(beside, at) / slopeStep ** 2
      const isLast = i === lengths[q] - 1
      const step = isLast ? axes[q][i] - axes[q][i - 1] : axes[q][i + 1] - axes[q][i]
      return seen(labs, isLast ? at - strides[q] : at + strides[q]) / step ** 2
    }
    const [red, green, blue] = axes
    let at = 0
    for (let i = 0; i < lengths[0]; i++)
      for (let j = 0; j < lengths[1]; j++)
        for (let k = 0; k < lengths[2]; k++) {
          const there = start + at
          const rgb: Triple = [red[i], green[j], blue[k]]
          places.set(space.placeOf(labAt(labs, at)), there)
          wanted.set(rgb, there)
          const counts = countOf(...rgb)
          const seen = seenAround(labs, at)
          weights[there] = slopeOf(at, seen, 0, i) * counts
          weights[there + 1] = slopeOf(at, seen, 1, j) * counts
          weights[there + 2] = slopeOf(at, seen, 2, k) * counts
          at += 3
        }
    start += at
  }
  return { places, wanted, weights }
}

const labAt = (labs: Float64Array, at: number): Lab => [labs[at], labs[at + 1], labs[at + 2]]

/** The square of how far a colour of a run is from the one that it was made for. */
type SeenAt = (others: Float64Array, at: number) => number

/**
 * Small differences from a colour of a run as CIEDE2000 has them, but for its rotation and the waves of its hue: what
 * stays the same around one colour is worked out once.
 */
function seenAround(labs: Float64Array, at: number): SeenAt {
  const [L, a, b] = labAt(labs, at)
  const power7 = Math.hypot(a, b) ** 7
  const stretched = 1.5 - 0.5 * Math.sqrt(power7 / (power7 + 25 ** 7))
  const chroma = Math.hypot(stretched * a, b)
  const lightnessScale = 1 + (0.015 * (L - 50) ** 2) / Math.sqrt(20 + (L - 50) ** 2)
  const [chromaScale, hueScale] = [1 + 0.045 * chroma, 1 + 0.015 * chroma]
  const [cosine, sine] = chroma > 0 ? [(stretched * a) / chroma, b / chroma] : [1, 0]
  return (others, to) => {
    const [da, db] = [stretched * (others[to + 1] - a), others[to + 2] - b]
    return (
      ((others[to] - L) / lightnessScale) ** 2 +
      ((cosine * da + sine * db) / chromaScale) ** 2 +
      ((cosine * db - sine * da) / hueScale) ** 2
    )
  }
}

/** Step of the numeric slope of a colour over a lightness, towards the middle. */
const slopeStep = 1 / 64
const further = (v: number) => (v > 0.5 ? v - slopeStep : v + slopeStep)
