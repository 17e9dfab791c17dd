import { lookUp1d } from '../../tables/table1d'
import { IccWriter, ProfileError, type IccReader } from './iccBytes'

/** A one-dimensional function of a profile. ICC.1:2022 §10.6, §10.18. */
export type IccCurve =
  | { readonly kind: 'table'; readonly values: Float64Array }
  /** `parameters` g a b c d e f as far as the function type has them. */
  | { readonly kind: 'formula'; readonly type: number; readonly parameters: readonly number[] }

const parameterCounts = [1, 3, 4, 5, 7]

/** Reads a curve at a place of its tag; gives the bytes it takes too. Throws ProfileError. */
export function readCurve(r: IccReader, at = 0): { curve: IccCurve; length: number } {
  const type = r.text(at, 4)
  if (type === 'curv') {
    const count = r.u32(at + 8)
    if (count > 65536) throw new ProfileError(`${r.name} holds a curve of ${count} entries; 65,536 is the most.`)
    if (count === 1) {
      r.need(at, 14)
      return { curve: { kind: 'formula', type: 0, parameters: [r.u16(at + 12) / 256] }, length: 14 }
    }
    if (count === 0) return { curve: { kind: 'formula', type: 0, parameters: [1] }, length: 12 }
    return { curve: { kind: 'table', values: r.shares(at + 12, count, 2) }, length: 12 + 2 * count }
  }
  if (type === 'para') {
    const formula = r.u16(at + 8)
    const count = parameterCounts[formula]
    if (count === undefined) throw new ProfileError(`${r.name} holds a curve of the unknown kind ${formula}.`)
    return { curve: { kind: 'formula', type: formula, parameters: r.fixeds(at + 12, count) }, length: 12 + 4 * count }
  }
  throw new ProfileError(`${r.name} holds “${type}” where a curve should be.`)
}

/** The curve at a share 0–1, before clamping. */
export function applyCurve(curve: IccCurve, x: number): number {
  if (curve.kind === 'table') return lookUp1d(curve.values, x)
  const [g, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = curve.parameters
  const power = (v: number) => Math.max(0, v) ** g
  switch (curve.type) {
    case 0:
      return power(x)
    case 1:
      return x >= -b / a ? power(a * x + b) : 0
    case 2:
      return x >= -b / a ? power(a * x + b) + c : c
    case 3:
      return x >= d ? power(a * x + b) : c * x
    default:
      return x >= d ? power(a * x + b) + e : c * x + f
  }
}

/** A curve clamped to 0–1, never NaN. */
export function curveFunction(curve: IccCurve): (x: number) => number {
  return (x) => {
    const y = applyCurve(curve, x)
    return y >= 1 ? 1 : y > 0 ? y : 0
  }
}

/** `curv` with a table of a function on 0–1. */
export function tableCurve(of: (x: number) => number, entries: number): Uint8Array {
  const w = new IccWriter().text('curv').u32(0).u32(entries)
  for (let i = 0; i < entries; i++) w.share(of(i / (entries - 1)))
  return w.done()
}

/** `curv` that leaves things as they are. */
export const identityCurve = (): Uint8Array => new IccWriter().text('curv').u32(0).u32(0).done()
