import type { Chromaticity } from '../color/chromaticity'
import type { Primaries } from '../color/encodings'
import { FormatError } from './formatError'

/** What a display says of itself over its cable. VESA E-EDID release A, revisions 1.3 and 1.4; CTA-861 for extensions. */
interface Edid {
  /** Three letters registered to the maker. */
  readonly maker: string
  readonly productCode: number
  /** Null when the display gives none. */
  readonly serialNumber: number | null
  readonly week: number | null
  /** Of manufacture, or of the model where `week` is null and `isModelYear`. */
  readonly year: number
  readonly isModelYear: boolean
  readonly version: '1.3' | '1.4'
  /** cm; null for projectors and others without a size. */
  readonly size: { readonly width: number; readonly height: number } | null
  /** Exponent; null when it is told elsewhere. */
  readonly gamma: number | null
  readonly primaries: Primaries
  readonly white: Chromaticity
  /** The model's name, and the serial number as text. */
  readonly name: string
  readonly serialText: string
  /** Pixels of the preferred timing; null when there is none. */
  readonly pixels: { readonly width: number; readonly height: number } | null
  /** Bits per colour; null when not told. */
  readonly bits: number | null
  readonly extension: CtaExtension | null
}

/** What the CTA-861 extension adds for colour. */
interface CtaExtension {
  readonly revision: number
  /** Names of the colorimetries that the display takes. */
  readonly colorimetry: readonly string[]
  /** Transfer functions for high dynamic range, and the luminances in cd/m² that the display wants content to know. */
  readonly hdr: {
    readonly transfers: readonly string[]
    readonly peak: number | null
    readonly frameAverage: number | null
    readonly least: number | null
  } | null
}

export interface ReadEdid {
  readonly edid: Edid
  /** What is wrong with it although it could be read: a checksum, a missing block. */
  readonly faults: readonly string[]
}

const blockSize = 128
const mark = [0, 255, 255, 255, 255, 255, 255, 0]
const sumOf = (block: Uint8Array) => block.reduce((a, b) => a + b, 0) & 255

const hex = (v: number) => v.toString(16).padStart(2, '0').toUpperCase()

function checksumFault(block: Uint8Array, name: string): string[] {
  if (sumOf(block) === 0) return []
  const right = (256 - sumOf(block.subarray(0, blockSize - 1))) & 255
  return [`The checksum of ${name} is ${hex(block[blockSize - 1])}; by its bytes it should be ${hex(right)}.`]
}

/** Ten-bit chromaticities: high bits in bytes 27–34, low bits in 25–26. VESA E-EDID §3.7. */
function chromaticities(b: Uint8Array): { primaries: Primaries; white: Chromaticity } {
  const low = (b[25] << 8) | b[26]
  const value = (i: number) => ((b[27 + i] << 2) | ((low >> (14 - 2 * i)) & 3)) / 1024
  const xy = (i: number): Chromaticity => ({ x: value(i), y: value(i + 1) })
  return { primaries: { red: xy(0), green: xy(2), blue: xy(4) }, white: xy(6) }
}

const descriptorText = (d: Uint8Array) =>
  String.fromCharCode(...d.subarray(5, 18))
    .replace(/\n[\s\S]*$/, '')
    .replace(/[^\x20-\x7e]/g, '')
    .trim()

const colorimetries = [
  'xvYCC601',
  'xvYCC709',
  'sYCC601',
  'opYCC601',
  'opRGB',
  'BT.2020 cYCC',
  'BT.2020 YCC',
  'BT.2020 RGB',
]
const transfers = ['SDR gamma', 'HDR gamma', 'PQ', 'HLG']
const flagged = (byte: number, names: readonly string[]) => names.filter((_, i) => (byte >> i) & 1)

/** CTA-861-H §7.5: data blocks; of the extended ones colorimetry (5) and HDR static metadata (6). */
function readExtension(b: Uint8Array, faults: string[]): CtaExtension {
  const end = b[2] >= 4 && b[2] <= 127 ? b[2] : 4
  let colorimetry: string[] = []
  let hdr: CtaExtension['hdr'] = null
  for (let at = 4; at < end;) {
    const length = b[at] & 31
    if (at + 1 + length > end) {
      faults.push(`A data block of the extension at byte ${at} reaches beyond the data blocks.`)
      break
    }
    const block = b.subarray(at + 1, at + 1 + length)
    if (b[at] >> 5 === 7 && length >= 2 && block[0] === 5) {
      colorimetry = flagged(block[1], colorimetries)
      if (length >= 3 && block[2] & 128) colorimetry.push('DCI-P3')
    }
    if (b[at] >> 5 === 7 && length >= 3 && block[0] === 6) {
      const luminance = (code: number | undefined) => (code ? 50 * 2 ** (code / 32) : null)
      const peak = luminance(block[3])
      hdr = {
        transfers: flagged(block[1], transfers),
        peak,
        frameAverage: luminance(block[4]),
        least: peak !== null && block[5] ? (peak * (block[5] / 255) ** 2) / 100 : null,
      }
    }
    at += 1 + length
  }
  return { revision: b[1], colorimetry, hdr }
}

/**
 * Reads an EDID of one block or more. A wrong checksum is told and the rest read all the same; a wrong mark, version or
 * length throws FormatError.
 */
export function readEdid(bytes: Uint8Array): ReadEdid {
  if (bytes.length < blockSize)
    throw new FormatError(`An EDID has ${blockSize} bytes or more; this file has ${bytes.length}.`)
  if (mark.some((v, i) => bytes[i] !== v))
    throw new FormatError('This is no EDID: its first eight bytes are not the mark of one.')
  const b = bytes.subarray(0, blockSize)
  if (b[18] !== 1 || (b[19] !== 3 && b[19] !== 4))
    throw new FormatError(`The EDID is of version ${b[18]}.${b[19]}; 1.3 and 1.4 are understood.`)
  const faults = checksumFault(b, 'the first block')
  if (bytes.length % blockSize) faults.push(`The file has ${bytes.length} bytes, which is no whole number of blocks.`)
  const version = b[19] === 4 ? '1.4' : '1.3'
  const letters = (b[8] << 8) | b[9]
  const letter = (shift: number) => String.fromCharCode(64 + ((letters >> shift) & 31))
  const serial = b[12] + 2 ** 8 * b[13] + 2 ** 16 * b[14] + 2 ** 24 * b[15]
  let [name, serialText] = ['', '']
  let pixels: Edid['pixels'] = null
  for (let at = 54; at < 126; at += 18) {
    const d = b.subarray(at, at + 18)
    if (d[0] || d[1]) {
      if (!pixels) pixels = { width: d[2] | ((d[4] >> 4) << 8), height: d[5] | ((d[7] >> 4) << 8) }
    } else if (d[3] === 0xfc) name = descriptorText(d)
    else if (d[3] === 0xff) serialText = descriptorText(d)
  }
  const count = b[126]
  const blocks = Math.min(count, Math.floor(bytes.length / blockSize) - 1)
  if (blocks < count) faults.push(`The EDID announces ${count} more blocks; the file holds ${blocks}.`)
  let extension: CtaExtension | null = null
  for (let i = 1; i <= blocks; i++) {
    const block = bytes.subarray(i * blockSize, (i + 1) * blockSize)
    faults.push(...checksumFault(block, `block ${i + 1}`))
    if (block[0] === 2 && !extension) extension = readExtension(block, faults)
  }
  const digitalDepth = version === '1.4' && b[20] & 128 ? (b[20] >> 4) & 7 : 0
  const edid: Edid = {
    maker: letter(10) + letter(5) + letter(0),
    productCode: b[10] | (b[11] << 8),
    serialNumber: serial === 0 ? null : serial,
    week: b[16] >= 1 && b[16] <= 54 ? b[16] : null,
    year: 1990 + b[17],
    isModelYear: b[16] === 255,
    version,
    size: b[21] && b[22] ? { width: b[21], height: b[22] } : null,
    gamma: b[23] === 255 ? null : (b[23] + 100) / 100,
    ...chromaticities(b),
    name,
    serialText,
    pixels,
    bits: digitalDepth >= 1 && digitalDepth <= 6 ? 4 + 2 * digitalDepth : null,
    extension,
  }
  return { edid, faults }
}

/** What an EDID is written from; the rest gets values that any host accepts. */
export type EdidFacts = Omit<Edid, 'version' | 'extension' | 'isModelYear'> & {
  readonly extension: {
    readonly colorimetry: readonly string[]
    readonly hdr: { readonly transfers: readonly string[]; readonly peak: number } | null
  } | null
}

const withChecksum = (block: Uint8Array): Uint8Array => {
  block[blockSize - 1] = (256 - sumOf(block.subarray(0, blockSize - 1))) & 255
  return block
}

function putText(block: Uint8Array, at: number, tag: number, text: string): void {
  block.set([0, 0, 0, tag, 0], at)
  const plain = text.replace(/[^\x20-\x7e]/g, '?').slice(0, 13)
  for (let i = 0; i < 13; i++) block[at + 5 + i] = i < plain.length ? plain.charCodeAt(i) : i === plain.length ? 10 : 32
}

const flags = (chosen: readonly string[], names: readonly string[]) =>
  names.reduce((byte, name, i) => (chosen.includes(name) ? byte | (1 << i) : byte), 0)

/**
 * Writes an EDID 1.4 with a CTA-861 extension where asked for. Chromaticities are rounded to 1/1024, names cut to 13
 * characters. Throws RangeError for a maker that is not three capital letters.
 */
export function writeEdid(facts: EdidFacts): Uint8Array {
  if (!/^[A-Z]{3}$/.test(facts.maker)) throw new RangeError('The maker of an EDID is three capital letters.')
  const b = new Uint8Array(blockSize)
  b.set(mark, 0)
  const [l1, l2, l3] = [...facts.maker].map((c) => c.charCodeAt(0) - 64)
  const letters = (l1 << 10) | (l2 << 5) | l3
  b.set([letters >> 8, letters & 255, facts.productCode & 255, facts.productCode >> 8], 8)
  const serial = facts.serialNumber ?? 0
  b.set([serial & 255, (serial >>> 8) & 255, (serial >>> 16) & 255, serial >>> 24], 12)
  b.set([facts.week ?? 0, facts.year - 1990, 1, 4], 16)
  b[20] = 0x80 | ((facts.bits ? (facts.bits - 4) / 2 : 0) << 4) | 5
  b[21] = facts.size?.width ?? 0
  b[22] = facts.size?.height ?? 0
  b[23] = facts.gamma === null ? 255 : Math.round(facts.gamma * 100 - 100)
  b[24] = 0x02
  const { red, green, blue } = facts.primaries
  let low = 0
  ;[red, green, blue, facts.white]
    .flatMap(({ x, y }) => [x, y])
    .forEach((v, i) => {
      const code = Math.min(1023, Math.max(0, Math.round(v * 1024)))
      b[27 + i] = code >> 2
      low |= (code & 3) << (14 - 2 * i)
    })
  b[25] = low >> 8
  b[26] = low & 255
  b.fill(1, 38, 54) // standard timings: none
  const { width, height } = facts.pixels ?? { width: 1920, height: 1080 }
  const [blankX, blankY] = [160, 40]
  const clock = Math.round(((width + blankX) * (height + blankY) * 60) / 10_000)
  const high = (a: number, c: number) => ((a >> 8) << 4) | (c >> 8)
  const timing = [clock & 255, Math.min(255, clock >> 8), width & 255, blankX, high(width, blankX)]
  b.set([...timing, height & 255, blankY, high(height, blankY), 48, 32, 0x35, 0, 0, 0, 0, 0, 0, 0x1e], 54)
  putText(b, 72, 0xfc, facts.name)
  putText(b, 90, 0xff, facts.serialText)
  b.set([0, 0, 0, 0x10], 108)
  if (!facts.extension) return withChecksum(b)
  b[126] = 1
  const out = new Uint8Array(2 * blockSize)
  out.set(withChecksum(b), 0)
  const e = out.subarray(blockSize)
  const { colorimetry, hdr } = facts.extension
  const blocks = [0xe3, 5, flags(colorimetry, colorimetries), colorimetry.includes('DCI-P3') ? 128 : 0]
  if (hdr) {
    const code = Math.min(255, Math.max(1, Math.round(32 * Math.log2(hdr.peak / 50))))
    blocks.push(0xe6, 6, flags(hdr.transfers, transfers), 1, code, code, 0)
  }
  e.set([2, 3, 4 + blocks.length, 0, ...blocks])
  withChecksum(e)
  return out
}
