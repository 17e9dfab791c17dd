import { blockSize, colorimetries, mark, sumOf, transfers, type Edid } from './edid'

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
