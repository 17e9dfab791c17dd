import type { Chromaticity } from '../color/chromaticity'
import type { Primaries } from '../color/encodings'
import { blockSize, colorimetries, mark, sumOf, transfers, type CtaExtension, type Edid } from './edid'
import { FormatError } from './formatError'

export interface ReadEdid {
  readonly edid: Edid
  /** What is wrong with it although it could be read: a checksum, a missing block. */
  readonly faults: readonly string[]
}

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
