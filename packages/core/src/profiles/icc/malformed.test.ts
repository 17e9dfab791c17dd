import { fitMatrixModel } from '../../characterization/matrixModel'
import { expectSturdy } from '../../formats/test/malformed'
import { readingsOf, testPanel } from '../../test/panel'
import { curveFunction } from './curves'
import { profileTransforms } from './evaluateIcc'
import { IccWriter } from './iccBytes'
import { matrixTags, writeMatrixProfile } from './matrixProfile'
import { readIccProfile } from './readIcc'
import { assembleProfile } from './writeIcc'

const model = fitMatrixModel(readingsOf(testPanel(), 40))
const ramp = Float64Array.from({ length: 16 }, (_, i) => i / 15)
const facts = {
  description: 'Sedge 2',
  copyright: 'None.',
  createdAt: 0,
  videoCurves: [ramp, ramp, ramp] as const,
  meta: [['display', 'Sedge 2']] as const,
}

/** A grid of two nodes that inverts its input, as `mft1`, and with `para` curves as `mAB `. */
const corners = [0, 1].flatMap((r) => [0, 1].flatMap((g) => [0, 1].flatMap((b) => [1 - r, 1 - g, 1 - b])))
const oldLut = (() => {
  const w = new IccWriter().text('mft1').u32(0).u8(3, 3, 2, 0)
  for (const v of [1, 0, 0, 0, 1, 0, 0, 0, 1]) w.fixed(v)
  for (let c = 0; c < 3; c++) for (let i = 0; i < 256; i++) w.u8(i)
  for (const v of corners) w.u8(255 * v)
  for (let c = 0; c < 3; c++) for (let i = 0; i < 256; i++) w.u8(i)
  return w.done()
})()
const newLut = (() => {
  const curve = new IccWriter()
    .text('para')
    .u32(0)
    .u16(3)
    .u16(0)
    .fixed(2.4)
    .fixed(1 / 1.055)
    .fixed(0.055 / 1.055)
    .fixed(1 / 12.92)
    .fixed(0.04045)
  const curves = new IccWriter().bytes(curve.done()).bytes(curve.done()).bytes(curve.done()).done()
  const clut = new IccWriter().u8(2, 2, 2, ...new Array(13).fill(0)).u8(1, 0, 0, 0)
  for (const v of corners) clut.u8(255 * v)
  const matrix = new IccWriter()
  for (const v of [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0]) matrix.fixed(v)
  const c = clut.done()
  const at = [
    32,
    32 + curves.length,
    32 + curves.length + 48,
    32 + 2 * curves.length + 48,
    32 + 2 * curves.length + 48 + c.length,
  ]
  const w = new IccWriter().text('mAB ').u32(0).u8(3, 3, 0, 0)
  for (const offset of at) w.u32(offset)
  return w.bytes(curves).bytes(matrix.done()).bytes(curves).bytes(c).bytes(curves).done()
})()
const withLut = (lut: Uint8Array) =>
  assembleProfile(facts, 'Lab ', [['A2B0', lut], ['B2A0', lut], ...matrixTags(model)])

/** Reads everything, and evaluates it both ways. */
function readAll(bytes: Uint8Array): void {
  const profile = readIccProfile(bytes)
  profile.tags.forEach((t) => profile.read(t.signature))
  const { toLab, toSignal } = profileTransforms(profile)
  for (const rgb of [
    [0, 0, 0],
    [1, 1, 1],
    [0.3, 0.6, 0.9],
  ] as const) {
    const lab = toLab(rgb)
    if (!lab.every(Number.isFinite)) throw new Error(`Not a colour: ${lab.join(' ')}`)
    const signal = toSignal?.(lab)
    if (signal && !signal.every((v) => v >= 0 && v <= 1)) throw new Error(`Not a signal: ${signal.join(' ')}`)
  }
}

test('tables of 8 bits and formula curves are evaluated as they are laid out', () => {
  const inverted = profileTransforms(readIccProfile(withLut(oldLut))).toLab([0, 0.25, 1])
  // 1 − signal, as 8-bit CIELAB: L* 100·v, a* and b* 255·v − 128.
  ;[100, 255 * 0.75 - 128, -128].forEach((v, k) => expect(inverted[k]).toBeCloseTo(v, 9))
  const srgb = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
  const [L] = profileTransforms(readIccProfile(withLut(newLut))).toLab([0.3, 0.3, 0.3])
  // A curve, 1 − x, M curve, B curve.
  expect(L).toBeCloseTo(100 * srgb(srgb(1 - srgb(0.3))), 2)
})

test.each([
  [0, [2.2], (x: number) => x ** 2.2],
  [1, [2, 2, -0.5], (x: number) => (x >= 0.25 ? (2 * x - 0.5) ** 2 : 0)],
  [2, [2, 1, -0.2, 0.1], (x: number) => (x >= 0.2 ? (x - 0.2) ** 2 + 0.1 : 0.1)],
  [
    3,
    [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045],
    (x: number) => (x < 0.04045 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4),
  ],
  [4, [2, 0.9, 0, 0.5, 0.1, 0.1, 0.05], (x: number) => (x < 0.1 ? 0.5 * x + 0.05 : (0.9 * x) ** 2 + 0.1)],
])('formula curve %s is that of ICC.1 §10.18', (type, parameters, of) => {
  const f = curveFunction({ kind: 'formula', type, parameters })
  for (const x of [0, 0.03, 0.1, 0.25, 0.5, 0.9]) expect(f(x)).toBeCloseTo(Math.min(1, of(x)), 12)
})

test.each([
  ['no profile', (b: Uint8Array) => b.fill(0, 36, 40), 'This is not an ICC profile'],
  ['a size beyond the file', (b: Uint8Array) => b.slice(0, 400), 'The profile says that it has'],
  ['version 5', (b: Uint8Array) => b.fill(5, 8, 9), 'The profile is of version 5'],
  [
    'another space',
    (b: Uint8Array) => (
      b.set(
        [...'CMYK'].map((c) => c.charCodeAt(0)),
        16,
      ),
      b
    ),
    'The profile is for CMYK',
  ],
  [
    'another class',
    (b: Uint8Array) => (
      b.set(
        [...'prtr'].map((c) => c.charCodeAt(0)),
        12,
      ),
      b
    ),
    'class “prtr”',
  ],
  ['a tag table without end', (b: Uint8Array) => b.fill(255, 128, 132), 'names 4294967295 tags'],
  ['a tag outside', (b: Uint8Array) => b.fill(255, 136, 140), 'reaches beyond the end'],
  [
    'neither tables nor curves',
    (b: Uint8Array) => (
      b.set(
        [...'xTRC'].map((c) => c.charCodeAt(0)),
        tagAt(b, 'rTRC'),
      ),
      b
    ),
    'neither tables nor the tag “rTRC”',
  ],
])('refuses %s', (_, change, sentence) => {
  expect(() => readAll(change(writeMatrixProfile(model, facts)))).toThrow(sentence)
})

function tagAt(bytes: Uint8Array, signature: string): number {
  for (let at = 132; ; at += 12) if (String.fromCharCode(...bytes.subarray(at, at + 4)) === signature) return at
}

test('no malformed profile breaks the reader, or is evaluated to something that is no colour @long', () => {
  const samples = [4, 2].flatMap((version) => [writeMatrixProfile(model, { ...facts, version: version as 2 | 4 })])
  expectSturdy('ICC reader', readAll, [...samples, withLut(oldLut), withLut(newLut)])
})
