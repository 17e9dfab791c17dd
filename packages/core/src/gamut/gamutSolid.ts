import type { Lab } from '../color/lab'
import type { Triple } from '../color/matrix3'

/** Lightness slices (each 1 high) and hue sectors (each 1° wide) in which a solid is described. */
export const lightnessSlices = 100
export const hueSectors = 360

/**
 * A gamut in CIELAB as its largest chroma in every lightness slice and hue sector: `radius[slice · 360 + sector]`, at
 * L* slice + 0.5 and hue sector + 0.5°; 0 where there is none.
 */
export interface GamutSolid {
  readonly radius: Float64Array
}

/** Squares along each edge of the RGB cube's faces. */
const perEdge = 16

/** The surface of the RGB cube as triangles of corners in CIELAB; nine numbers each. */
export function tessellate(labOf: (rgb: Triple) => Lab, squares = perEdge): Float64Array {
  const triangles = new Float64Array(6 * squares * squares * 2 * 9)
  let at = 0
  for (let face = 0; face < 6; face++) {
    const axis = face >> 1
    const fixed = face & 1
    const corners = new Float64Array(3 * (squares + 1) ** 2)
    for (let i = 0, k = 0; i <= squares; i++)
      for (let j = 0; j <= squares; j++, k += 3) {
        const rgb: [number, number, number] = [0, 0, 0]
        rgb[axis] = fixed
        rgb[(axis + 1) % 3] = i / squares
        rgb[(axis + 2) % 3] = j / squares
        corners.set(labOf(rgb), k)
      }
    const put = (i: number, j: number) => {
      const k = 3 * (i * (squares + 1) + j)
      triangles.set(corners.subarray(k, k + 3), at)
      at += 3
    }
    for (let i = 0; i < squares; i++)
      for (let j = 0; j < squares; j++) {
        for (const [di, dj] of [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 0],
          [1, 1],
          [0, 1],
        ])
          put(i + di, j + dj)
      }
  }
  return triangles
}

const sectorWidth = (2 * Math.PI) / hueSectors

/**
 * The solid of a closed surface: each lightness plane cuts its triangles in lines of the a*b* plane, and each hue ray
 * takes the furthest of them that it meets. The neutral axis must run inside. After K. Smith et al., Gamut rings, and
 * CIE 168 for the sampling of solids by lightness and hue.
 */
export function solidOfSurface(triangles: Float64Array): GamutSolid {
  const radius = new Float64Array(lightnessSlices * hueSectors)
  const cut = new Float64Array(4)
  for (let t = 0; t < triangles.length; t += 9) {
    const l0 = triangles[t]
    const l1 = triangles[t + 3]
    const l2 = triangles[t + 6]
    const first = Math.max(0, Math.ceil(Math.min(l0, l1, l2) - 0.5))
    const last = Math.min(lightnessSlices - 1, Math.floor(Math.max(l0, l1, l2) - 0.5))
    for (let slice = first; slice <= last; slice++)
      if (cutTriangle(triangles, t, slice + 0.5, cut)) markLine(cut, radius, slice * hueSectors)
  }
  return { radius }
}

/** The line in which a plane of lightness cuts a triangle, as two points of the a*b* plane. */
function cutTriangle(triangles: Float64Array, t: number, lightness: number, cut: Float64Array): boolean {
  let n = 0
  for (let e = 0; e < 3 && n < 4; e++) {
    const p = t + 3 * e
    const q = t + 3 * ((e + 1) % 3)
    const lp = triangles[p]
    const lq = triangles[q]
    if (lp <= lightness === lq <= lightness) continue
    const s = (lightness - lp) / (lq - lp)
    cut[n++] = triangles[p + 1] + s * (triangles[q + 1] - triangles[p + 1])
    cut[n++] = triangles[p + 2] + s * (triangles[q + 2] - triangles[p + 2])
  }
  return n === 4
}

/** The middle of each sector, as cosine and sine. */
const cosines = Float64Array.from({ length: hueSectors }, (_, s) => Math.cos((s + 0.5) * sectorWidth))
const sines = Float64Array.from({ length: hueSectors }, (_, s) => Math.sin((s + 0.5) * sectorWidth))

function markLine(cut: Float64Array, radius: Float64Array, row: number): void {
  const a0 = cut[0]
  const b0 = cut[1]
  const a1 = cut[2]
  const b1 = cut[3]
  const start = Math.atan2(b0, a0)
  let span = Math.atan2(b1, a1) - start
  if (span > Math.PI) span -= 2 * Math.PI
  else if (span < -Math.PI) span += 2 * Math.PI
  const from = span >= 0 ? start : start + span
  const to = span >= 0 ? start + span : start
  const cross = a0 * b1 - a1 * b0
  const da = a1 - a0
  const db = b1 - b0
  for (let s = Math.ceil(from / sectorWidth - 0.5); (s + 0.5) * sectorWidth <= to; s++) {
    const sector = ((s % hueSectors) + hueSectors) % hueSectors
    // Where the ray at this hue meets the line: r·(cos, sin) = p + s·d.
    const denominator = cosines[sector] * db - sines[sector] * da
    const r = denominator === 0 ? Math.hypot(a0, b0) : cross / denominator
    if (r > radius[row + sector]) radius[row + sector] = r
  }
}

const sectorArea = 0.5 * sectorWidth

/** Volume in cubic CIELAB units. */
export const volumeOf = ({ radius }: GamutSolid): number => sectorArea * radius.reduce((sum, r) => sum + r * r, 0)

/** What of a reference falls outside a gamut, in one range of lightness and hue. */
interface MissingPart {
  /** Sector of hue, degrees. */
  readonly hueFrom: number
  readonly hueTo: number
  /** Share of the whole reference volume that is missing here, %. */
  readonly missing: number
  /** The largest chroma that the reference asks for beyond the gamut's, and the lightness where. */
  readonly chromaShort: number
  readonly lightness: number
}

export interface SolidComparison {
  readonly volume: number
  readonly referenceVolume: number
  /** Intersection ÷ reference, %, never above 100. */
  readonly coverage: number
  /** Volume ÷ reference volume, %. */
  readonly volumeRatio: number
  /** By twelfths of the hue circle, those with something missing, worst first. */
  readonly missing: readonly MissingPart[]
}

const hueParts = 12

/** A gamut against a reference: volumes, coverage, and which parts of the reference fall outside. */
export function compareSolids(own: GamutSolid, reference: GamutSolid): SolidComparison {
  const width = hueSectors / hueParts
  const parts = Array.from({ length: hueParts }, (_, i) => ({
    hueFrom: i * width,
    hueTo: (i + 1) * width,
    missing: 0,
    chromaShort: 0,
    lightness: 0,
  }))
  let shared = 0
  own.radius.forEach((r, i) => {
    const wanted = reference.radius[i]
    const least = Math.min(r, wanted)
    shared += least * least
    if (wanted <= r) return
    const part = parts[Math.floor((i % hueSectors) / width)]
    part.missing += wanted * wanted - r * r
    if (wanted - r > part.chromaShort) {
      part.chromaShort = wanted - r
      part.lightness = Math.floor(i / hueSectors) + 0.5
    }
  })
  const [volume, referenceVolume] = [volumeOf(own), volumeOf(reference)]
  return {
    volume,
    referenceVolume,
    coverage: Math.min(100, (100 * sectorArea * shared) / referenceVolume),
    volumeRatio: (100 * volume) / referenceVolume,
    missing: parts
      .map((p) => ({ ...p, missing: (100 * sectorArea * p.missing) / referenceVolume }))
      .filter((p) => p.missing >= 0.01)
      .sort((a, b) => b.missing - a.missing),
  }
}
