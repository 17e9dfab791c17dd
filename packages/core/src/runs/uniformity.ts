import { convertXyzToUv, deltaUv, type XYZ } from '../color/chromaticity'

/** Columns and rows of places on the screen that are read. */
export const uniformitySide = 5

/** A place on the screen: row from the top, column from the left, both from 1. */
export interface ScreenPlace {
  readonly row: number
  readonly column: number
}

const middle = (uniformitySide + 1) / 2
export const screenCentre: ScreenPlace = { row: middle, column: middle }
/** How far the outermost places lie from the centre, as a share of half the screen: an instrument does not fit at its very edge. */
const outermost = 0.8

/** Where the middle of a place lies: −1 to 1 from left to right and from bottom to top. */
export const positionOf = ({ row, column }: ScreenPlace): { x: number; y: number } => ({
  x: ((column - middle) / (middle - 1)) * outermost,
  y: ((middle - row) / (middle - 1)) * outermost,
})

const samePlace = (a: ScreenPlace, b: ScreenPlace) => a.row === b.row && a.column === b.column

/** All places in the order in which they are visited: the centre, then row by row, back and forth, so that hands move little. */
export const uniformityPlaces: readonly ScreenPlace[] = [
  screenCentre,
  ...Array.from({ length: uniformitySide }, (_, r) =>
    Array.from({ length: uniformitySide }, (_, c): ScreenPlace => ({
      row: r + 1,
      column: r % 2 ? uniformitySide - c : c + 1,
    })),
  )
    .flat()
    .filter((p) => !samePlace(p, screenCentre)),
]

/** A place by its name. */
export const placeName = ({ row, column }: ScreenPlace): string =>
  row === middle && column === middle ? 'Centre' : `Row ${row}, column ${column}`

/** White at one place. */
export interface PlaceReading extends ScreenPlace {
  /** cd/m² */
  readonly xyz: XYZ
}

export interface PlaceFigure extends ScreenPlace {
  /** cd/m² */
  readonly luminance: number
  /** Luminance less that of the centre, % of it. */
  readonly luminanceOff: number
  /** Δu′v′ to the centre. */
  readonly deltaUv: number
}

/** How even a screen is. */
export interface UniformityMap {
  readonly places: readonly PlaceFigure[]
  /** The place that is furthest from the centre in luminance, and in chromaticity. */
  readonly worstLuminance: PlaceFigure
  readonly worstUv: PlaceFigure
}

/**
 * A screen's places against its centre. What white drifted between the first and the last look at the centre is taken out,
 * in the order of the readings. Throws Error when the centre was not read.
 */
export function uniformityOf(readings: readonly PlaceReading[]): UniformityMap {
  const centres = readings.map((r, i) => ({ r, i })).filter(({ r }) => samePlace(r, screenCentre))
  if (!centres.length) throw new Error('The centre of the screen was not read, so there is nothing to compare with.')
  const first = centres[0]
  const last = centres[centres.length - 1]
  const span = Math.max(1, last.i - first.i)
  const steady = (xyz: XYZ, i: number): XYZ => {
    const t = (i - first.i) / span
    return xyz.map((v, k) => (v * first.r.xyz[k]) / (first.r.xyz[k] + (last.r.xyz[k] - first.r.xyz[k]) * t)) as never
  }
  const centre = first.r.xyz
  const uv = convertXyzToUv(centre)
  const places = readings
    .map((r, i) => ({ r, i }))
    // The centre's second look only tells what drifted.
    .filter(({ r, i }) => !samePlace(r, screenCentre) || i === first.i)
    .map(({ r, i }): PlaceFigure => {
      const xyz = steady(r.xyz, i)
      return {
        row: r.row,
        column: r.column,
        luminance: xyz[1],
        luminanceOff: 100 * (xyz[1] / centre[1] - 1),
        deltaUv: deltaUv(convertXyzToUv(xyz), uv),
      }
    })
  const furthest = (of: (p: PlaceFigure) => number) => places.reduce((a, b) => (of(b) > of(a) ? b : a))
  return {
    places,
    worstLuminance: furthest((p) => Math.abs(p.luminanceOff)),
    worstUv: furthest((p) => p.deltaUv),
  }
}
