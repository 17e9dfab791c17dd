import { md5 } from '@noble/hashes/legacy.js'
import { bradfordMatrix } from '../color/adaptation'
import { pcsWhite } from '../color/encodings'
import { multiply, transpose, type Matrix3 } from '../color/matrix3'
import type { XYZ } from '../color/chromaticity'
import type { MatrixModel } from './matrixModel'

/** What a matrix profile says of itself. */
export interface ProfileFacts {
  readonly description: string
  readonly copyright: string
  /** UTC, ms since 1970. */
  readonly createdAt: number
}

/** Entries of each tone curve in the profiles we write. */
export const profileCurveEntries = 1024

const headerSize = 128

/** A growing run of big-endian numbers, as every ICC structure is laid out. ICC.1:2022 §4. */
class Bytes {
  private readonly list: number[] = []
  u8 = (...values: number[]) => (this.list.push(...values), this)
  u16 = (v: number) => this.u8((v >> 8) & 255, v & 255)
  u32 = (v: number) => this.u8((v >>> 24) & 255, (v >>> 16) & 255, (v >>> 8) & 255, v & 255)
  /** Signed 15.16 fixed point. */
  fixed = (v: number) => this.u32(Math.round(v * 65536) | 0)
  text = (s: string) => this.u8(...[...s].map((c) => c.charCodeAt(0)))
  get length() {
    return this.list.length
  }
  done = () => Uint8Array.from(this.list)
}

const xyzTag = (v: readonly number[]) => v.reduce((b, n) => b.fixed(n), new Bytes().text('XYZ ').u32(0)).done()
const matrixTag = (m: Matrix3) =>
  m
    .flat()
    .reduce((b, n) => b.fixed(n), new Bytes().text('sf32').u32(0))
    .done()

/** multiLocalizedUnicodeType with one English record. ICC.1:2022 §10.15. */
function textTag(text: string) {
  const bytes = new Bytes()
    .text('mluc')
    .u32(0)
    .u32(1)
    .u32(12)
    .text('enUS')
    .u32(text.length * 2)
    .u32(28)
  for (let i = 0; i < text.length; i++) bytes.u16(text.charCodeAt(i))
  return bytes.done()
}

function curveTag(curve: (v: number) => number) {
  const bytes = new Bytes().text('curv').u32(0).u32(profileCurveEntries)
  for (let i = 0; i < profileCurveEntries; i++)
    bytes.u16(Math.round(Math.min(1, Math.max(0, curve(i / (profileCurveEntries - 1)))) * 65535))
  return bytes.done()
}

/**
 * An ICC.1 version 4.4 display profile of matrix-and-curve kind from a fitted model: colorants adapted to D50 by linear
 * Bradford, `chad` with that matrix, `lumi` in cd/m², profile ID by MD5. ICC.1:2022 §8.4.3, §9.
 */
export function writeMatrixProfile(model: MatrixModel, facts: ProfileFacts): Uint8Array {
  const white: XYZ = [model.white[0] / model.white[1], 1, model.white[2] / model.white[1]]
  const adapt = bradfordMatrix(white, pcsWhite)
  const relative = model.matrix.map((row) => row.map((v) => v / model.white[1])) as unknown as Matrix3
  const colorants = transpose(multiply(adapt, relative))
  const tags: [string, Uint8Array][] = [
    ['desc', textTag(facts.description)],
    ['cprt', textTag(facts.copyright)],
    ['wtpt', xyzTag(pcsWhite)],
    ['chad', matrixTag(adapt)],
    ['lumi', xyzTag([0, model.white[1], 0])],
    ['rXYZ', xyzTag(colorants[0])],
    ['gXYZ', xyzTag(colorants[1])],
    ['bXYZ', xyzTag(colorants[2])],
    ['rTRC', curveTag(model.curves[0])],
    ['gTRC', curveTag(model.curves[1])],
    ['bTRC', curveTag(model.curves[2])],
  ]
  let offset = headerSize + 4 + tags.length * 12
  const table = new Bytes().u32(tags.length)
  const places = tags.map(([signature, data]) => {
    table.text(signature).u32(offset).u32(data.length)
    const at = offset
    offset += Math.ceil(data.length / 4) * 4
    return at
  })
  const out = new Uint8Array(offset)
  const date = new Date(facts.createdAt)
  const header = new Bytes()
    .u32(offset)
    .u32(0) // no preferred module
    .u32(0x04400000)
    .text('mntrRGB XYZ ')
  for (const part of [date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()]) header.u16(part)
  for (const part of [date.getUTCHours(), date.getUTCMinutes(), date.getUTCSeconds()]) header.u16(part)
  header.text('acsp').u32(0).u32(0).u32(0).u32(0).u32(0).u32(0).u32(0)
  for (const v of pcsWhite) header.fixed(v)
  out.set(header.done(), 0)
  out.set(table.done(), headerSize)
  tags.forEach(([, data], i) => out.set(data, places[i]))
  // Flags (44), rendering intent (64) and the ID itself (84) count as zero in the digest; all three are zero here.
  out.set(md5(out), 84)
  return out
}
