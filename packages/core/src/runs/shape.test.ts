import { resolveAim, targetXyz, type Aim, type ResolvedAim } from '../aims/aim'
import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import type { MatrixShape } from '../tables/pipelineShape'
import { applySlotTables } from '../tables/slotPipeline'
import { quantizeSignal } from '../tables/slotTables'
import { testPanel } from '../test/panel'
import { uniformFrom } from '../basics/random'
import { standardPrimaries } from '../color/encodings'
import { headroomFor, type RawCorners } from './level'
import { greyLevels, shapeColors } from './patches'
import { anotherRound, residual, roundRules, type GreyReading } from './shape'
import { solveColors, solveGreys, solveTables, type ShapeEvidence } from './solver'

const shapeLevels = greyLevels(20)
const shape: MatrixShape = {
  kind: '1D+3x3',
  before: { entries: 1024, bits: 16 },
  matrixFractionBits: 14,
  after: { entries: 1024, bits: 12 },
}
const web: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}

const cornersOf = (emit: (d: Triple) => XYZ): RawCorners => ({
  white: emit([1, 1, 1]),
  black: emit([0, 0, 0]),
  red: emit([1, 0, 0]),
  green: emit([0, 1, 0]),
  blue: emit([0, 0, 1]),
})

/** Shapes a panel as a run would, on noise-free readings, and gives the evidence with the aim it was shaped to. */
function shapeOn(emit: (d: Triple) => XYZ, aimOf: Aim, bits: number): ShapeEvidence {
  const corners = cornersOf(emit)
  const white = convertXyzToChromaticity(corners.white)
  const aim = resolveAim(aimOf, { white, primaries: null as never, black: corners.black })
  const show = (drive: Triple) => ({ drive: quantizeSignal(drive, bits), xyz: emit(quantizeSignal(drive, bits)) })
  const rawGreys = shapeLevels.map((v) => show([v, v, v]))
  const rounds: GreyReading[][] = []
  const colors: { drive: Triple; xyz: XYZ }[] = []
  const evidence = (): ShapeEvidence => ({ aim, corners, rawGreys, rounds, colors, signal: { bits, range: 'full' } })
  for (let k = 0; k < 2; k++)
    rounds.push(solveGreys(evidence(), shapeLevels).map((drive, i) => ({ level: shapeLevels[i], ...show(drive) })))
  for (let k = 0; k < 2; k++) colors.push(...solveColors(evidence(), shapeColors).map(show))
  return evidence()
}

function errors(
  evidence: ShapeEvidence,
  emit: (d: Triple) => XYZ,
  aim: ResolvedAim,
  signals: readonly Triple[],
): number[] {
  const tables = solveTables(evidence, shape)
  return signals.map((s) =>
    deltaE2000(
      convertXyzToLab(targetXyz(aim, s), aim.white),
      convertXyzToLab(emit(applySlotTables(tables, s)), aim.white),
    ),
  )
}

const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / v.length
const uniform = uniformFrom(11)
const colors = Array.from({ length: 200 }, (): Triple => quantizeSignal([uniform(), uniform(), uniform()], 10))
const greys = Array.from({ length: 60 }, (_, i): Triple =>
  quantizeSignal([(i + 3) / 64, (i + 3) / 64, (i + 3) / 64], 10),
)

test('a panel whose channels add exactly is brought to the aim to a few hundredths @long', () => {
  const emit = testPanel()
  const evidence = shapeOn(emit, web, 12)
  const inGamut = colors.filter((s) => Math.min(...s) > 0.05)
  expect(mean(errors(evidence, emit, evidence.aim, inGamut))).toBeLessThan(0.05)
  expect(Math.max(...errors(evidence, emit, evidence.aim, greys))).toBeLessThan(0.12)
})

test.each([
  ['sRGB tone', web],
  ['BT.1886', { ...web, toneResponse: { kind: 'BT.1886' } }],
  ['L*, D50', { ...web, white: { kind: 'standard', name: 'D50' }, luminance: 90, toneResponse: { kind: 'L*' } }],
  ['panel’s own white', { ...web, white: { kind: 'panel' } }],
] as [string, Aim][])('greys stay on the aim with coupled channels: %s @long', (_, aim) => {
  const emit = testPanel({ coupling: 0.02 })
  const evidence = shapeOn(emit, aim, 12)
  expect(mean(errors(evidence, emit, evidence.aim, greys))).toBeLessThan(0.12)
  expect(mean(errors(evidence, emit, evidence.aim, colors))).toBeLessThan(0.6)
})

test('a second round does not make greys worse, and its residual is small', () => {
  const emit = testPanel({ coupling: 0.03 })
  const { rounds, aim } = shapeOn(emit, web, 10)
  const averages = rounds.map((r) => mean(r.map(({ level, xyz }) => residual(aim, [level, level, level], xyz))))
  expect(averages[1]).toBeLessThan(averages[0] + 0.02)
  expect(averages[1]).toBeLessThan(0.3)
})

test('greys of the tables never step backwards @long', () => {
  const emit = testPanel({ coupling: 0.02 })
  const tables = solveTables(shapeOn(emit, web, 10), shape)
  let last: Triple = [-1, -1, -1]
  for (let i = 0; i < 1024; i++) {
    const drive = applySlotTables(tables, [i / 1023, i / 1023, i / 1023])
    drive.forEach((d, c) => expect(d).toBeGreaterThanOrEqual(last[c]))
    last = drive
  }
})

describe('another round', () => {
  test('is worth it while the residual falls by a tenth', () => {
    expect(anotherRound([], 5)).toBe(true)
    expect(anotherRound([0.9], 5)).toBe(true)
    expect(anotherRound([0.9, 0.5], 5)).toBe(true)
    expect(anotherRound([0.9, 0.85], 5)).toBe(false)
    expect(anotherRound([0.9, 1.2], 5)).toBe(false)
    expect(anotherRound([roundRules.enough], 5)).toBe(false)
    expect(anotherRound([3, 2, 1.5, 1, 0.7], 5)).toBe(false)
    expect(anotherRound([3, 2], 2)).toBe(false)
    // An instrument that repeats itself no better than that would only chase its own noise.
    expect(anotherRound([0.5, 0.3], 5, 0.35)).toBe(false)
    expect(anotherRound([0.5, 0.3], 5, 0.05)).toBe(true)
  })
})

describe('headroom', () => {
  test('is nothing for the panel’s own white and what its weakest channel lacks for another', () => {
    const corners = cornersOf(testPanel({ black: 1e-9 }))
    const own = convertXyzToChromaticity(corners.white)
    expect(headroomFor(corners, own, standardPrimaries.sRGB).factor).toBeCloseTo(1, 6)
    const { factor, weights } = headroomFor(corners, { x: 0.3457, y: 0.3585 }, standardPrimaries.sRGB)
    expect(factor).toBeGreaterThan(1.02)
    expect(Math.max(...weights)).toBe(1)
    // Showing those weights gives that white, darker by that factor.
    const mixed = corners.red.map((_, k) =>
      [corners.red, corners.green, corners.blue].reduce((sum, p, c) => sum + p[k] * weights[c], 0),
    ) as unknown as XYZ
    expect(convertXyzToChromaticity(mixed).x).toBeCloseTo(0.3457, 5)
    expect(corners.white[1] / mixed[1]).toBeCloseTo(factor, 5)
  })

  test('says so when the panel cannot make the white', () => {
    expect(() => headroomFor(cornersOf(testPanel()), { x: 0.1, y: 0.5 }, standardPrimaries.sRGB)).toThrow(
      'cannot mix the white',
    )
  })
})
