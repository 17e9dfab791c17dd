import type { Characterization } from '../../characterization/characterization'
import { makeInverter } from '../../characterization/inversion'
import { pcsWhite } from '../../color/encodings'
import { convertLabToXyz, convertXyzToLab } from '../../color/lab'
import { invert, multiplyVector, type Matrix3, type Triple } from '../../color/matrix3'
import { fitGrid3d } from '../../tables/fitGrid3d'
import { trilinear } from '../../tables/grid3d'
import { evenly, invertTable, relative } from './colorGrid'
import type { ConnectionTable } from './connectionTable'
import { curveEntries, type Curves, type TableParts } from './tableLayout'
import { wayBackSamples, type Functions } from './wayBackSamples'

/** L* ÷ 100 of the cube root of a share of light: straight near nothing, as colours are where a channel is dark beside others. */
const lightness = (root: number) => (root > 6 / 29 ? 1.16 * root - 0.16 : ((29 / 3) ** 3 / 100) * root ** 3)

/** Room below 0 and above 1 in what the grid holds, at each end: so many entries of the curves behind it, the last of which clip. */
const room = 900 / (curveEntries - 1)
const clamp = (v: number) => Math.min(1, Math.max(0, v))
const held = (value: number) => clamp(room + value * (1 - 2 * room))
const released = (x: number) => clamp((x - room) / (1 - 2 * room))

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
  const grid = fitGrid3d(size, nearest, wayBackSamples(c, signals, adapt, space), {
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
