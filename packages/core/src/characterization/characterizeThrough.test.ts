import { resolveAim } from '../aims/aim'
import { uniformFrom } from '../basics/random'
import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import type { PatchReading } from '../color/patchReading'
import type { PipelineShape } from '../tables/pipelineShape'
import { makeSlotPipeline } from '../tables/slotPipeline'
import type { SlotTables } from '../tables/slotTables'
import { readingsOf, testPanel } from '../test/panel'
import { buildSlot } from './buildSlot'
import { characterize } from './characterize'
import { predictLab, predictXyz, type Characterization } from './characterization'
import { characterizeThrough, characterizeTogether, throughTables } from './characterizeThrough'

const raw = testPanel({ coupling: 0.03 })
const panel = characterize(readingsOf(raw, 160))
const corner = (rgb: Triple) => convertXyzToChromaticity(raw(rgb))
const aim = resolveAim(
  {
    white: { kind: 'standard', name: 'D65' },
    luminance: 100,
    toneResponse: { kind: 'sRGB' },
    primaries: { kind: 'standard', name: 'sRGB' },
  },
  {
    white: convertXyzToChromaticity(raw([1, 1, 1])),
    black: raw([0, 0, 0]),
    primaries: { red: corner([1, 0, 0]), green: corner([0, 1, 0]), blue: corner([0, 0, 1]) },
  },
)
const shapes: Record<PipelineShape['kind'], PipelineShape> = {
  '1D+3D': { kind: '1D+3D', grid: { size: 17, bits: 12 }, after: { entries: 1024, bits: 14 } },
  '3D': { kind: '3D', grid: { size: 17, bits: 12 } },
  '1D+3x3': {
    kind: '1D+3x3',
    before: { entries: 1024, bits: 14 },
    matrixFractionBits: 12,
    after: { entries: 1024, bits: 14 },
  },
  '1D': { kind: '1D', after: { entries: 256, bits: 16 } },
}
const uniform = uniformFrom(8)
const unseen = Array.from({ length: 300 }, (): Triple => [uniform(), uniform(), uniform()])
/** What a check reads: corners, greys, a few colours. */
const few = (through: (rgb: Triple) => XYZ): PatchReading[] => readingsOf(through, 39, 4)

function error(c: Characterization, through: (rgb: Triple) => XYZ) {
  const all = unseen.map((rgb) => deltaE2000(convertXyzToLab(through(rgb), c.white), predictLab(c, rgb)))
  return { average: all.reduce((a, b) => a + b, 0) / all.length, worst: Math.max(...all) }
}

describe.each(Object.values(shapes))('a display through a slot, $kind', (shape) => {
  const tables = buildSlot(panel, aim, shape)
  const driveOf = makeSlotPipeline(tables)
  const through = (rgb: Triple) => raw(driveOf(rgb))
  const readings = few(through)
  const found = characterizeThrough(panel, tables, readings)

  test('is known by the panel and the tables as far as the panel is, and no worse than by its own readings', () => {
    const [whole, alone] = [error(found, through), error(characterize(readings), through)]
    expect(whole.average).toBeLessThan(0.07)
    expect(whole.worst).toBeLessThan(0.8)
    expect(whole.average).toBeLessThan(alone.average)
  })

  test('white and black are those that were read, within a thousandth of white', () => {
    const [white, black] = [through([1, 1, 1]), through([0, 0, 0])]
    white.forEach((v, k) => expect(Math.abs(found.white[k] - v)).toBeLessThan(0.001 * v))
    black.forEach((v, k) => expect(Math.abs(found.black[k] - v)).toBeLessThan(0.01 * v))
  })
})

test('a panel that has aged since is brought to what is read of it now @long', () => {
  const tables = buildSlot(panel, aim, shapes['1D+3D'])
  const driveOf = makeSlotPipeline(tables)
  const aged = testPanel({
    coupling: 0.03,
    luminance: 126,
    black: 0.12,
    white: { x: 0.307, y: 0.324 },
    exponents: [2.215, 2.15, 2.35],
  })
  const through = (rgb: Triple) => aged(driveOf(rgb))
  const found = error(characterizeThrough(panel, tables, few(through)), through)
  expect(found.average).toBeLessThan(0.07)
  expect(error(throughTables(panel, tables), through).average).toBeGreaterThan(5 * found.average)
})

test('the steps of a coarse table are in its curves, so that the grey of every code is known', () => {
  const table = (of: (x: number) => number) => Array.from({ length: 256 }, (_, i) => Math.round(255 * of(i / 255)))
  const steps = [table((x) => 0.95 * x ** 1.1), table((x) => x ** 1.05), table((x) => 0.9 * x ** 0.95)] as const
  const coarse: SlotTables = {
    format: 'bichroma-slot-tables/2',
    shape: { kind: '1D', after: { entries: 256, bits: 8 } },
    after: steps,
  }
  const driveOf = makeSlotPipeline(coarse)
  const found = throughTables(panel, coarse)
  const off = Array.from({ length: 256 }, (_, i): number => {
    const v = i / 255
    return deltaE2000(convertXyzToLab(predictXyz(panel, driveOf([v, v, v])), found.white), predictLab(found, [v, v, v]))
  })
  // From a grey in four codes, 1.2; with the rest looked at between two codes, 0.4.
  expect(Math.max(...off)).toBeLessThan(0.1)
})

test('readings of panel and slot from one run tell more together than the slot’s laid over the panel’s @long', () => {
  const tables = buildSlot(panel, aim, shapes['1D+3D'])
  const driveOf = makeSlotPipeline(tables)
  const through = (rgb: Triple) => raw(driveOf(rgb))
  const noisy = (readings: PatchReading[], seed: number): PatchReading[] => {
    const random = uniformFrom(seed)
    return readings.map((r) => ({
      ...r,
      xyz: r.xyz.map((v) => v * (1 + 0.006 * (random() - 0.5)) + 4e-4 * (random() - 0.5)) as unknown as XYZ,
    }))
  }
  const errors = [1, 2, 3, 4, 5, 6].map((seed) => {
    const [read, proved] = [noisy(readingsOf(raw, 130), seed), noisy(few(through), 50 + seed)]
    const together = error(characterizeTogether(read, tables, proved), through)
    return together.average / error(characterizeThrough(characterize(read), tables, proved), through).average
  })
  expect(errors.reduce((a, b) => a + b, 0) / errors.length).toBeLessThan(0.97)
})

test('without white among the readings it says so', () => {
  const tables = buildSlot(panel, aim, shapes['1D'])
  const through = (rgb: Triple) => raw(makeSlotPipeline(tables)(rgb))
  const without = few(through).filter(({ rgb }) => rgb.some((v) => v !== 1))
  expect(() => characterizeThrough(panel, tables, without)).toThrow('no white')
})
