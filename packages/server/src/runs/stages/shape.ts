import { primariesAndSecondaries, white, black, type PatchReading, type SlotTables } from '@bichroma/core'
import { WhiteWatch } from '../guardedReadings'
import type { RunContext } from '../runContext'
import { shapeByGreys } from '../shape/shapeByGreys'
import { shapeByModel } from '../shape/shapeByModel'
import { cornersOf, resolveFor } from './baseline'

/**
 * Shape: raw corners, then by what the slot can hold. With a matrix, greys are brought to the aim round by round and the
 * matrix fitted to colours; with a 3D table, or a table per channel alone, the panel is characterized as a whole.
 */
export async function shape(context: RunContext): Promise<{ tables: SlotTables; watch: WhiteWatch }> {
  const { signalBits, pipeline } = await context.step('table sizes', async () => ({
    signalBits: context.facts.signalBits,
    pipeline: context.facts.pipeline,
  }))
  const { watch, white: first } = await WhiteWatch.start(context, white)
  const cornerReadings: PatchReading[] = [first, ...(await watch.read([black, ...primariesAndSecondaries.slice(0, 3)]))]
  const corners = cornersOf(cornerReadings)
  const aim = resolveFor(context.run.aim, corners)
  await context.save({ resolvedAim: aim })
  const subject = { aim, corners, cornerReadings, signalBits, watch }
  const tables =
    pipeline.kind === '1D+3x3'
      ? await shapeByGreys(context, subject, pipeline)
      : await shapeByModel(context, subject, pipeline)
  await context.note({ endedAt: context.services.now() })
  return { tables, watch }
}
