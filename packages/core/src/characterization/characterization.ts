import type { XYZ } from '../color/chromaticity'
import { convertLabToXyz, labRoot, type Lab } from '../color/lab'
import type { Matrix3, Triple } from '../color/matrix3'
import { coupleInto, supplyOf } from './coupling'

/** Entries of the channel curves of a characterization. */
export const curveEntries = 1025
/** Places along each axis at which the residual is stored. */
export const gridSize = 33

/**
 * A display as readings describe it, as plain data that can be sent to a worker: drives that couple, a curve per
 * channel, a matrix, a supply that sags (black removed), and a smooth residual in CIELAB that takes up whatever else there
 * is.
 */
export interface Characterization {
  /** Measured, cd/m². */
  readonly white: XYZ
  readonly black: XYZ
  /** Columns red, green, blue above black, divided by white's X, Y, Z row by row (nine numbers). */
  readonly matrix: Float64Array
  /** Black divided by white's X, Y, Z. */
  readonly relativeBlack: Float64Array
  /** Light that comes with the least of the three channels, divided by white's X, Y, Z: a white subpixel's; else nothing. */
  readonly shared: Float64Array
  /** How drives pull at each other before they are light, as {@link coupleInto} takes it; zeros where they do not. */
  readonly coupling: Float64Array
  /** By what share all light grows as each channel goes dark, as {@link supplyOf} takes it. */
  readonly sag: Float64Array
  /** Cube root of linear light 0–1 of each channel, at 1,025 even signals; three runs. */
  readonly curves: Float64Array
  /** CIELAB residual (under `white`) at 33³ even places, red slowest; 3·33³ numbers. */
  readonly residual: Float64Array
  /** What the fit of the residual chose. */
  readonly kernel: string
  readonly readings: number
}

/** CIELAB (under the measured white) that a signal 0–1 will show, written into `out`; outside 0–1 the curves go on straight. */
export function predictLabInto(c: Characterization, r: number, g: number, b: number, out: Float64Array): void {
  channelLightsInto(c, r, g, b, lights)
  const lr = lights[0]
  const lg = lights[1]
  const lb = lights[2]
  const m = c.matrix
  const k = c.relativeBlack
  const w = c.shared
  const least = lr < lg ? (lr < lb ? lr : lb) : lg < lb ? lg : lb
  const fx = labRoot(k[0] + m[0] * lr + m[1] * lg + m[2] * lb + w[0] * least)
  const fy = labRoot(k[1] + m[3] * lr + m[4] * lg + m[5] * lb + w[1] * least)
  const fz = labRoot(k[2] + m[6] * lr + m[7] * lg + m[8] * lb + w[2] * least)
  out[0] = 116 * fy - 16
  out[1] = 500 * (fx - fy)
  out[2] = 200 * (fy - fz)
  addResidual(c.residual, r, g, b, out)
}

const lights = new Float64Array(3)

/** Linear light of the channels for a signal, 0–1 each at white's supply and more where it sags less; into `out`. */
function channelLightsInto(c: Characterization, r: number, g: number, b: number, out: Float64Array): void {
  coupleInto(c.coupling, r, g, b, out)
  const lr = channelLight(c.curves, 0, out[0])
  const lg = channelLight(c.curves, curveEntries, out[1])
  const lb = channelLight(c.curves, 2 * curveEntries, out[2])
  const supply = supplyOf(c.sag, lr, lg, lb)
  out[0] = supply * lr
  out[1] = supply * lg
  out[2] = supply * lb
}

/** Linear light 0–1 of a signal, by the curve that begins at `offset`; outside 0–1 it goes on straight. */
export function channelLight(curves: Float64Array, offset: number, signal: number): number {
  const at = signal * (curveEntries - 1)
  const i = at <= 0 ? 0 : at >= curveEntries - 1 ? curveEntries - 2 : at | 0
  const low = curves[offset + i]
  const root = low + (curves[offset + i + 1] - low) * (at - i)
  return root * root * root
}

const clamp = (t: number) => (t <= 0 ? 0 : t >= 1 ? 1 : t)

/** Adds a residual at a signal to `out`. Trilinear: continuous in value, and it is smooth on the scale of the grid. */
export function addResidual(grid: Float64Array, r: number, g: number, b: number, out: Float64Array): void {
  const top = gridSize - 1
  const x = clamp(r) * top
  const y = clamp(g) * top
  const z = clamp(b) * top
  const i = x >= top ? top - 1 : x | 0
  const j = y >= top ? top - 1 : y | 0
  const k = z >= top ? top - 1 : z | 0
  const dx = x - i
  const dy = y - j
  const dz = z - k
  const stepR = 3 * gridSize * gridSize
  const stepG = 3 * gridSize
  const p = 3 * ((i * gridSize + j) * gridSize + k)
  const w000 = (1 - dx) * (1 - dy) * (1 - dz)
  const w001 = (1 - dx) * (1 - dy) * dz
  const w010 = (1 - dx) * dy * (1 - dz)
  const w011 = (1 - dx) * dy * dz
  const w100 = dx * (1 - dy) * (1 - dz)
  const w101 = dx * (1 - dy) * dz
  const w110 = dx * dy * (1 - dz)
  const w111 = dx * dy * dz
  for (let c = 0; c < 3; c++) {
    const q = p + c
    out[c] +=
      w000 * grid[q] +
      w001 * grid[q + 3] +
      w010 * grid[q + stepG] +
      w011 * grid[q + stepG + 3] +
      w100 * grid[q + stepR] +
      w101 * grid[q + stepR + 3] +
      w110 * grid[q + stepR + stepG] +
      w111 * grid[q + stepR + stepG + 3]
  }
}

/** The columns of the additive part: red, green and blue at full signal above black, cd/m². */
export function channelColumns({ matrix: m, white }: Characterization): Matrix3 {
  const row = (k: number): Triple => [m[3 * k] * white[k], m[3 * k + 1] * white[k], m[3 * k + 2] * white[k]]
  return [row(0), row(1), row(2)]
}

/** CIELAB under the measured white that a signal (0–1) will show. */
export function predictLab(c: Characterization, rgb: Triple): Lab {
  const out = new Float64Array(3)
  predictLabInto(c, rgb[0], rgb[1], rgb[2], out)
  return [out[0], out[1], out[2]]
}

/** XYZ in cd/m² that a signal (0–1) will show. */
export const predictXyz = (c: Characterization, rgb: Triple): XYZ => convertLabToXyz(predictLab(c, rgb), c.white)
