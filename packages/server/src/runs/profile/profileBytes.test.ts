import { deltaE2000, type Triple, type XYZ } from '@bichroma/core/color'
import { adaptLab } from '@bichroma/core/gamut'
import { profileTransforms, readIccProfile } from '@bichroma/core/profiles'
import { makeSlotPipeline, type SlotTables } from '@bichroma/core/tables'
import { readingsOf, testPanel } from '../../../../core/src/test/panel'
import { profileBytes } from './profileBytes'

const raw = testPanel({ coupling: 0.04 })
const panel = readingsOf(raw, 180)
/** A slot that brings the panel's tone near 1.9 and takes some blue away. */
const table = (of: (x: number) => number) => Array.from({ length: 256 }, (_, i) => Math.round(65535 * of(i / 255)))
const tables: SlotTables = {
  format: 'bichroma-slot-tables/2',
  shape: { kind: '1D', after: { entries: 256, bits: 16 } },
  after: [table((x) => x ** 0.86), table((x) => 0.97 * x ** 0.89), table((x) => 0.9 * x ** 0.82)],
}
const driveOf = makeSlotPipeline(tables)
const through = (rgb: Triple): XYZ => raw(driveOf(rgb))
const proved = readingsOf(through, 39, 3)
const facts = { description: 'Sedge 1', copyright: 'None', createdAt: 0, version: 4 as const }

/** By the readings alone. */
let alone: ReturnType<typeof profileBytes>
beforeAll(() => {
  alone = profileBytes('table', proved, facts, null)
})

const unseen = readingsOf(through, 200, 9)
function errorOf(bytes: Uint8Array) {
  const seen = adaptLab(through([1, 1, 1]))
  const { toLab } = profileTransforms(readIccProfile(bytes))
  return unseen.reduce((sum, { rgb, xyz }) => sum + deltaE2000(seen(xyz), toLab(rgb)), 0) / unseen.length
}

test('a table is by the panel and the tables where they explain what was read, and then better than by that alone @long @long', () => {
  expect(alone.by).toBe('readings')
  for (const sameRun of [true, false]) {
    const whole = profileBytes('table', proved, facts, { panel, tables, sameRun })
    expect(whole.by).toBe('panel and tables')
    expect(errorOf(whole.bytes)).toBeLessThan(0.06)
    expect(errorOf(whole.bytes)).toBeLessThan(errorOf(alone.bytes))
  }
})

test.each([
  [
    'of another panel',
    {
      panel: readingsOf(
        testPanel({
          exponents: [1.6, 2.8, 1.5],
          primaries: { red: { x: 0.62, y: 0.35 }, green: { x: 0.3, y: 0.58 }, blue: { x: 0.16, y: 0.1 } },
          coupling: 0.3,
        }),
        180,
      ),
      tables,
    },
  ],
  ['without its white', { panel: panel.filter(({ rgb }) => rgb.some((v) => v < 1)), tables }],
  [
    'with tables that show nothing',
    { panel, tables: { ...tables, after: [table(() => 0), table(() => 0), table(() => 0)] as const } },
  ],
])('what is remembered %s does not count: the readings do @long', (_, behind) => {
  const { bytes, by } = profileBytes('table', proved, facts, { ...behind, sameRun: true })
  expect(by).toBe('readings')
  expect(Buffer.compare(Buffer.from(bytes), Buffer.from(alone.bytes))).toBe(0)
})

test('a matrix needs neither', () => {
  const { bytes, by } = profileBytes('matrix', proved, facts, { panel, tables, sameRun: true })
  expect(by).toBe('readings')
  expect(Buffer.compare(Buffer.from(bytes), Buffer.from(profileBytes('matrix', proved, facts, null).bytes))).toBe(0)
})
