import { convertLabToXyz, convertXyzToLab, type Lab } from '../../color/lab'
import { pcsWhite } from '../../color/encodings'
import { invert, multiplyVector, type Triple } from '../../color/matrix3'
import type { XYZ } from '../../color/chromaticity'
import { predictLabInto, type Characterization } from '../../characterization/characterization'
import { makeInverter } from '../../characterization/inversion'
import type { MatrixModel } from '../matrixModel'
import { identityCurve, tableCurve } from './curves'
import { IccWriter } from './iccBytes'
import { adaptationOf, matrixTags } from './matrixProfile'
import { assembleProfile, commonTags, type ProfileFacts } from './writeIcc'

/** Nodes along each axis, both ways; odd, so that greys fall on a node of a* and b*. */
export const profileGrid = 33
/** Entries of the curves around the grids; the most that `mft2` takes. */
const curveEntries = 4096

type Curves = readonly [(x: number) => number, (x: number) => number, (x: number) => number]

/** CIELAB as 16-bit shares: version 4's, and the older one of `mft2`. ICC.1:2022 §6.3.4.2, §10.10. */
const codes = {
  4: {
    L: (L: number) => L / 100,
    ab: (v: number) => (v + 128) / 255,
    lOf: (x: number) => 100 * x,
    abOf: (x: number) => 255 * x - 128,
  },
  2: {
    L: (L: number) => (L * 652.8) / 65535,
    ab: (v: number) => ((v + 128) * 256) / 65535,
    lOf: (x: number) => (x * 65535) / 652.8,
    abOf: (x: number) => (x * 65535) / 256 - 128,
  },
} as const

/** A table as the profile lays it out: curves, a grid of 16-bit shares, curves. */
interface TableParts {
  readonly first: Curves
  readonly grid: Float64Array
  readonly last: Curves
}

const writeCurves = (w: IccWriter, curves: Curves) => {
  for (const of of curves) for (let i = 0; i < curveEntries; i++) w.share(of(i / (curveEntries - 1)))
}

/** `mft2`. ICC.1:2022 §10.10. */
function oldTable({ first, grid, last }: TableParts): Uint8Array {
  const w = new IccWriter().text('mft2').u32(0).u8(3, 3, profileGrid, 0)
  for (const v of [1, 0, 0, 0, 1, 0, 0, 0, 1]) w.fixed(v)
  w.u16(curveEntries).u16(curveEntries)
  writeCurves(w, first)
  for (let i = 0; i < grid.length; i++) w.share(grid[i])
  writeCurves(w, last)
  return w.done()
}

/** `mAB ` (curves on the device side are its A curves) or `mBA `. ICC.1:2022 §10.12, §10.13. */
function newTable(type: 'mAB ' | 'mBA ', { first, grid, last }: TableParts): Uint8Array {
  const run = (curves: Curves | null) => {
    const w = new IccWriter()
    for (let c = 0; c < 3; c++) w.bytes(curves ? tableCurve(curves[c], curveEntries) : identityCurve()).pad()
    return w.done()
  }
  const onDevice = run(type === 'mAB ' ? first : last)
  const onLab = run(type === 'mAB ' ? null : first)
  const clut = new IccWriter().u8(profileGrid, profileGrid, profileGrid, ...new Array(13).fill(0)).u8(2, 0, 0, 0)
  for (let i = 0; i < grid.length; i++) clut.share(grid[i])
  clut.pad()
  const [b, c] = [32, 32 + onLab.length]
  return new IccWriter()
    .text(type)
    .u32(0)
    .u8(3, 3, 0, 0)
    .u32(b)
    .u32(0)
    .u32(0)
    .u32(c)
    .u32(c + clut.length)
    .bytes(onLab)
    .bytes(clut.done())
    .bytes(onDevice)
    .done()
}

const identity = (x: number) => x

/**
 * An ICC.1 display profile of table kind from a characterization, version 4.4 (`mAB `, `mBA `) or 2.4 (`mft2`), 33 nodes
 * each way through CIELAB, with matrix and curves beside them for programs that read no tables. The curves on the device
 * side turn signals into the cube root of light, in which colours run nearly straight from node to node; those on the
 * CIELAB side give the span of a* and b* that the display has most of the nodes. ICC.1:2022 §8.4.2, §9.
 */
export function writeTableProfile(c: Characterization, model: MatrixModel, facts: ProfileFacts): Uint8Array {
  const version = facts.version ?? 4
  const code = codes[version]
  const adapt = adaptationOf(c.white)
  const back = invert(adapt)
  const entries = c.curves.length / 3
  const root = (channel: number) => {
    const [low, high] = [c.curves[channel * entries], c.curves[channel * entries + entries - 1]]
    return (x: number) => {
      const at = x * (entries - 1)
      const i = Math.min(entries - 2, Math.floor(at))
      const v = c.curves[channel * entries + i]
      return (v + (c.curves[channel * entries + i + 1] - v) * (at - i) - low) / (high - low)
    }
  }
  const roots: Curves = [root(0), root(1), root(2)]
  const signals = roots.map(invertTable) as unknown as Curves

  const top = profileGrid - 1
  const labs = new Float64Array(3 * profileGrid ** 3)
  const lab = new Float64Array(3)
  const even = (of: (x: number) => number) => Float64Array.from({ length: profileGrid }, (_, i) => of(i / top))
  const [atR, atG, atB] = signals.map(even)
  for (let i = 0, at = 0; i < profileGrid; i++)
    for (let j = 0; j < profileGrid; j++)
      for (let k = 0; k < profileGrid; k++, at += 3) {
        predictLabInto(c, atR[i], atG[j], atB[k], lab)
        const [x, y, z] = convertLabToXyz([lab[0], lab[1], lab[2]] as Lab, relative(c.white))
        labs.set(convertXyzToLab(multiplyVector(adapt, [x, y, z]), pcsWhite), at)
      }
  const forward = labs.map((v, i) => (i % 3 === 0 ? code.L(v) : code.ab(v)))

  const reach = [1, 2].map((k) => {
    let most = 0
    for (let i = k; i < labs.length; i += 3) most = Math.max(most, Math.abs(labs[i]))
    return Math.min(127, 1.02 * most)
  })
  const stretches = reach.map((r) => stretch(r))
  const first: Curves = [
    version === 4 ? identity : (x) => code.lOf(x) / 100,
    (x) => stretches[0].place(code.abOf(x)),
    (x) => stretches[1].place(code.abOf(x)),
  ]
  const inverse = new Float64Array(labs.length)
  const { intoSignal } = makeInverter(c)
  const found = new Float64Array(3)
  const [atA, atBb] = stretches.map(({ valueOf }) => even(valueOf))
  for (let i = 0, at = 0; i < profileGrid; i++)
    for (let j = 0; j < profileGrid; j++)
      for (let k = 0; k < profileGrid; k++, at += 3) {
        const xyz = multiplyVector(back, convertLabToXyz([(100 * i) / top, atA[j], atBb[k]], pcsWhite))
        const [L, a, b] = convertXyzToLab(xyz, relative(c.white))
        intoSignal(L, a, b, found)
        for (let q = 0; q < 3; q++) inverse[at + q] = roots[q](found[q])
      }

  const a2b = { first: roots, grid: forward, last: [identity, identity, identity] as Curves }
  const b2a = { first, grid: inverse, last: signals }
  return assembleProfile(facts, 'Lab ', [
    ...commonTags(facts, c.white, adapt),
    ['A2B0', version === 4 ? newTable('mAB ', a2b) : oldTable(a2b)],
    ['B2A0', version === 4 ? newTable('mBA ', b2a) : oldTable(b2a)],
    ...matrixTags(model),
  ])
}

const relative = (white: XYZ): Triple => [white[0] / white[1], 1, white[2] / white[1]]

/** The inverse of a rising function on 0–1, through a fine table of it. */
function invertTable(of: (x: number) => number): (y: number) => number {
  const n = 4096
  const values = Float64Array.from({ length: n + 1 }, (_, i) => of(i / n))
  return (y) => {
    if (y <= values[0]) return 0
    if (y >= values[n]) return 1
    let low = 0
    let high = n
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if (values[middle] <= y) low = middle
      else high = middle
    }
    return (low + (y - values[low]) / (values[high] - values[low])) / n
  }
}

/** Steps of the grid that the values beyond a display's reach share on each side. */
const outside = 1.5

/**
 * Places for a* or b* on 0–1 such that ±`reach` takes all but 1.5 steps of the grid at each end, 0 the middle node, and
 * −128…127 the whole.
 */
function stretch(reach: number) {
  const edge = outside / (profileGrid - 1)
  const slope = (0.5 - edge) / reach
  const beyond = edge / (128 - reach)
  const place = (v: number) => {
    const m = Math.abs(v)
    const p = m <= reach ? m * slope : 0.5 - edge + (m - reach) * beyond
    return 0.5 + Math.sign(v) * Math.min(0.5, p)
  }
  const valueOf = (x: number) => {
    const p = Math.abs(x - 0.5)
    const m = p <= 0.5 - edge ? p / slope : reach + (p - 0.5 + edge) / beyond
    return Math.sign(x - 0.5) * m
  }
  return { place, valueOf }
}
