import { encodeSlotTables, type SlotTables } from '@bichroma/core'
import { slotEntity } from '../../register/entities'
import { RunFailed, type RunContext } from '../runContext'

/** Tries of a write whose read-back differs, before the cable gets the blame. */
const mostWrites = 2

/** Load: the tables into the slot, read back, compared by hash; the register says so only then. */
export async function load(context: RunContext, tables: SlotTables): Promise<void> {
  const { run, display, services } = context
  const hash = await services.contents.put(encodeSlotTables(tables))
  await context.want('tables in the path', { pipeline: 'slot' })
  const tries = await context.step('write', async (send) => {
    for (let tried = 1; ; tried++) {
      await send('display.writeSlot', { slot: run.slot, label: run.label, hash })
      const back = await send('display.readSlot', { slot: run.slot })
      if (back.hash === hash) return tried
      if (tried === mostWrites)
        throw new RunFailed(
          `What slot ${run.slot} gives back is not what was written to it, ${mostWrites} times. Exchange the data cable and start again.`,
        )
    }
  })
  await services.data.getRepository(slotEntity).update({ displayId: display.id, number: run.slot }, {
    label: run.label,
    aim: run.aim,
    resolvedAim: run.resolvedAim,
    writtenAt: services.now(),
    tablesHash: hash,
    judgedRunId: null,
  } as never)
  await context.note({
    endedAt: services.now(),
    evidence: [
      `Two tables and a matrix in slot ${run.slot}, read back, hashes equal${tries > 1 ? ' at the second write' : ''}`,
      `SHA-256 ${hash.slice(0, 12)}…`,
    ],
  })
}
