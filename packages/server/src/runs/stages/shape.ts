import { convertXyzToUv, deltaUv, type PatchReading, type XYZ } from '@bichroma/core/color'
import {
  cornerPatches,
  effortOf,
  leastShapeReadings,
  plannedReadings,
  sharesLight,
  shapeReadingsWithin,
  type Effort,
  type ShapeMemory,
} from '@bichroma/core/runs'
import type { PipelineShape, SignalRange, SlotTables } from '@bichroma/core/tables'
import { WhiteWatch } from '../guardedReadings'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'
import { matrixMayReach } from '../shape/matrixMayReach'
import { shapeByGreys } from '../shape/shapeByGreys'
import { shapeByModel } from '../shape/shapeByModel'
import { cornersOf, resolveFor } from './baseline'

/**
 * Shape: raw corners, then by what the slot can hold. With a matrix, greys are brought to the aim round by round and the
 * matrix fitted to colours; with a 3D table, or a table per channel alone, the panel is characterized as a whole.
 */
export async function shape(context: RunContext): Promise<{ tables: SlotTables; watch: WhiteWatch }> {
  const sizes = await context.steps.take('table sizes', async () => {
    const { signalBits, signalRange, pipeline } = context.link.facts
    return { signalBits, signalRange: signalRange as SignalRange | undefined, pipeline }
  })
  const { pipeline } = sizes
  // Steps of an older version do not tell the range.
  const signal = { bits: sizes.signalBits, range: sizes.signalRange ?? context.link.facts.signalRange }
  const [white, ...others] = cornerPatches
  const { watch, white: first } = await WhiteWatch.start(context, white)
  const cornerReadings = await readAgainIfOdd(context, watch, [first, ...(await watch.read(others))])
  const corners = cornersOf(cornerReadings)
  const aim = resolveFor(context.run.aim, corners)
  await context.save({ resolvedAim: aim })
  if (sharesLight(corners) && pipeline.kind === '1D+3x3') await matrixMayReach(context, aim, corners)
  if (sharesLight(corners) && pipeline.kind === '1D')
    await context.sheet.remark(
      'A white subpixel helps white and not the colours, which no table per channel can undo: saturated colours will be darker than the aim asks for',
    )
  const effort = await effortWithin(context, pipeline.kind)
  const subject = { effort, aim, corners, cornerReadings, signal, watch, before: await recall(context) }
  const { tables, memory } =
    pipeline.kind === '1D+3x3'
      ? await shapeByGreys(context, subject, pipeline)
      : await shapeByModel(context, subject, pipeline)
  await context.save({
    memoryHash: await context.services.contents.put(new TextEncoder().encode(JSON.stringify(memory))),
  })
  await context.sheet.note({ endedAt: context.now() })
  return { tables, watch }
}

/** How far a corner may be from what Baseline read of it, white's change taken out: Δu′v′, and luminance as a share. */
const cornerApart = 0.004
const cornerLuminance = 0.03

/**
 * Corners, each of which decides much: one whose colour is not what Baseline found is read again, and the second reading
 * counts. Black is too dark to be told by.
 */
async function readAgainIfOdd(
  context: RunContext,
  watch: WhiteWatch,
  corners: PatchReading[],
): Promise<PatchReading[]> {
  const before = context.run.baseline?.patches ?? []
  const find = (all: readonly PatchReading[], name: string) => all.find((p) => p.name === name)?.xyz
  const [was, is] = [find(before, 'White'), find(corners, 'White')]
  if (!was || !is) return corners
  const odd = corners.filter(({ name, xyz }) => {
    const then = find(before, name)
    if (!then || name === 'Black') return false
    const expected = then.map((v, k) => (v * is[k]) / was[k]) as unknown as XYZ
    const luminance = xyz[1] / expected[1] - 1
    return Math.abs(luminance) > cornerLuminance || deltaUv(convertXyzToUv(expected), convertXyzToUv(xyz)) > cornerApart
  })
  if (!odd.length) return corners
  const again = await watch.read(odd.map(({ name, rgb }) => ({ name, rgb })))
  context.readings.repeated += odd.length
  return corners.map((corner) => again.find((a) => a.name === corner.name) ?? corner)
}

/** What a refresh starts from: the memory that it was given when it was started. Null for a run that starts from nothing. */
async function recall({ run, services }: RunContext): Promise<ShapeMemory | null> {
  if (!run.recalls) return null
  const bytes = await services.contents.get(run.recalls)
  if (!bytes)
    throw new RunFailed('What the last full run learned of this panel is gone from the store. Start a full run.')
  return JSON.parse(new TextDecoder().decode(bytes)) as ShapeMemory
}

/** How much Shape takes on: what the sampling says, or as much as the budget leaves it. */
async function effortWithin(context: RunContext, holds: PipelineShape['kind']): Promise<Effort> {
  const { budget, kind, sampling } = context.run
  if (!budget) return effortOf(kind, sampling)
  const effort = await context.steps.take('effort', async () =>
    shapeReadingsWithin(budget, context.readings.durations, {
      elapsedMs: context.sheet.elapsedMs,
      loadSeconds: context.shown.loadSeconds,
    }),
  )
  if (effort < leastShapeReadings)
    throw new RunFailed(
      `The budget of ${budget.most} ${budget.kind} leaves ${Math.max(0, effort)} readings for Shape, which needs ${leastShapeReadings}. Give the run more, or leave it to a sampling.`,
    )
  context.shown.planned = plannedReadings(kind, holds, sampling, effort)
  return effort
}
