import type { Matrix3 } from '../../color/matrix3'
import { readCurve, type IccCurve } from './curves'
import { IccWriter, ProfileError, type IccReader } from './iccBytes'
import { readLut, type Lut } from './lut'

/** What a tag says, as far as its type is known. */
export type TagValue =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'xyz'; readonly values: readonly (readonly [number, number, number])[] }
  | { readonly kind: 'numbers'; readonly values: readonly number[] }
  | { readonly kind: 'curve'; readonly curve: IccCurve }
  | { readonly kind: 'lut'; readonly lut: Lut }
  /** The curves of the video card: three tables of shares 0–1. */
  | { readonly kind: 'video'; readonly channels: readonly Float64Array[] }
  | { readonly kind: 'pairs'; readonly pairs: readonly (readonly [string, string])[] }
  | { readonly kind: 'signature'; readonly signature: string }
  | { readonly kind: 'date'; readonly at: number }
  | { readonly kind: 'unknown' }

const mostText = 65_536
const until0 = (s: string) => s.replace(/\0[\s\S]*$/, '')

/** `mluc`: the English record, else the first. ICC.1:2022 §10.15. */
function readLocalized(r: IccReader): TagValue {
  const [count, width] = [r.u32(8), r.u32(12)]
  if (count === 0) return { kind: 'text', text: '' }
  if (width < 12) throw new ProfileError(`${r.name} holds text records of ${width} bytes; 12 are needed.`)
  r.need(16, count * width)
  let chosen = 0
  for (let i = 0; i < count; i++)
    if (r.text(16 + i * width, 2) === 'en') {
      chosen = i
      break
    }
  const [length, offset] = [r.u32(20 + chosen * width), r.u32(24 + chosen * width)]
  r.need(offset, length)
  return { kind: 'text', text: r.utf16(offset, Math.min(length, mostText)) }
}

/** `desc` of version 2: its ASCII part. ICC.1:2001-04 §6.5.17. */
function readDescription(r: IccReader): TagValue {
  const length = r.u32(8)
  r.need(12, length)
  return { kind: 'text', text: until0(r.text(12, Math.min(length, mostText))) }
}

/** `vcgt`, as several systems' loaders read it: a table or a formula for each channel, big-endian. */
function readVideo(r: IccReader): TagValue {
  const form = r.u32(8)
  if (form === 0) {
    const [channels, entries, bytesEach] = [r.u16(12), r.u16(14), r.u16(16)]
    if ((channels !== 3 && channels !== 1) || entries < 2 || (bytesEach !== 1 && bytesEach !== 2))
      throw new ProfileError(
        `${r.name} holds ${channels} tables of ${entries} entries of ${bytesEach} bytes; 1 or 3 of 2 or more of 1 or 2 are understood.`,
      )
    const tables = Array.from({ length: channels }, (_, c) =>
      r.shares(18 + c * entries * bytesEach, entries, bytesEach),
    )
    return { kind: 'video', channels: channels === 3 ? tables : [tables[0], tables[0], tables[0]] }
  }
  if (form !== 1) throw new ProfileError(`${r.name} is of the unknown form ${form}.`)
  const channels = [0, 1, 2].map((c) => {
    const [gamma, least, most] = r.fixeds(12 + 12 * c, 3)
    return Float64Array.from({ length: 256 }, (_, i) => {
      const v = least + (most - least) * (i / 255) ** gamma
      return v >= 1 ? 1 : v > 0 ? v : 0
    })
  })
  return { kind: 'video', channels }
}

/** `dict` of the metadata tag: names and values. ICC.1:2022 §10.9. */
function readDictionary(r: IccReader): TagValue {
  const [count, width] = [r.u32(8), r.u32(12)]
  if (width !== 16 && width !== 24 && width !== 32)
    throw new ProfileError(`${r.name} holds records of ${width} bytes; 16, 24 or 32 are allowed.`)
  r.need(16, count * width)
  let budget = mostText
  const string = (at: number) => {
    const [offset, length] = [r.u32(at), r.u32(at + 4)]
    r.need(offset, length)
    const take = Math.min(length, budget)
    budget -= take
    return r.utf16(offset, take)
  }
  const pairs = Array.from({ length: Math.min(count, 4096) }, (_, i): [string, string] => [
    string(16 + i * width),
    string(24 + i * width),
  ])
  return { kind: 'pairs', pairs }
}

type Reader = (r: IccReader, context: { readonly pcsXyz: boolean; readonly signature: string }) => TagValue

const readers: Readonly<Record<string, Reader>> = {
  'XYZ ': (r) => ({
    kind: 'xyz',
    values: Array.from({ length: Math.min(Math.floor((r.size - 8) / 12), 64) }, (_, i) => {
      const [x, y, z] = r.fixeds(8 + 12 * i, 3)
      return [x, y, z] as const
    }),
  }),
  sf32: (r) => ({ kind: 'numbers', values: r.fixeds(8, Math.min(Math.floor((r.size - 8) / 4), 4096)) }),
  curv: (r) => ({ kind: 'curve', curve: readCurve(r).curve }),
  para: (r) => ({ kind: 'curve', curve: readCurve(r).curve }),
  mft1: (r, { pcsXyz, signature }) => ({ kind: 'lut', lut: readLut(r, pcsXyz && signature.startsWith('B2A')) }),
  mft2: (r, { pcsXyz, signature }) => ({ kind: 'lut', lut: readLut(r, pcsXyz && signature.startsWith('B2A')) }),
  'mAB ': (r) => ({ kind: 'lut', lut: readLut(r, false) }),
  'mBA ': (r) => ({ kind: 'lut', lut: readLut(r, false) }),
  mluc: readLocalized,
  desc: readDescription,
  text: (r) => ({ kind: 'text', text: until0(r.text(8, Math.min(r.size - 8, mostText))) }),
  vcgt: readVideo,
  dict: readDictionary,
  'sig ': (r) => ({ kind: 'signature', signature: r.text(8, 4) }),
  dtim: (r) => ({ kind: 'date', at: readDate(r, 8) }),
}

/** Year, month, day, hours, minutes, seconds as ms since 1970, UTC; NaN when they make no date. ICC.1:2022 §4.2. */
export function readDate(r: IccReader, at: number): number {
  const [year, month, date, hours, minutes, seconds] = [0, 2, 4, 6, 8, 10].map((o) => r.u16(at + o))
  if (month < 1 || month > 12 || date < 1 || date > 31) return NaN
  return Date.UTC(year, month - 1, date, hours, minutes, seconds)
}

/** Reads a tag. A type that is not known is `unknown`; one that is known and broken throws ProfileError. */
export function readTag(r: IccReader, context: { pcsXyz: boolean; signature: string }): TagValue {
  const type = r.text(0, 4)
  return Object.hasOwn(readers, type) ? readers[type](r, context) : { kind: 'unknown' }
}

export const xyzTag = (v: readonly number[]): Uint8Array =>
  v.reduce((w, n) => w.fixed(n), new IccWriter().text('XYZ ').u32(0)).done()

export const matrixTag = (m: Matrix3): Uint8Array =>
  m
    .flat()
    .reduce((w, n) => w.fixed(n), new IccWriter().text('sf32').u32(0))
    .done()

/** Text of version 4: `mluc` with one English record. */
export const localizedTag = (text: string): Uint8Array =>
  new IccWriter()
    .text('mluc')
    .u32(0)
    .u32(1)
    .u32(12)
    .text('enUS')
    .u32(text.length * 2)
    .u32(28)
    .utf16(text)
    .done()

/** What version 2 can say of a text: its characters below 128, others as “?”. */
const ascii = (text: string) =>
  text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^\x20-\x7e]/g, '?')

/** Text of version 2: plain. */
export const plainTextTag = (text: string): Uint8Array =>
  new IccWriter()
    .text('text')
    .u32(0)
    .text(`${ascii(text)}\0`)
    .done()

/** Description of version 2: ASCII, and the whole text as Unicode. ICC.1:2001-04 §6.5.17. */
export function descriptionTag(text: string): Uint8Array {
  const plain = `${ascii(text)}\0`
  const w = new IccWriter().text('desc').u32(0).u32(plain.length).text(plain)
  w.u32(0)
    .u32(text.length + 1)
    .utf16(`${text}\0`)
  return w.u16(0).u8(0).bytes(new Uint8Array(67)).done()
}

/** `vcgt` with three tables of 16 bits. */
export function videoTag(channels: readonly [ArrayLike<number>, ArrayLike<number>, ArrayLike<number>]): Uint8Array {
  const w = new IccWriter().text('vcgt').u32(0).u32(0).u16(3).u16(channels[0].length).u16(2)
  for (const values of channels) for (let i = 0; i < values.length; i++) w.share(values[i])
  return w.done()
}

/** `dict` with names and values. */
export function dictionaryTag(pairs: readonly (readonly [string, string])[]): Uint8Array {
  const strings = pairs.flat()
  let offset = 16 + 16 * pairs.length
  const w = new IccWriter().text('dict').u32(0).u32(pairs.length).u32(16)
  for (const s of strings) {
    w.u32(offset).u32(2 * s.length)
    offset += Math.ceil((2 * s.length) / 4) * 4
  }
  for (const s of strings) w.utf16(s).pad()
  return w.done()
}
