import { targetXyz, type Aim } from '../aims/aim'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import { uniformFrom } from '../basics/random'
import {
  bytesOfShape,
  pipelineKinds,
  type GridAndCurvesShape,
  type GridOnlyShape,
  type PipelineShape,
} from '../tables/pipelineShape'
import { decodeSlotTables, encodeSlotTables } from '../tables/slotBytes'
import { applySlotTables, makeSlotPipeline } from '../tables/slotPipeline'
import { quantizeSignal } from '../tables/slotTables'
import { lookUp1d } from '../tables/table1d'
import { applyTetrahedral } from '../tables/table3d'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { buildSlot } from './buildSlot'
import { fitAim } from './fitAim'
import { predictXyz } from './characterization'
import { characterize } from './characterize'
import { invertXyz } from './inversion'

const panel = testPanel({ coupling: 0.03 })
const c = characterize(readingsOf(panel, 200))
const aimFor = (primaries: Aim['primaries']) =>
  fitAim(
    {
      white: { kind: 'standard', name: 'D65' },
      luminance: 100,
      toneResponse: { kind: 'power', exponent: 2.2 },
      primaries,
    },
    c,
  ).aim
const sRGB = aimFor({ kind: 'standard', name: 'sRGB' })
const own = aimFor({ kind: 'panel' })

/** Slots as displays have them, with what each can do of 400 colours within reach: ΔE2000 on average and at worst. */
const slots: readonly [string, PipelineShape, typeof sRGB, number, number][] = [
  [
    '33 nodes and curves',
    { kind: '1D+3D', grid: { size: 33, bits: 12 }, after: { entries: 1024, bits: 14 } },
    sRGB,
    0.1,
    0.6,
  ],
  [
    '17 nodes and curves',
    { kind: '1D+3D', grid: { size: 17, bits: 12 }, after: { entries: 1024, bits: 14 } },
    sRGB,
    0.15,
    1,
  ],
  ['17 nodes alone', { kind: '3D', grid: { size: 17, bits: 12 } }, sRGB, 0.2, 1.5],
  [
    'a matrix between tables',
    { kind: '1D+3x3', before: { entries: 1024, bits: 16 }, matrixFractionBits: 14, after: { entries: 1024, bits: 12 } },
    sRGB,
    0.7,
    3,
  ],
  ['a table per channel, own primaries', { kind: '1D', after: { entries: 1024, bits: 10 } }, own, 1.5, 6],
]

describe.each(slots)('%s', (_, shape, aim, average, worst) => {
  const tables = buildSlot(c, aim, shape)
  const through = makeSlotPipeline(tables)
  const off = (signal: Triple) =>
    deltaE2000(
      convertXyzToLab(targetXyz(aim, signal), aim.white),
      convertXyzToLab(panel(through(quantizeSignal(signal, 10))), aim.white),
    )

  test('brings the panel to the aim', () => {
    const uniform = uniformFrom(4)
    const signals = Array.from({ length: 400 }, () => quantizeSignal([uniform(), uniform(), uniform()], 10)).filter(
      (s) => invertXyz(c, targetXyz(aim, s)).left < 0.5,
    )
    const all = signals.map(off)
    const mean = all.reduce((a, b) => a + b, 0) / all.length
    told(`${shape.kind}, average ΔE2000 of ${all.length} colours within reach`, mean)
    expect(mean).toBeLessThan(average)
    expect(Math.max(...all)).toBeLessThan(worst)
  })

  test('greys come near the aim and never step back', () => {
    let last: Triple = [-1, -1, -1]
    for (let i = 0; i <= 255; i++) {
      const grey: Triple = [i / 255, i / 255, i / 255]
      const drive = through(grey)
      drive.forEach((v, k) => expect(v).toBeGreaterThanOrEqual(last[k] - 1e-12))
      last = drive
      if (i > 20) expect(off(grey)).toBeLessThan(0.8)
    }
  })

  test('travels as bytes and comes back the same; cut, or for another slot, it is refused @long', () => {
    const bytes = encodeSlotTables(tables)
    const back = decodeSlotTables(bytes, shape)
    expect(encodeSlotTables(back)).toEqual(bytes)
    expect(applySlotTables(back, [0.3, 0.6, 0.9])).toEqual(through([0.3, 0.6, 0.9]))
    expect(() => decodeSlotTables(bytes.slice(0, -20), shape)).toThrow('not slot tables')
    for (const [, other] of slots)
      if (other.kind !== shape.kind) expect(() => decodeSlotTables(bytes, other)).toThrow('slot of another kind')
    expect(Object.keys(pipelineKinds)).toContain(shape.kind)
    expect(bytesOfShape(shape)).toBeGreaterThan(1000)
  })
})

test('a grid or table of another size is refused @long', () => {
  const shape: PipelineShape = { kind: '3D', grid: { size: 17, bits: 12 } }
  const bytes = encodeSlotTables(buildSlot(c, sRGB, shape))
  expect(() => decodeSlotTables(bytes, { kind: '3D', grid: { size: 9, bits: 12 } })).toThrow(
    'three for each of 9³ nodes',
  )
  expect(() => decodeSlotTables(bytes, { kind: '3D', grid: { size: 17, bits: 8 } })).toThrow('integers of 8 bits')
})

/** By tone response, with the worst ΔE2000 of dark colours through 9 and 17 nodes: HLG's is no matter of channels alone. */
describe.each<[string, Aim['toneResponse'], Readonly<Record<number, number>>]>([
  ['L*', { kind: 'L*' }, { 9: 0.8, 17: 0.65 }],
  ['sRGB', { kind: 'sRGB' }, { 9: 0.8, 17: 0.6 }],
  ['a power of 2.4', { kind: 'power', exponent: 2.4 }, { 9: 0.85, 17: 0.6 }],
  ['BT.1886', { kind: 'BT.1886' }, { 9: 0.8, 17: 0.7 }],
  ['HLG', { kind: 'HLG' }, { 9: 1.7, 17: 1.2 }],
])('near black, where nodes are few: an aim by %s, its white far from the panel’s', (name, toneResponse, worst) => {
  const { aim } = fitAim(
    { white: { kind: 'standard', name: 'D50' }, luminance: 70, toneResponse, primaries: { kind: 'panel' } },
    c,
  )
  const uniform = uniformFrom(11)
  const dark = Array.from({ length: 300 }, (): Triple => [0.3 * uniform(), 0.3 * uniform(), 0.3 * uniform()]).filter(
    (s) => invertXyz(c, targetXyz(aim, s)).left < 0.3,
  )

  test.each([9, 17])('%d nodes and curves', (size) => {
    const through = makeSlotPipeline(
      buildSlot(c, aim, { kind: '1D+3D', grid: { size, bits: 12 }, after: { entries: 1024, bits: 14 } }),
    )
    const off = (signal: Triple) =>
      deltaE2000(
        convertXyzToLab(targetXyz(aim, signal), aim.white),
        convertXyzToLab(predictXyz(c, through(signal)), aim.white),
      )
    const all = dark.map(off)
    const greys = Array.from({ length: 61 }, (_, i) => off([i / 200, i / 200, i / 200]))
    expect(all.length).toBeGreaterThan(150)
    told(`dark colours by ${name} through ${size} nodes and curves, worst ΔE2000`, Math.max(...all))
    told(`dark greys by ${name} through ${size} nodes and curves, worst ΔE2000`, Math.max(...greys))
    expect(Math.max(...all)).toBeLessThan(worst[size])
    expect(Math.max(...greys)).toBeLessThan(0.35)
  })
})

describe('in coarse integers', () => {
  const off = (through: (s: Triple) => Triple, signal: Triple, aim: typeof own) =>
    deltaE2000(
      convertXyzToLab(targetXyz(aim, signal), c.white),
      convertXyzToLab(predictXyz(c, through(signal)), c.white),
    )
  const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / v.length
  const greys = Array.from({ length: 256 }, (_, i): Triple => [i / 255, i / 255, i / 255])

  test.each([8, 10])('a table per channel of %d bits shows each grey as well as any codes beside it do', (bits) => {
    const shape: PipelineShape = { kind: '1D', after: { entries: 256, bits } }
    const { after } = buildSlot(c, own, shape)
    const top = 2 ** bits - 1
    const through = makeSlotPipeline({ format: 'bichroma-slot-tables/2', shape, after })
    const found = greys.map((grey) => off(through, grey, own))
    // Of all codes within one step, in any combination: never stepping back costs a little here and there.
    const best = greys.map((grey, i) => {
      let least = Infinity
      for (let n = 0; n < 27; n++) {
        const moved = [n % 3, Math.floor(n / 3) % 3, Math.floor(n / 9)].map((by, k) => after![k][i] + by - 1)
        const drive = moved.map((code) => Math.min(1, Math.max(0, code / top))) as unknown as Triple
        least = Math.min(
          least,
          off(() => drive, grey, own),
        )
      }
      return least
    })
    told(`greys of a table per channel of ${bits} bits, average ΔE2000`, mean(found))
    expect(mean(found)).toBeLessThan(1.1 * mean(best) + 0.005)
    after!.forEach((table) => table.forEach((code, i) => i && expect(code).toBeGreaterThanOrEqual(table[i - 1])))
  })

  const after = { entries: 1024, bits: 14 }
  test.each<[string, (bits: number) => GridOnlyShape | GridAndCurvesShape, number]>([
    ['17 nodes', (bits) => ({ kind: '3D', grid: { size: 17, bits } }), 0.95],
    ['33 nodes', (bits) => ({ kind: '3D', grid: { size: 33, bits } }), 0.97],
    ['17 nodes and curves', (bits) => ({ kind: '1D+3D', grid: { size: 17, bits }, after }), 1],
    ['33 nodes and curves', (bits) => ({ kind: '1D+3D', grid: { size: 33, bits }, after }), 0.98],
  ])('a 3D table of 8 bits, %s: near what no table of such values could better @long', (name, shape, share) => {
    const uniform = uniformFrom(12)
    const signals = Array.from({ length: 3000 }, (): Triple => [uniform(), uniform(), uniform()])
    const missed = (through: (rgb: Triple) => Triple) => mean(signals.map((s) => off(through, s, own)))
    const fine = buildSlot(c, own, shape(16))
    const top = 2 ** 16 - 1
    const nearest = { ...fine, shape: shape(8), grid: fine.grid!.map((v) => Math.round((v / top) * 255)) }
    // Nodes as they should be, and only what is shown of them rounded.
    const nodes = { size: shape(16).grid.size, values: Float64Array.from(fine.grid!, (v) => v / top) }
    const behind = fine.after?.map((table) => Float64Array.from(table, (v) => v / (2 ** after.bits - 1)))
    const best = missed((rgb) => {
      const codes = applyTetrahedral(nodes, rgb).map((v) => Math.round(255 * v) / 255)
      return codes.map((v, k) => (behind ? lookUp1d(behind[k], v) : v)) as unknown as Triple
    })
    const found = missed(makeSlotPipeline(buildSlot(c, own, shape(8))))
    told(`a 3D table of 8 bits, ${name}, times the ΔE2000 of one whose nodes are exact`, found / best)
    expect(found).toBeLessThan(1.2 * best)
    expect(found).toBeLessThanOrEqual(share * missed(makeSlotPipeline(nearest)))
  })
})
