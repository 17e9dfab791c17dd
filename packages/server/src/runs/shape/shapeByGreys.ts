import {
  aimCurve,
  anotherRound,
  residual,
  shapeColors,
  shapeLevels,
  type DriveReading,
  type GreyReading,
  type MatrixShape,
  type ShapeEvidence,
  type SlotTables,
  type Triple,
} from '@bichroma/core'
import type { RunContext } from '../runContext'
import type { ShapeSubject } from './subject'

/** Rounds of colours by which the matrix is fitted: the second reads what the first made of them. */
const colorRounds = 2
/** Roughly how panels answer, to place the raw greys where the aim's levels will lie. */
const typicalExponent = 2.2

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

/** For a slot with tables and a matrix: rounds of corrected greys until they stop improving, then colours for the matrix. */
export async function shapeByGreys(
  context: RunContext,
  { aim, corners, signalBits, watch }: ShapeSubject,
  pipeline: MatrixShape,
): Promise<SlotTables> {
  const { solver } = context.services
  const { decode } = aimCurve(aim)
  const rawWishes = shapeLevels
    .filter((l) => l < 1)
    .map((v) => {
      const d = decode(v) ** (1 / typicalExponent)
      return { name: `Raw grey ${(d * 100).toFixed(1)} %`, rgb: [d, d, d] as Triple }
    })
  const rawGreys = (await watch.read(rawWishes)).map(({ rgb, xyz }): DriveReading => ({ drive: rgb, xyz }))

  const rounds: GreyReading[][] = []
  const colors: DriveReading[] = []
  const evidence = (): ShapeEvidence => ({ aim, corners, rawGreys, rounds, colors, signalBits })
  const averages: number[] = []
  const residuals: { level: number; deltaE: number }[][] = []
  const note = (colorAverage?: number) =>
    context.note({
      rounds: residuals,
      evidence: [
        `Greys, ${shapeLevels.length} levels, round ${residuals.length}: residual ${averages.map((a) => a.toFixed(2)).join(' → ') || 'not read yet'} ΔE`,
        ...(colorAverage === undefined
          ? []
          : [`${shapeColors.length} colours for the matrix: ${colorAverage.toFixed(2)} ΔE on average`]),
      ],
    })
  while (anotherRound(averages)) {
    const drives = await solver.run('solveGreys', evidence(), shapeLevels)
    const round: { level: number; deltaE: number }[] = []
    residuals.push(round)
    const wishes = shapeLevels.map((v, i) => ({
      name: `Grey ${Number((v * 100).toFixed(1))} %, round ${rounds.length + 1}`,
      rgb: drives[i],
      deltaEOf: (got: Triple) => residual(aim, [v, v, v], got),
    }))
    const read = await watch.read(wishes, ({ xyz }, i) => {
      const v = shapeLevels[i]
      round[i] = { level: v, deltaE: residual(aim, [v, v, v], xyz) }
    })
    rounds.push(read.map(({ rgb, xyz }, i) => ({ level: shapeLevels[i], drive: rgb, xyz })))
    averages.push(mean(round.map((r) => r.deltaE)))
    await note()
  }

  for (let k = 0; k < colorRounds; k++) {
    const drives = await solver.run('solveColors', evidence(), shapeColors)
    const wishes = shapeColors.map((patch, i) => ({
      name: patch.name,
      rgb: drives[i],
      deltaEOf: (got: Triple) => residual(aim, patch.rgb, got),
    }))
    const read = await watch.read(wishes)
    colors.push(...read.map(({ rgb, xyz }) => ({ drive: rgb, xyz })))
    await note(mean(read.map((r, i) => residual(aim, shapeColors[i].rgb, r.xyz))))
  }
  return solver.run('solveTables', evidence(), pipeline)
}
