import { encodeSlotTables, pipelineKinds, type SlotTables } from '@bichroma/core/tables'
import { slotEntity } from '../../register/entities'
import type { RunContext } from '../context/runContext'
import { RunFailed } from '../context/runErrors'

/** Tries of a write whose read-back differs, before the cable gets the blame. */
const mostWrites = 2

/** Load: the tables into the slot, read back, compared by hash; the register says so only then. */
export async function load(context: RunContext, tables: SlotTables): Promise<void> {
  const { run, display, services } = context
  const hash = await services.contents.put(encodeSlotTables(tables))
  await context.want('tables in the path', { pipeline: 'slot' })
  const slots = services.data.getRepository(slotEntity)
  const where = { displayId: display.id, number: run.slot }
  // From here until it is read back nobody knows what the slot holds.
  await slots.update(where, { unsure: true })
  const write = context.steps.take('write', async (send) => {
    for (let tried = 1; ; tried++) {
      // A write answers with what was read back.
      const args = { slot: run.slot, label: run.label, hash }
      const back = await send('display.writeSlot', args, (done) => context.shown.showLoading(done))
      if (back.hash === hash) return tried
      if (tried === mostWrites)
        throw new RunFailed(
          `What slot ${run.slot} gives back is not what was written to it, ${mostWrites} times. Exchange the data cable and start again.`,
        )
    }
  })
  const tries = await write.finally(() => context.shown.showLoading(null))
  await holdAfterPowerCycle(context)
  await slots.update(where, {
    unsure: false,
    label: run.label,
    aim: run.aim,
    resolvedAim: run.resolvedAim,
    writtenAt: context.now(),
    tablesHash: hash,
    judgedRunId: null,
  } as never)
  await context.sheet.note({
    endedAt: context.now(),
    evidence: [
      `${capitalized(pipelineKinds[tables.shape.kind])} in slot ${run.slot}, read back, hashes equal${tries > 1 ? ' at the second write' : ''}`,
      `SHA-256 ${hash.slice(0, 12)}…`,
    ],
  })
}

const capitalized = (text: string) => text[0].toUpperCase() + text.slice(1)

/** Some displays work with a new table only after they were switched off and on; the run waits until it is so. */
async function holdAfterPowerCycle(context: RunContext): Promise<void> {
  for (let asked = 1; ; asked++) {
    const { needsPowerCycle } = await context.steps.take(`power ${asked}`, (send) => send('display.getControls', {}))
    if (!needsPowerCycle) {
      if (asked > 1) await context.want('slot after the power cycle', { slot: context.run.slot, pipeline: 'slot' })
      return
    }
    await context.askHands(
      `power cycle ${asked}`,
      'power',
      `${context.display.name} takes up its new table only when it is switched off and on. Do that, then press “Go on”.`,
    )
  }
}
