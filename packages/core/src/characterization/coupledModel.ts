import type { XYZ } from '../color/chromaticity'
import { convertXyzToLab, labRoot, type Lab } from '../color/lab'
import { subtract, type Triple } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import { monotoneCurve, type CurveFunction } from '../tone/monotoneCurve'
import type { AdditiveModel } from './additiveModel'
import { coupleInto, couplingParts, supplyOf } from './coupling'
import { columnsOf, leastSquares } from './leastSquares'
import { evenlyOf, someReadings } from './someReadings'

/**
 * What is known of a display's light: an additive model; where they are known, a light that comes with the least channel
 * (cd/m² at full signal), drives that couple as {@link coupleInto} takes it, and a supply that sags as {@link supplyOf} does.
 */
export interface LightModel extends AdditiveModel {
  readonly shared?: XYZ
  readonly coupling?: Float64Array
  readonly sag?: Triple
}

/** How far each part is expected to go from where it starts: shares of a drive, of light, of white, and root of light. */
export interface Expected {
  readonly coupling: number
  readonly sag: number
  readonly light: number
  readonly knot: number
}
/** Of a display that was not known before. */
const unknown: Expected = { coupling: 0.05, sag: 0.3, light: 0.3, knot: 0.03 }

/** CIELAB that a colour is expected to be missed by, and how much more white counts. */
const [missed, whiteWeight] = [0.1, 5]
const search = { probe: 1e-5, mostSteps: 12 }
/** Readings, and knots of a curve, that take part at most. */
const [mostReadings, mostKnots] = [250, 20]

const entries = 1024

/** The root of a curve's light, from a table; outside 0–1 it goes on straight. */
function tabulated(curve: CurveFunction): CurveFunction {
  const table = Float64Array.from({ length: entries + 1 }, (_, i) => Math.cbrt(curve(i / entries)))
  return (v) => {
    const i = Math.min(entries - 1, Math.max(0, Math.floor(v * entries)))
    return table[i] + (table[i + 1] - table[i]) * (v * entries - i)
  }
}

/** Where the parts stand in a row: coupling, sag, columns row by row, shared light where there is any, knots of the curves. */
function layoutOf(knots: number, hasShared: boolean) {
  const sag = couplingParts
  const columns = sag + 3
  const shared = columns + 9
  const curves = shared + (hasShared ? 3 : 0)
  return { sag, columns, shared, curves, length: curves + 3 * knots }
}

const isWhite = ({ rgb }: PatchReading) => rgb.every((v) => v === 1)

export interface CoupledFit {
  /** Where the search starts, and what its parts are held to. */
  readonly start: LightModel
  readonly readings: readonly PatchReading[]
  /** Signals between 0 and 1, rising, at which the curves may be bent; of many some. */
  readonly levels: readonly number[]
  /** CIELAB that comes on top of the model for a signal; nothing unless given. */
  readonly onTop?: (rgb: Triple) => Lab
  readonly expected?: Expected
}

/**
 * The light of a display as a whole: how its drives couple, how its supply sags, its columns, its shared light and its
 * curves, all fitted at once to readings in CIELAB, from a model that was found part by part or was true before. Curves are
 * bent by a rising curve over the root of their light. Never worse on the readings than where it starts. Black is taken as
 * it was read.
 */
export function fitCoupledModel({
  start,
  readings: all,
  levels,
  onTop = () => [0, 0, 0],
  expected = unknown,
}: CoupledFit): LightModel {
  const { white, black, shared } = start
  const readings = someReadings(all, mostReadings)
  const n = readings.length
  const bentAt = evenlyOf(levels, mostKnots)
  const roots = start.curves.map((curve) => bentAt.map((v) => Math.cbrt(curve(v))))
  // A curve that stands still between two levels has one knot there.
  const places = roots.map((of) => of.filter((v, i) => v > 1e-4 && v < 1 - 1e-4 && (i === 0 || v - of[i - 1] > 1e-4)))
  const knots = Math.max(...places.map((of) => of.length))
  const at = layoutOf(knots, Boolean(shared))
  const first = new Float64Array(at.length)
  const deviation = new Float64Array(at.length).fill(expected.knot)
  deviation.fill(expected.coupling, 0, at.sag).fill(expected.sag, at.sag, at.columns)
  deviation.fill(expected.light, at.columns, at.curves)
  if (start.coupling) first.set(start.coupling)
  if (start.sag) first.set(start.sag, at.sag)
  for (let k = 0; k < 3; k++) {
    start.matrix[k].forEach((v, c) => (first[at.columns + 3 * k + c] = v / white[k]))
    if (shared) first[at.shared + k] = shared[k] / white[k]
    first.set(places[k], at.curves + k * knots)
  }

  const bendOf = (p: Float64Array, c: number): CurveFunction => {
    const from = at.curves + c * knots
    return monotoneCurve([0, ...places[c], 1], [0, ...p.subarray(from, from + places[c].length), 1])
  }
  const dark = black.map((v, k) => v / white[k])
  const labs = Float64Array.from(readings.flatMap((p) => subtract(convertXyzToLab(p.xyz, white), onTop(p.rgb))))
  const weights = readings.map((p) => (isWhite(p) ? whiteWeight : 1) / missed)
  const rootOf = start.curves.map(tabulated)
  const root = new Float64Array(3)
  /** What is left of a reading whose channels give these roots of light. */
  const leaveOf = (i: number, p: Float64Array, [rootR, rootG, rootB]: Triple, out: Float64Array) => {
    const [r, g, b] = [rootR ** 3, rootG ** 3, rootB ** 3]
    const least = shared ? Math.min(r, g, b) : 0
    const supply = supplyOf(p, r, g, b, at.sag)
    for (let k = 0; k < 3; k++) {
      const m = at.columns + 3 * k
      const light = p[m] * r + p[m + 1] * g + p[m + 2] * b + (shared ? p[at.shared + k] * least : 0)
      root[k] = labRoot(dark[k] + supply * light)
    }
    out[3 * i] = weights[i] * (116 * root[1] - 16 - labs[3 * i])
    out[3 * i + 1] = weights[i] * (500 * (root[0] - root[1]) - labs[3 * i + 1])
    out[3 * i + 2] = weights[i] * (200 * (root[1] - root[2]) - labs[3 * i + 2])
  }
  /** Roots of light by the curves as they were, of every reading's channels. */
  const rootsOf = (p: Float64Array): Float64Array => {
    const coupled = new Float64Array(3)
    const out = new Float64Array(3 * n)
    readings.forEach(({ rgb }, i) => {
      coupleInto(p, rgb[0], rgb[1], rgb[2], coupled)
      for (let c = 0; c < 3; c++) out[3 * i + c] = rootOf[c](coupled[c])
    })
    return out
  }
  const bent = (p: Float64Array): Float64Array => {
    const bends = [bendOf(p, 0), bendOf(p, 1), bendOf(p, 2)]
    return rootsOf(p).map((v, i) => bends[i % 3](v))
  }
  const residuals = (p: Float64Array) => {
    const out = new Float64Array(3 * n)
    const lights = bent(p)
    for (let i = 0; i < n; i++) leaveOf(i, p, [lights[3 * i], lights[3 * i + 1], lights[3 * i + 2]], out)
    return out
  }
  /** A knot moves its curve between the two before it and the two after: only readings there change. */
  const columns = (p: Float64Array, left: Float64Array): Float64Array[] => {
    const [before, after] = [rootsOf(p), bent(p)]
    const found = columnsOf(residuals, p, left, search.probe, at.curves)
    const moved = Float64Array.from(p)
    const leaves = new Float64Array(3 * n)
    for (let c = 0; c < 3; c++)
      for (let knot = 0; knot < knots; knot++) {
        const column = new Float64Array(3 * n)
        found.push(column)
        if (knot >= places[c].length) continue
        const [from, to] = [places[c][knot - 2] ?? -Infinity, places[c][knot + 2] ?? Infinity]
        const part = at.curves + c * knots + knot
        moved[part] = p[part] + search.probe
        const bend = bendOf(moved, c)
        moved[part] = p[part]
        for (let i = 0; i < n; i++) {
          const here = before[3 * i + c]
          if (here < from || here > to) continue
          const lights: [number, number, number] = [after[3 * i], after[3 * i + 1], after[3 * i + 2]]
          lights[c] = bend(here)
          leaveOf(i, p, lights, leaves)
          for (let k = 3 * i; k < 3 * i + 3; k++) column[k] = (leaves[k] - left[k]) / search.probe
        }
      }
    return found
  }
  /** Curves rise, between nothing and all. */
  const within = (p: Float64Array) => {
    for (let c = 0; c < 3; c++)
      for (let i = 0, last = 0; i < places[c].length; i++) {
        const place = at.curves + c * knots + i
        last = p[place] = Math.min(1, Math.max(last, p[place]))
      }
  }
  const { parts: p } = leastSquares({ residuals, columns, start: first, expected: deviation, within, ...search })

  const row = (from: number, k: number): Triple => [p[from] * white[k], p[from + 1] * white[k], p[from + 2] * white[k]]
  const light = (c: number) => {
    const bend = bendOf(p, c)
    return (v: number) => bend(rootOf[c](v)) ** 3
  }
  return {
    black,
    white,
    matrix: [row(at.columns, 0), row(at.columns + 3, 1), row(at.columns + 6, 2)],
    curves: [light(0), light(1), light(2)],
    ...(shared && {
      shared: [p[at.shared] * white[0], p[at.shared + 1] * white[1], p[at.shared + 2] * white[2]],
    }),
    coupling: p.slice(0, couplingParts),
    sag: [p[at.sag], p[at.sag + 1], p[at.sag + 2]],
  }
}
