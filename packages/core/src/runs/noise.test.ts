import { resolveAim, type Aim } from '../aims/aim'
import { convertXyzToChromaticity, type XYZ } from '../color/chromaticity'
import type { Triple } from '../color/matrix3'
import { quantizeSignal } from '../tables/slotTables'
import { testPanel } from '../test/panel'
import { uniformFrom } from '../basics/random'
import { greyLevels } from './patches'
import { modelFromGreys, refineModel, residual, type GreyReading } from './shape'
import { solveGreys, type ShapeEvidence } from './solver'

const shapeLevels = greyLevels(20)
const aimOf: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const emit = testPanel({ coupling: 0.015 })
const corners = {
  white: emit([1, 1, 1]),
  black: emit([0, 0, 0]),
  red: emit([1, 0, 0]),
  green: emit([0, 1, 0]),
  blue: emit([0, 0, 1]),
}
const aim = resolveAim(aimOf, {
  white: convertXyzToChromaticity(corners.white),
  primaries: null as never,
  black: corners.black,
})

/** Readings with noise of a share of the light, the same for the same seed. */
function noisy(share: number, seed: number) {
  const uniform = uniformFrom(seed)
  // Six uniform numbers make one that is near enough to normal.
  const normal = () => (uniform() + uniform() + uniform() + uniform() + uniform() + uniform() - 3) * Math.sqrt(2)
  return (drive: Triple) => {
    const shown = quantizeSignal(drive, 12)
    return { drive: shown, xyz: emit(shown).map((v) => v * (1 + share * normal())) as unknown as XYZ }
  }
}

/** The true residual of the greys after a number of noisy rounds, averaged over levels. */
function trueResidual(share: number, roundsTaken: number, seed: number): number {
  const read = noisy(share, seed)
  const rawGreys = shapeLevels.map((v) => read([v, v, v]))
  const rounds: GreyReading[][] = []
  const evidence = (): ShapeEvidence => ({
    aim,
    corners,
    rawGreys,
    rounds,
    colors: [],
    signal: { bits: 12, range: 'full' },
  })
  for (let k = 0; k < roundsTaken; k++)
    rounds.push(solveGreys(evidence(), shapeLevels).map((drive, i) => ({ level: shapeLevels[i], ...read(drive) })))
  const drives = solveGreys(evidence(), shapeLevels)
  return (
    drives.reduce((sum, d, i) => sum + residual(aim, [shapeLevels[i], shapeLevels[i], shapeLevels[i]], emit(d)), 0) /
    drives.length
  )
}

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]
const over = (share: number, rounds: number) =>
  median([1, 2, 3, 4, 5, 6, 7].map((seed) => trueResidual(share, rounds, seed)))

test('more rounds mean less noise in what is solved, as averaging should', () => {
  const [one, three] = [over(0.004, 1), over(0.004, 3)]
  expect(three).toBeLessThan(one * 0.8)
})

test('the error grows no faster than the noise of the readings', () => {
  const [small, large] = [over(0.001, 3), over(0.004, 3)]
  expect(large / small).toBeLessThan(5)
  expect(small).toBeLessThan(0.12)
})

test('one misread shadow does not bend the curve beyond its bounds', () => {
  const model = modelFromGreys(
    corners,
    shapeLevels.map((v) => ({ drive: [v, v, v] as Triple, xyz: emit([v, v, v]) })),
  )
  const bad = shapeLevels.map((level): GreyReading => ({
    level,
    drive: [level, level, level],
    xyz: level === shapeLevels[0] ? [50, 50, 50] : emit([level, level, level]),
  }))
  const bent = refineModel(model, bad)
  for (const c of [0, 1, 2] as const) {
    expect(bent.light[c](shapeLevels[0]) / model.light[c](shapeLevels[0])).toBeLessThanOrEqual(2)
    expect(bent.light[c](0.5)).toBeCloseTo(model.light[c](0.5), 2)
  }
})
