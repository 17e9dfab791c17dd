import { targetXyz, type Aim } from '../aims/aim'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import { applyTable1d } from '../tables/table1d'
import { uniformFrom } from '../basics/random'
import { applySlotTables } from '../tables/slotPipeline'
import { buildSlotTables, quantizeSignal } from '../tables/slotTables'
import { codeOfSignal, signalOfCode } from '../tables/signalRange'
import { readingsOf, testPanel } from '../test/panel'
import { told } from '../test/told'
import { buildPipeline, buildTable1d } from './buildTable1d'
import { fitAim } from './fitAim'
import { characterize } from './characterize'
import { invertXyz } from './inversion'

const panel = testPanel({ coupling: 0.03 })
const c = characterize(readingsOf(panel, 200))
const wanted: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 110,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const { aim } = fitAim(wanted, c)
const own = fitAim({ ...wanted, primaries: { kind: 'panel' } }, c).aim
const off = (signal: Triple, shown: Triple, of = aim) =>
  deltaE2000(convertXyzToLab(targetXyz(of, signal), of.white), convertXyzToLab(panel(shown), of.white))
const greys = Array.from({ length: 256 }, (_, i): Triple => [i / 255, i / 255, i / 255])
const uniform = uniformFrom(81)

test.each([
  [256, 'full'],
  [1024, 'full'],
  [4096, 'limited'],
] as const)('a table of %s entries, %s range, brings greys to the aim and never steps back @long', (entries, range) => {
  const table = buildTable1d(c, own, { entries, range })
  for (const channel of table.channels)
    for (let i = 1; i < entries; i++) expect(channel[i]).toBeGreaterThanOrEqual(channel[i - 1])
  const errors = greys.map((signal) => {
    const code = signal.map((v) => codeOfSignal(v, range, 10)) as unknown as Triple
    const shown = applyTable1d(table, code).map((v) => signalOfCode(v, range, 10)) as unknown as Triple
    return off(signal, shown, own)
  })
  told(`1D table of ${entries} entries, worst ΔE2000 of 256 greys`, Math.max(...errors))
  expect(Math.max(...errors)).toBeLessThan(0.6)
})

test('entries outside 256–4,096 are refused', () => {
  expect(() => buildTable1d(c, aim, { entries: 128 })).toThrow('256 to 4,096')
})

describe('1D + 3×3 + 1D', () => {
  const pipeline = buildPipeline(c, aim)

  test.each([8, 10, 12, 16])('rounded to %s bits, greys never step back @long', (bits) => {
    const tables = buildSlotTables(pipeline, {
      kind: '1D+3x3',
      before: { entries: 1024, bits: 16 },
      matrixFractionBits: 14,
      after: { entries: 1024, bits },
    })
    let last: Triple = [-1, -1, -1]
    for (const grey of greys) {
      const shown = applySlotTables(tables, grey)
      shown.forEach((v, k) => expect(v).toBeGreaterThanOrEqual(last[k]))
      last = shown
    }
  })

  test('greys come to the aim whatever crosstalk does, and colours as near as a matrix allows @long', () => {
    const tables = buildSlotTables(pipeline, {
      kind: '1D+3x3',
      before: { entries: 1024, bits: 16 },
      matrixFractionBits: 14,
      after: { entries: 2048, bits: 12 },
    })
    const ofGreys = greys.map((g) => off(g, applySlotTables(tables, g)))
    const ofColors: number[] = []
    while (ofColors.length < 300) {
      const signal = quantizeSignal([uniform(), uniform(), uniform()], 10)
      if (invertXyz(c, targetXyz(aim, signal)).left < 0.3) ofColors.push(off(signal, applySlotTables(tables, signal)))
    }
    const average = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
    told('1D + 3×3, 3 % crosstalk, average ΔE2000 of 256 greys', average(ofGreys))
    told('the same, average ΔE2000 of 300 colours within reach', average(ofColors))
    expect(average(ofGreys)).toBeLessThan(0.25)
    expect(average(ofColors)).toBeLessThan(0.8)
  })

  test('HLG is refused', () => {
    const hlg = fitAim({ ...wanted, toneResponse: { kind: 'HLG' } }, c).aim
    expect(() => buildPipeline(c, hlg)).toThrow('system gamma')
  })
})
