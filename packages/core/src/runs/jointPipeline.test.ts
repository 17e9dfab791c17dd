import { resolveAim, targetXyz, type Aim } from '../aims/aim'
import { characterize } from '../characterization/characterize'
import { convertXyzToChromaticity } from '../color/chromaticity'
import { deltaE2000 } from '../color/deltaE2000'
import { convertXyzToLab } from '../color/lab'
import type { Triple } from '../color/matrix3'
import { applySlotTables } from '../tables/slotPipeline'
import { buildSlotTables, type PipelineAim } from '../tables/slotTables'
import type { MatrixShape } from '../tables/pipelineShape'
import { uniformFrom } from '../basics/random'
import { readingsOf, testPanel } from '../test/panel'
import { fitPipeline } from './jointPipeline'
import { mixingMatrix, modelFromGreys, pipelineFor, solveDrive, type GreyReading } from './shape'

const shape: MatrixShape = {
  kind: '1D+3x3',
  before: { entries: 1024, bits: 16 },
  matrixFractionBits: 14,
  after: { entries: 1024, bits: 16 },
}
const web: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 110,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const random = uniformFrom(21)
const colors = Array.from({ length: 300 }, (): Triple => [random(), random(), random()])
const greys = Array.from({ length: 40 }, (_, i): Triple => [(i + 2) / 42, (i + 2) / 42, (i + 2) / 42])
const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / v.length

/** A panel, the pipeline solved part by part from noise-free greys, and the one that is fitted as a whole. */
function both(emit: (drive: Triple) => readonly [number, number, number]) {
  const corners = {
    ...{ white: emit([1, 1, 1]), black: emit([0, 0, 0]) },
    ...{ red: emit([1, 0, 0]), green: emit([0, 1, 0]), blue: emit([0, 0, 1]) },
  }
  const aim = resolveAim(web, {
    white: convertXyzToChromaticity(corners.white),
    primaries: null as never,
    black: corners.black,
  })
  const model = modelFromGreys(
    corners,
    greys.map((drive) => ({ drive, xyz: emit(drive) })),
  )
  const apart = pipelineFor(model, mixingMatrix(model.matrix, aim), aim)
  // A round of greys as the pipeline shows them, as a run reads it.
  const round = [...Array.from({ length: 20 }, (_, i) => (i + 1) / 20)].map((level): GreyReading => {
    const drive = solveDrive(model, mixingMatrix(model.matrix, aim), aim, [level, level, level], {
      bits: 12,
      range: 'full',
    })
    return { level, drive, xyz: emit(drive) }
  })
  const together = fitPipeline(apart, characterize(readingsOf(emit, 140)), aim, round)
  const errors = (pipeline: PipelineAim, signals: readonly Triple[]) => {
    const tables = buildSlotTables(pipeline, shape)
    return signals.map((s) => {
      const shown = emit(applySlotTables(tables, s))
      return deltaE2000(convertXyzToLab(targetXyz(aim, s), aim.white), convertXyzToLab(shown, aim.white))
    })
  }
  return { apart, together, errors }
}

describe('matrix and curves fitted together', () => {
  test.each([0.02, 0.04, 0.06])(
    'miss by far less than apart where channels couple by %d, on colours never read @long',
    (coupling) => {
      const { apart, together, errors } = both(testPanel({ coupling }))
      const [before, after] = [mean(errors(apart, colors)), mean(errors(together, colors))]
      expect(after).toBeLessThan(0.6 * before)
      expect(mean(errors(together, greys))).toBeLessThan(Math.max(0.15, 1.2 * mean(errors(apart, greys))))
    },
  )

  test('are what they were where nothing couples @long', () => {
    const { apart, together, errors } = both(testPanel())
    expect(mean(errors(together, colors))).toBeLessThan(mean(errors(apart, colors)) + 0.02)
    together.matrix.forEach((row, i) =>
      row.forEach((v, j) => expect(Math.abs(v - apart.matrix[i][j])).toBeLessThan(0.01)),
    )
  })

  test('keep white where the aim wants it, curves within what drives there are, and black black', () => {
    const { together, errors } = both(testPanel({ coupling: 0.05 }))
    expect(errors(together, [[1, 1, 1]])[0]).toBeLessThan(0.25)
    for (const drive of together.drive) {
      expect(drive(0)).toBe(0)
      for (let i = 0; i <= 100; i++) {
        expect(drive(i / 100)).toBeGreaterThanOrEqual(0)
        expect(drive(i / 100)).toBeLessThanOrEqual(1)
      }
      // Beyond what there is it goes no further.
      expect(drive(1.4)).toBe(drive(1))
    }
  })

  test('are the same for the same readings @long', () => {
    const emit = testPanel({ coupling: 0.03 })
    expect(both(emit).together.matrix).toEqual(both(emit).together.matrix)
  })
})
