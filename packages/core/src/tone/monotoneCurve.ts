/** A curve through points, kept monotone between them. */
export type CurveFunction = (x: number) => number

/**
 * Piecewise cubic Hermite interpolation that keeps the points' monotonicity, linear beyond the ends.
 * `xs` strictly rising, as long as `ys`, two points or more; RangeError otherwise.
 * F. N. Fritsch, R. E. Carlson, SIAM J. Numer. Anal. 17 (2), 1980; slopes by the harmonic mean (Fritsch–Butland 1984).
 */
export function monotoneCurve(xs: readonly number[], ys: readonly number[]): CurveFunction {
  const n = xs.length
  if (n < 2 || ys.length !== n) throw new RangeError('A curve needs two points or more, with one y for every x.')
  const h: number[] = []
  const secant: number[] = []
  for (let i = 0; i < n - 1; i++) {
    h[i] = xs[i + 1] - xs[i]
    if (!(h[i] > 0)) throw new RangeError('The x values of a curve must rise.')
    secant[i] = (ys[i + 1] - ys[i]) / h[i]
  }
  const slope = new Array<number>(n)
  slope[0] = secant[0]
  slope[n - 1] = secant[n - 2]
  for (let i = 1; i < n - 1; i++) {
    const a = secant[i - 1]
    const b = secant[i]
    const w1 = 2 * h[i] + h[i - 1]
    const w2 = h[i] + 2 * h[i - 1]
    slope[i] = a * b <= 0 ? 0 : (w1 + w2) / (w1 / a + w2 / b)
  }
  return (x) => {
    if (x <= xs[0]) return ys[0] + slope[0] * (x - xs[0])
    if (x >= xs[n - 1]) return ys[n - 1] + slope[n - 1] * (x - xs[n - 1])
    let low = 0
    let high = n - 1
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if (xs[middle] <= x) low = middle
      else high = middle
    }
    const t = (x - xs[low]) / h[low]
    const t2 = t * t
    const t3 = t2 * t
    return (
      (2 * t3 - 3 * t2 + 1) * ys[low] +
      (t3 - 2 * t2 + t) * h[low] * slope[low] +
      (3 * t2 - 2 * t3) * ys[low + 1] +
      (t3 - t2) * h[low] * slope[low + 1]
    )
  }
}

/** The x in [from, to] at which a rising function reaches y, by bisection to 2⁻⁴⁰ of the interval; the end if it does not. */
export function invertRising(f: CurveFunction, y: number, from = 0, to = 1): number {
  if (y <= f(from)) return from
  if (y >= f(to)) return to
  let a = from
  let b = to
  for (let i = 0; i < 40; i++) {
    const middle = (a + b) / 2
    if (f(middle) < y) a = middle
    else b = middle
  }
  return (a + b) / 2
}
