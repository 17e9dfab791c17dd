import { aimCurve } from '@bichroma/core/aims'
import type { Triple } from '@bichroma/core/color'
import {
  anotherRound,
  carryOver,
  matrixPartsFor,
  residual,
  type DriveReading,
  type GreyReading,
  type ShapeEvidence,
} from '@bichroma/core/runs'
import { asArrived, type MatrixShape } from '@bichroma/core/tables'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'
import { mayBeWritten } from './mayBeWritten'
import type { Shaped, ShapeSubject } from './subject'

/** Roughly how panels answer, to place the raw greys where the aim's levels will lie. */
const typicalExponent = 2.2

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

/**
 * For a slot with tables and a matrix: rounds of corrected greys until they stop improving, then colours for the matrix.
 * A refresh takes the raw greys and the colours of the last full run, as the panel's corners tell that they are now.
 */
export async function shapeByGreys(
  context: RunContext,
  { effort, aim, corners, signal, watch, before }: ShapeSubject,
  pipeline: MatrixShape,
): Promise<Shaped> {
  if (before && before.kind !== 'greys')
    throw new RunFailed('The display holds other tables than when it was last calibrated. Start a full run.')
  const { solver } = context.services
  const parts = matrixPartsFor(effort)
  const { levels } = parts
  const { decode } = aimCurve(aim)
  const readRawGreys = async () => {
    const wishes = levels
      .filter((l) => l < 1)
      .map((v) => {
        const d = decode(v) ** (1 / typicalExponent)
        return { name: `Raw grey ${(d * 100).toFixed(1)} %`, rgb: [d, d, d] as Triple }
      })
    return asArrived(await watch.read(wishes), signal).map(({ rgb, xyz }): DriveReading => ({ drive: rgb, xyz }))
  }
  const rawGreys = before ? carryOver(before.greys, before.corners, corners) : await readRawGreys()
  const colors: DriveReading[] = before ? carryOver(before.colors, before.corners, corners) : []

  const rounds: GreyReading[][] = []
  const evidence = (): ShapeEvidence => ({ aim, corners, rawGreys, rounds, colors, signal })
  const averages: number[] = []
  const residuals: { level: number; deltaE: number }[][] = []
  const note = (colorAverage?: number) =>
    context.sheet.note({
      rounds: residuals,
      evidence: [
        `Greys, ${levels.length} levels, round ${residuals.length}: residual ${averages.map((a) => a.toFixed(2)).join(' → ') || 'not read yet'} ΔE`,
        ...(colorAverage === undefined
          ? []
          : [`${parts.colors.length} colours for the matrix: ${colorAverage.toFixed(2)} ΔE on average`]),
      ],
    })
  while (anotherRound(averages, parts.greyRounds, watch.repeatability)) {
    const drives = await solver.run('solveGreys', evidence(), levels)
    const round: { level: number; deltaE: number }[] = []
    residuals.push(round)
    const wishes = levels.map((v, i) => ({
      name: `Grey ${Number((v * 100).toFixed(1))} %, round ${rounds.length + 1}`,
      rgb: drives[i],
      role: v === 1 ? ('white' as const) : ('patch' as const),
      deltaEOf: (got: Triple) => residual(aim, [v, v, v], got),
    }))
    const read = await watch.read(wishes, ({ xyz }, i) => {
      const v = levels[i]
      round[i] = { level: v, deltaE: residual(aim, [v, v, v], xyz) }
    })
    rounds.push(asArrived(read, signal).map(({ rgb, xyz }, i) => ({ level: levels[i], drive: rgb, xyz })))
    averages.push(mean(round.map((r) => r.deltaE)))
    await note()
  }

  mayBeWritten(
    context,
    residuals[residuals.length - 1].map((r) => r.deltaE),
  )
  for (let k = 0; k < parts.colorRounds; k++) {
    const drives = await solver.run('solveColors', evidence(), parts.colors)
    const wishes = parts.colors.map((patch, i) => ({
      name: patch.name,
      rgb: drives[i],
      deltaEOf: (got: Triple) => residual(aim, patch.rgb, got),
    }))
    const read = await watch.read(wishes)
    colors.push(...asArrived(read, signal).map(({ rgb, xyz }) => ({ drive: rgb, xyz })))
    await note(mean(read.map((r, i) => residual(aim, parts.colors[i].rgb, r.xyz))))
  }
  const greys = [...rawGreys, ...(rounds.at(-1) ?? []).map(({ drive, xyz }): DriveReading => ({ drive, xyz }))]
  return {
    tables: await solver.run('solveTables', evidence(), pipeline),
    memory: before ?? { kind: 'greys', corners, greys, colors },
  }
}
