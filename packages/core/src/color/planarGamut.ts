import { convertChromaticityToUv, type Chromaticity } from './chromaticity'
import type { Primaries } from './encodings'
import { areaOf, intersectConvex, type Point } from './polygon'

/** The chromaticity diagrams in which areas are compared. */
export type Diagram = 'xy' | 'uv'

const pointIn: Readonly<Record<Diagram, (c: Chromaticity) => Point>> = {
  xy: ({ x, y }) => [x, y],
  uv: (c) => {
    const { u, v } = convertChromaticityToUv(c)
    return [u, v]
  },
}

/** The triangle of three primaries in a diagram. */
export const triangleOf = ({ red, green, blue }: Primaries, diagram: Diagram): Point[] =>
  [red, green, blue].map(pointIn[diagram])

export interface PlanarGamut {
  /** Area of the measured triangle, in units of the diagram. */
  readonly area: number
  /** Intersection ÷ reference, %: how much of the reference is reached, never above 100. */
  readonly coverage: number
  /** Measured ÷ reference, %: how large the triangle is, wherever it lies. */
  readonly areaRatio: number
}

/** A measured triangle against a reference, in one diagram. */
export function comparePrimaries(measured: Primaries, reference: Primaries, diagram: Diagram): PlanarGamut {
  const [own, wanted] = [triangleOf(measured, diagram), triangleOf(reference, diagram)]
  const [area, whole] = [areaOf(own), areaOf(wanted)]
  const shared = areaOf(intersectConvex(own, wanted))
  return { area, coverage: Math.min(100, (100 * shared) / whole), areaRatio: (100 * area) / whole }
}
