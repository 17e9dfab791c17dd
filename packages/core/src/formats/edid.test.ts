import { readEdid } from './readEdid'
import { writeEdid, type EdidFacts } from './writeEdid'
import { expectSturdy } from './test/malformed'

const facts: EdidFacts = {
  maker: 'QLN',
  productCode: 0x2701,
  serialNumber: 4_000_004_418,
  week: 12,
  year: 2025,
  size: { width: 60, height: 34 },
  gamma: 2.2,
  primaries: { red: { x: 0.68, y: 0.31 }, green: { x: 0.265, y: 0.69 }, blue: { x: 0.15, y: 0.06 } },
  white: { x: 0.3127, y: 0.329 },
  name: 'Quillon Q27',
  serialText: 'QL-27-04418',
  pixels: { width: 3840, height: 2160 },
  bits: 10,
  extension: { colorimetry: ['opRGB', 'BT.2020 RGB', 'DCI-P3'], hdr: { transfers: ['SDR gamma', 'PQ'], peak: 600 } },
}

test('what is written is read again; chromaticities to 1/1024', () => {
  const { edid, faults } = readEdid(writeEdid(facts))
  expect(faults).toEqual([])
  const { primaries, white, extension, ...rest } = edid
  expect(rest).toEqual({
    maker: 'QLN',
    productCode: 0x2701,
    serialNumber: 4_000_004_418,
    week: 12,
    year: 2025,
    isModelYear: false,
    version: '1.4',
    size: { width: 60, height: 34 },
    gamma: 2.2,
    name: 'Quillon Q27',
    serialText: 'QL-27-04418',
    pixels: { width: 3840, height: 2160 },
    bits: 10,
  })
  for (const [a, b] of [
    [primaries.red, facts.primaries.red],
    [primaries.green, facts.primaries.green],
    [primaries.blue, facts.primaries.blue],
    [white, facts.white],
  ]) {
    expect(Math.abs(a.x - b.x)).toBeLessThanOrEqual(0.5 / 1024)
    expect(Math.abs(a.y - b.y)).toBeLessThanOrEqual(0.5 / 1024)
  }
  expect(extension!.colorimetry).toEqual(['opRGB', 'BT.2020 RGB', 'DCI-P3'])
  expect(extension!.hdr!.transfers).toEqual(['SDR gamma', 'PQ'])
  expect(Math.abs(extension!.hdr!.peak! - 600)).toBeLessThan(7)
})

test('bytes laid out by hand, as the standard counts them, are understood', () => {
  const b = new Uint8Array(128)
  b.set([0, 255, 255, 255, 255, 255, 255, 0])
  // “ABC” is 00001 00010 00011 in five bits each: 0x0443.
  b.set([0x04, 0x43, 0x34, 0x12, 0, 0, 0, 0, 0, 30, 1, 3, 0x80, 52, 32, 120], 8)
  // sRGB in 1/1024: red 655 338, green 307 614, blue 154 61, white 320 337.
  const values = [655, 338, 307, 614, 154, 61, 320, 337]
  values.forEach((v, i) => (b[27 + i] = v >> 2))
  b[25] = values.slice(0, 4).reduce((s, v) => (s << 2) | (v & 3), 0)
  b[26] = values.slice(4).reduce((s, v) => (s << 2) | (v & 3), 0)
  b[127] = (256 - (b.reduce((a, c) => a + c, 0) & 255)) & 255
  const { edid, faults } = readEdid(b)
  expect(faults).toEqual([])
  expect(edid).toMatchObject({
    maker: 'ABC',
    productCode: 0x1234,
    serialNumber: null,
    week: null,
    year: 2020,
    version: '1.3',
    gamma: 2.2,
    size: { width: 52, height: 32 },
    extension: null,
  })
  expect(edid.primaries.red).toEqual({ x: 655 / 1024, y: 338 / 1024 })
  expect(edid.white).toEqual({ x: 320 / 1024, y: 337 / 1024 })
})

test('a wrong checksum is named with the right one, and the rest is read all the same', () => {
  const bytes = writeEdid(facts)
  const right = bytes[127]
  bytes[127] = (right + 1) & 255
  bytes[255] ^= 0x40
  const { edid, faults } = readEdid(bytes)
  const hex = (v: number) => v.toString(16).padStart(2, '0').toUpperCase()
  expect(faults[0]).toBe(
    `The checksum of the first block is ${hex(bytes[127])}; by its bytes it should be ${hex(right)}.`,
  )
  expect(faults[1]).toMatch(/^The checksum of block 2 is/)
  expect(edid.name).toBe('Quillon Q27')
})

test('a missing extension is told', () => {
  expect(readEdid(writeEdid(facts).slice(0, 128)).faults).toEqual([
    'The EDID announces 1 more blocks; the file holds 0.',
  ])
})

test.each([
  ['too short', (b: Uint8Array) => b.slice(0, 100), 'An EDID has 128 bytes or more; this file has 100.'],
  ['another file', (b: Uint8Array) => b.fill(7, 0, 8), 'its first eight bytes'],
  ['version 2', (b: Uint8Array) => b.fill(2, 18, 19), 'The EDID is of version 2.4'],
])('refuses what is %s', (_, change, sentence) => {
  expect(() => readEdid(change(writeEdid(facts)))).toThrow(sentence)
})

test('a maker is three capital letters', () => {
  expect(() => writeEdid({ ...facts, maker: 'Quillon' })).toThrow('three capital letters')
})

test('no malformed file breaks the reader @long', () => {
  expectSturdy('EDID reader', readEdid, [writeEdid(facts), writeEdid({ ...facts, extension: null })])
})
