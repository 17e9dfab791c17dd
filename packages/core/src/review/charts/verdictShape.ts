import type { Verdict } from '../../aims/limits'
import { ink, line, rect } from './drawing'

/** A verdict's sign by its shape, as strokes in a square of so many points at x, y. */
export function verdictShape(verdict: Verdict, x: number, y: number, size: number): string {
  const stroke = { stroke: ink.text, width: size / 9 }
  const [a, b] = [x + size * 0.08, y + size * 0.08]
  const [c, d] = [x + size * 0.92, y + size * 0.92]
  const square = rect(a, b, c - a, d - b, stroke)
  switch (verdict) {
    case 'within':
      return rect(a, b, c - a, d - b, { ...stroke, fill: ink.text })
    case 'near':
      return (
        line(
          [
            [a + (c - a) * 0.55, b],
            [a, b],
            [a, d],
            [c, d],
            [c, b + (d - b) * 0.45],
          ],
          stroke,
        ) + rect(x + size / 3, y + size / 3, size / 3, size / 3, { fill: ink.text })
      )
    case 'untold':
      return line(
        [
          [a, d],
          [a, b],
          [c, b],
          [c, d],
        ],
        stroke,
      )
    case 'outside':
      return (
        square +
        line(
          [
            [a, b],
            [c, d],
          ],
          stroke,
        ) +
        line(
          [
            [c, b],
            [a, d],
          ],
          stroke,
        )
      )
    case 'unproven':
      return rect(a, b, c - a, d - b, { ...stroke, dash: `${size / 6} ${size / 8}` })
    case 'lapsed':
      return (
        square +
        line(
          [
            [a, d],
            [c, b],
          ],
          stroke,
        )
      )
  }
}
