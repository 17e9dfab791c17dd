import { resolveAim, targetXyz } from '../aims/aim'
import { convertXyzToChromaticity } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import { subtract, type Triple } from '../color/matrix3'
import { readingsOf, testPanel } from '../test/panel'
import { leastKnownSignals, solveSignals, type ModelEvidence } from './modelSolver'
import { shapeReadings } from './pace'
import { samplingNames } from './plan/patchPlan'

const panel = testPanel({ coupling: 0.03 })
const black = panel([0, 0, 0])
const primary = (rgb: Triple) => convertXyzToChromaticity(subtract(panel(rgb), black))
const aim = resolveAim(
  {
    white: { kind: 'standard', name: 'D65' },
    luminance: 0.8 * panel([1, 1, 1])[1],
    toneResponse: { kind: 'power', exponent: 2.2 },
    primaries: { kind: 'standard', name: 'sRGB' },
  },
  {
    white: convertXyzToChromaticity(panel([1, 1, 1])),
    black,
    primaries: { red: primary([1, 0, 0]), green: primary([0, 1, 0]), blue: primary([0, 0, 1]) },
  },
)
const evidence: ModelEvidence = { aim, readings: readingsOf(panel, 120), signal: { bits: 10, range: 'full' } }
const off = (signal: Triple, drive: Triple) =>
  deltaE2000(convertXyzToLab(targetXyz(aim, signal), aim.white), convertXyzToLab(panel(drive), aim.white))

test('the drives solved show what the aim wants @long', () => {
  const signals: Triple[] = [
    [1, 1, 1],
    [0.5, 0.5, 0.5],
    [0.2, 0.2, 0.2],
    [0.8, 0.4, 0.3],
    [0.2, 0.6, 0.5],
  ]
  solveSignals(evidence, signals).forEach((drive, i) => {
    expect(off(signals[i], drive)).toBeLessThan(0.4)
    for (const v of drive) expect(v * 1023).toBeCloseTo(Math.round(v * 1023), 9)
  })
})

test('what is known least is asked for once, apart from each other, the same for the same readings @long', () => {
  const chosen = leastKnownSignals(evidence, 14)
  expect(chosen.length).toBeGreaterThan(8)
  expect(chosen.length).toBeLessThanOrEqual(14)
  for (const [i, a] of chosen.entries()) {
    for (const v of a) expect(v).toBeGreaterThanOrEqual(0)
    for (const v of a) expect(v).toBeLessThanOrEqual(1)
    for (const b of chosen.slice(0, i)) expect(Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])).toBeGreaterThan(0.03)
  }
  expect(leastKnownSignals(evidence, 14)).toEqual(chosen)
  expect(leastKnownSignals(evidence, 0)).toEqual([])
})

test.each(['1D+3D', '1D+3x3', '1D'] as const)('from brief to overnight Shape reads more and more (%s)', (holds) => {
  const counts = samplingNames.map((s) => shapeReadings(holds, s))
  expect([...counts].sort((a, b) => a - b)).toEqual(counts)
  expect(counts[0]).toBeLessThan(60)
  expect(counts[1]).toBeLessThan(160)
  expect(shapeReadings(holds, 'refresh')).toBeLessThan(counts[1] / 2)
})
