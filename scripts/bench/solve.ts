import { resolveAim, type InstrumentFacts } from '@bichroma/core/aims'
import { convertXyzToChromaticity, subtract, type Triple } from '@bichroma/core/color'
import { characterizeTogether, fitMatrixModel } from '@bichroma/core/characterization'
import { writeTableProfile } from '@bichroma/core/profiles'
import { solverTasks, type ShapeEvidence } from '@bichroma/core/runs'
import { makeSlotPipeline } from '@bichroma/core/tables'
import { readingsOf, testPanel } from '../../packages/core/src/test/panel'
import { race, note, report, timesAsLong } from './measure'

/** What each may take in a worker, ms; and a profile, for which no run waits but at its end. */
const [most, mostOfProfile] = [1500, 3000]
const profile = 'a table profile, by panel and tables'

/** What runs work out while they wait for it, each on as much as a usual run reads. */
export function benchSolve(): void {
  console.log('\nWhat runs work out, on what a usual run reads, one thread')
  const emit = testPanel({ coupling: 0.04 })
  const above = (rgb: Triple) => convertXyzToChromaticity(subtract(emit(rgb), emit([0, 0, 0])))
  const corners = {
    ...{ white: emit([1, 1, 1]), black: emit([0, 0, 0]) },
    ...{ red: emit([1, 0, 0]), green: emit([0, 1, 0]), blue: emit([0, 0, 1]) },
  }
  const aim = resolveAim(
    {
      white: { kind: 'standard', name: 'D65' },
      luminance: 110,
      toneResponse: { kind: 'sRGB' },
      primaries: { kind: 'standard', name: 'sRGB' },
    },
    {
      ...{ white: above([1, 1, 1]), black: corners.black },
      primaries: { red: above([1, 0, 0]), green: above([0, 1, 0]), blue: above([0, 0, 1]) },
    },
  )
  const readings = readingsOf(emit, 200)
  const whole = { aim, readings, signal: { bits: 10, range: 'full' as const } }
  const greys = Array.from({ length: 24 }, (_, i) => (i + 1) / 24)
  const show = (drive: Triple) => ({ drive, xyz: emit(drive) })
  const parts = (colors: ShapeEvidence['colors']): ShapeEvidence => ({
    ...{ aim, corners, signal: { bits: 10, range: 'full' as const }, colors },
    rawGreys: greys.map((v) => show([v, v, v])),
    rounds: [greys.map((level) => ({ level, ...show([level, level, level]) }))],
  })
  const table = { entries: 1024, bits: 12 }
  const matrix = { kind: '1D+3x3', before: table, matrixFractionBits: 14, after: table } as const
  const instrument: InstrumentFacts = {
    ...{ kind: 'colorimeter', certificateAge: 0.5, origin: 'this display', noise: null },
    made: { residual: 0.0005, age: 0.2, referenceAge: 0.5 },
  }
  const limits = { rules: [{ metric: 'averageDeltaE', near: 1, hard: 2 }] } as const
  const pipeline = { kind: '1D+3D', grid: { size: 17, bits: 12 }, after: table } as const
  const slot = solverTasks.solveSlot(whole, pipeline)
  const driveOf = makeSlotPipeline(slot)
  const proved = readingsOf((rgb) => emit(driveOf(rgb)), 39)
  const facts = { description: 'Bench', copyright: 'None', createdAt: 0, version: 4 as const }
  const times = race(
    {
      'a round of a 3D table': () => solverTasks.solveRound(whole, 12, 12),
      'a 3D table of 17 nodes': () => solverTasks.solveSlot(whole, pipeline),
      'a matrix and its curves, together': () =>
        solverTasks.solveTables(parts(readings.slice(27, 45).map(({ rgb, xyz }) => ({ drive: rgb, xyz }))), matrix),
      'a matrix and its curves, apart': () => solverTasks.solveTables(parts([]), matrix),
      'what a matrix reaches at best': () => solverTasks.matrixReach({ aim, corners }),
      'how far left-out colours are foretold': () => solverTasks.foretellingError(whole),
      [profile]: () => writeTableProfile(characterizeTogether(readings, slot, proved), fitMatrixModel(proved), facts),
      'a verdict with its doubt': () =>
        solverTasks.judgeProof({
          ...{ readings: readings.slice(0, 60), aim, limits, instrument, uniformity: null },
          moved: { luminance: 0, uv: 0 },
        }),
    },
    5,
  )
  for (const [name, { ms }] of Object.entries(times)) {
    const asked = name === profile ? mostOfProfile : most
    report(name, `${ms.toFixed(0)} ms`, `${asked} ms`, ms <= asked)
  }
  const together = times['a matrix and its curves, together']
  note(
    `together takes ${timesAsLong(together, times['a matrix and its curves, apart']).toFixed(0)} times as long as apart`,
  )
}
