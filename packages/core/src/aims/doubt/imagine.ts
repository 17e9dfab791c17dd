import { convertXyzToUv, type XYZ } from '../../color/chromaticity'
import { diagonal, multiply, subtract, transpose, type Matrix3 } from '../../color/matrix3'
import type { PatchReading } from '../../color/patchReading'
import { percentile } from '../percentile'
import type { Interval } from '../limits'
import type { CommonSpread } from './instrumentDoubt'
import type { ReadingNoise } from './noise'

/** Standard normal numbers. */
export type Normal = () => number

/** Columns: the light of red, green and blue as it was read, above black; null where they were not read, or give none. */
export function lightsOf(readings: readonly PatchReading[]): Matrix3 | null {
  const find = (r: number, g: number, b: number) =>
    readings.find(({ rgb }) => rgb[0] === r && rgb[1] === g && rgb[2] === b)?.xyz
  const black = find(0, 0, 0) ?? [0, 0, 0]
  const columns = [find(1, 0, 0), find(0, 1, 0), find(0, 0, 1)].map((xyz) => xyz && subtract(xyz, black))
  if (!columns.every((c): c is XYZ => c !== undefined && Math.min(...c) >= 0 && c[1] > 0)) return null
  return transpose(columns as [XYZ, XYZ, XYZ])
}

/**
 * What readings would have to be multiplied by, were what is wrong with them alike drawn from these. `normalOf`: where the
 * numbers for a spread come from; thirteen at most are taken for each.
 */
export function drawCommon(
  spreads: readonly CommonSpread[],
  lights: Matrix3,
  back: Matrix3,
  normalOf: (spread: CommonSpread) => Normal,
): Matrix3 {
  const columns = transpose(lights)
  const uv = columns.map(convertXyzToUv)
  const shifts = columns.map(() => ({ u: 0, v: 0, amount: 0 }))
  let cells: [number, number, number] = [0, 0, 0]
  for (const spread of spreads) {
    const normal = normalOf(spread)
    const all = (spread.all ?? 0) * normal()
    cells = cells.map((c, k) => c + all + (spread.cells?.[k] ?? 0) * normal()) as typeof cells
    spread.lights?.forEach((of, k) => {
      shifts[k].u += of.u * normal()
      shifts[k].v += of.v * normal()
      shifts[k].amount += of.amount * normal()
    })
  }
  const moved = columns.map(([x, y, z], k): XYZ => {
    const u = Math.max(0.001, uv[k].u + shifts[k].u)
    const v = Math.max(0.01, uv[k].v + shifts[k].v)
    // Another colour of as much light: its sum stays, and its luminance follows v′.
    const sum = (x + 15 * y + 3 * z) * Math.exp(shifts[k].amount)
    return [(u * sum) / 4, (v * sum) / 9, Math.max(0, sum * (1 - u / 4 - (15 * v) / 9)) / 3]
  }) as [XYZ, XYZ, XYZ]
  const gains = diagonal(cells.map((c) => Math.exp(c)) as never)
  return multiply(gains, multiply(transpose(moved), back))
}

export const noLess = ([x, y, z]: XYZ): XYZ => [Math.max(0, x), Math.max(0, y), Math.max(0, z)]

/** Readings with noise on top, as it is at each one's light. */
export function shake<P extends PatchReading>(
  readings: readonly P[],
  at: (luminance: number) => ReadingNoise,
  normal: Normal,
): P[] {
  return readings.map((p) => {
    const { luminance, x, z } = at(p.xyz[1])
    const y = luminance * normal()
    return {
      ...p,
      xyz: noLess([p.xyz[0] * (1 + y + x * normal()), p.xyz[1] * (1 + y), p.xyz[2] * (1 + y + z * normal())]),
    }
  })
}

/** What is left of a figure that noise adds to by squares, when noise is taken off: shaken once more, it grew to `shaken`. */
export function calmed(value: number, shaken: readonly number[]): number {
  const squares = shaken.reduce((sum, v) => sum + v * v, 0) / Math.max(1, shaken.length)
  return shaken.length ? Math.sqrt(Math.max(0, 2 * value * value - Math.max(value * value, squares))) : value
}

/** Figures as they are drawn with noise, less what noise adds to them on average. */
export function withoutBias(drawn: readonly { readonly calm: number; readonly noisy: number }[]): number[] {
  const added = drawn.reduce((sum, { calm, noisy }) => sum + noisy - calm, 0) / drawn.length
  return drawn.map(({ noisy }) => Math.max(0, noisy - added))
}

/**
 * The 95 of 100 in the middle; where what was seen lies below them, as differences do that a run brought near to none, what
 * lies between it, noise taken off (`calm`), and the 95th.
 */
export function intervalOf(values: readonly number[], seen: number, calm: number): Interval {
  const [low, high] = [percentile(values, 0.025), percentile(values, 0.975)]
  if (seen < low) return { low: Math.min(calm, seen), high: Math.max(seen, percentile(values, 0.95)) }
  if (seen > high) return { low: percentile(values, 0.05), high: seen }
  return { low, high }
}
