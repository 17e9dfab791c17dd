/**
 * Change of luminance per minute, as a share of it: the slope of the straight line with the least squared error through
 * the points. Needs two points or more at different times; RangeError otherwise.
 */
export function driftPerMinute(points: readonly { readonly minutes: number; readonly luminance: number }[]): number {
  const n = points.length
  const mean = (f: (p: (typeof points)[number]) => number) => points.reduce((sum, p) => sum + f(p), 0) / n
  const at = mean((p) => p.minutes)
  const level = mean((p) => p.luminance)
  const spread = points.reduce((sum, p) => sum + (p.minutes - at) ** 2, 0)
  if (n < 2 || spread === 0) throw new RangeError('A drift needs readings of two instants or more.')
  return points.reduce((sum, p) => sum + (p.minutes - at) * (p.luminance - level), 0) / spread / level
}
