/** A point of a plane: xy, u′v′ or a*b*. */
export type Point = readonly [number, number]

/** Signed area of a polygon, positive when its corners run counter-clockwise (shoelace formula). */
const signedArea = (corners: readonly Point[]): number =>
  corners.reduce((sum, [x, y], i) => {
    const [x2, y2] = corners[(i + 1) % corners.length]
    return sum + (x * y2 - x2 * y) / 2
  }, 0)

export const areaOf = (corners: readonly Point[]): number => Math.abs(signedArea(corners))

/** The same polygon with its corners counter-clockwise. */
const turned = (corners: readonly Point[]) => (signedArea(corners) < 0 ? [...corners].reverse() : corners)

/** Twice the signed area of the triangle a b p: positive when p lies to the left of a → b. */
const side = (a: Point, b: Point, p: Point) => (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])

/**
 * The part of a polygon that lies inside a convex one; empty when there is none.
 * I. E. Sutherland, G. W. Hodgman, Communications of the ACM 17 (1), 1974.
 */
export function intersectConvex(polygon: readonly Point[], convex: readonly Point[]): Point[] {
  const edges = turned(convex)
  let rest = [...turned(polygon)]
  edges.forEach((a, i) => {
    const b = edges[(i + 1) % edges.length]
    const kept: Point[] = []
    rest.forEach((p, k) => {
      const before = rest[(k + rest.length - 1) % rest.length]
      const [sp, sb] = [side(a, b, p), side(a, b, before)]
      if (sp >= 0 !== sb >= 0) {
        const t = sb / (sb - sp)
        kept.push([before[0] + t * (p[0] - before[0]), before[1] + t * (p[1] - before[1])])
      }
      if (sp >= 0) kept.push(p)
    })
    rest = kept
  })
  return rest
}
