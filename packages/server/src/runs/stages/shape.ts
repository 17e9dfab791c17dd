import {
  anotherRound,
  primariesAndSecondaries,
  residual,
  shapeColors,
  shapeLevels,
  aimCurve,
  white,
  black,
  type DriveReading,
  type GreyReading,
  type PatchReading,
  type PipelineShape,
  type ShapeEvidence,
  type SlotTables,
  type Triple,
} from '@bichroma/core'
import type { RunContext } from '../runContext'
import { cornersOf, resolveFor } from './baseline'

/** Rounds of colours by which the matrix is fitted: the second reads what the first made of them. */
const colorRounds = 2
/** Roughly how panels answer, to place the raw greys where the aim's levels will lie. */
const typicalExponent = 2.2

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

/** Shape: raw corners and greys, rounds of corrected greys until they stop improving, colours for the matrix, tables. */
export async function shape(context: RunContext): Promise<SlotTables> {
  const { solver } = context.services
  const { signalBits, pipeline } = await context.step('table sizes', async () => ({
    signalBits: context.facts.signalBits,
    pipeline: context.facts.pipeline as PipelineShape,
  }))

  const cornerReadings: PatchReading[] = []
  for (const patch of [white, black, ...primariesAndSecondaries.slice(0, 3)])
    cornerReadings.push({ name: patch.name, ...(await context.read(patch.name, patch.rgb)) })
  const corners = cornersOf(cornerReadings)
  const aim = resolveFor(context.run.aim, corners)
  await context.save({ resolvedAim: aim })

  const rawGreys: DriveReading[] = []
  const { decode } = aimCurve(aim)
  for (const v of shapeLevels.filter((l) => l < 1)) {
    const d = decode(v) ** (1 / typicalExponent)
    const { rgb, xyz } = await context.read(`Raw grey ${(d * 100).toFixed(1)} %`, [d, d, d])
    rawGreys.push({ drive: rgb, xyz })
  }

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
    const round: GreyReading[] = []
    residuals.push([])
    for (const [i, v] of shapeLevels.entries()) {
      const signal: Triple = [v, v, v]
      const { rgb, xyz } = await context.read(
        `Grey ${Number((v * 100).toFixed(1))} %, round ${rounds.length + 1}`,
        drives[i],
        (got) => residual(aim, signal, got),
      )
      round.push({ level: v, drive: rgb, xyz })
      residuals[residuals.length - 1].push({ level: v, deltaE: residual(aim, signal, xyz) })
    }
    rounds.push(round)
    averages.push(mean(residuals[residuals.length - 1].map((r) => r.deltaE)))
    await note()
  }

  for (let k = 0; k < colorRounds; k++) {
    const drives = await solver.run('solveColors', evidence(), shapeColors)
    const round: DriveReading[] = []
    for (const [i, patch] of shapeColors.entries()) {
      const { rgb, xyz } = await context.read(patch.name, drives[i], (got) => residual(aim, patch.rgb, got))
      round.push({ drive: rgb, xyz })
    }
    colors.push(...round)
    await note(mean(round.map((r, i) => residual(aim, shapeColors[i].rgb, r.xyz))))
  }
  const tables = await solver.run('solveTables', evidence(), pipeline)
  await context.note({ endedAt: context.services.now() })
  return tables
}
