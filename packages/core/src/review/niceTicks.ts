/** Round ticks from at or below `low` to at or above `high`, four to seven of them. */
export function niceTicks(low: number, high: number): number[] {
  const rough = Math.max(high - low, 1e-9) / 5
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 2.5, 5, 10].map((s) => s * power).find((s) => s >= rough)!
  const first = Math.floor(low / step + 1e-9)
  const last = Math.ceil(high / step - 1e-9)
  return Array.from({ length: last - first + 1 }, (_, i) => Number(((first + i) * step).toPrecision(12)))
}
