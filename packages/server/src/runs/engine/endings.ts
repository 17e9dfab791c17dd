import { puttingBack, runKinds } from '@bichroma/core/runs'
import { CourierGone, DeviceRefusal } from '../../couriers/hub'
import { atomically, insertion } from '../../data/atomically'
import { logFault } from '../../data/log'
import { patiently } from '../../data/patiently'
import { storeFault } from '../../data/storeFault'
import { displayEntity, slotEntity } from '../../register/entities'
import type { RunContext } from '../context/runContext'
import { RunFailed, RunStopped, ServerClosing } from '../context/runErrors'
import { version } from '../../data/version'
import { runEntity, runLightEntity, runName, type RunRow } from '../entities'
import type { Closing } from '../stages/file'
import { restore } from './restore'

/** Why a run failed, for people; what nobody foresaw goes to the log. */
export function sentenceOf(error: unknown, run: RunRow, workstation: string): string {
  if (error instanceof RunFailed) return error.message
  if (error instanceof DeviceRefusal) return error.sentence
  if (error instanceof CourierGone)
    return `The courier on ${workstation} went away. Start it again and start the run anew.`
  // What core says of readings that no display gives.
  if (error instanceof RangeError) {
    logFault(`Run ${run.id}, ${run.stage}`, error)
    return `The readings do not make a display: ${error.message} See that the instrument lies flat on the screen, and that every colour lights up, and start again.`
  }
  logFault(`Run ${run.id}, ${run.stage}`, error)
  return 'A fault of Bichroma ended this run; the server’s log holds the details.'
}

/** The end of a run that was proved, and all that is told by it, as one. */
export async function finishRun(context: RunContext, { activeSlot, tablesHash }: Closing): Promise<void> {
  const { run, display } = context
  const { settles } = runKinds[run.kind]
  const ending = {
    state: 'done' as const,
    endedAt: context.now(),
    message: null,
    asks: null,
    ...(settles && { tablesHash }),
  }
  const { data, ledger } = context.services
  const { manager } = data
  await patiently(() =>
    atomically(data, (take) => {
      take(manager.createQueryBuilder().update(runEntity).set(ending).where({ id: run.id }))
      if (context.light)
        take(
          insertion(manager, runLightEntity, {
            runId: run.id,
            displayId: display.id,
            at: ending.endedAt,
            seen: context.light,
          }),
        )
      take(manager.createQueryBuilder().update(displayEntity).set({ activeSlot }).where({ id: display.id }))
      if (settles)
        take(
          manager
            .createQueryBuilder()
            .update(slotEntity)
            .set({ judgedRunId: run.id })
            .where({ displayId: display.id, number: run.slot }),
        )
      take(
        ledger.entry('Bichroma', {
          act: 'proved',
          thing: 'run',
          id: run.id,
          name: runName(run, display.name),
          evidence: {
            display: display.id,
            verdict: run.summary?.verdict ?? null,
            readings: context.readings.durations.length,
            instrument: `${context.instrument.model} ${context.instrument.serial}`,
            certified: context.instrument.certifiedAt,
            correction: run.correction?.kind ?? null,
            firmware: run.firmware,
            tables: tablesHash ?? null,
            profile: run.profileHash,
            version,
          },
        }),
      )
    }),
  )
  Object.assign(run, ending)
}

/** What follows from a run has its own failure: it never undoes the run. */
export async function follow(run: RunRow, what: (run: RunRow) => Promise<void>): Promise<void> {
  if (!runKinds[run.kind].settles) return
  await what(run).catch((error: unknown) => logFault(`What follows from run ${run.id}`, error))
}

export async function endRun(
  context: RunContext,
  state: 'failed' | 'stopped' | 'done',
  sentence: string,
  further: Partial<RunRow> = {},
): Promise<void> {
  // The stage that broke keeps the time that it took.
  await context.sheet.note({})
  await context.beginRestoring(`${puttingBack}. `)
  const left = await restore(context).catch((error: unknown) => {
    if (error instanceof ServerClosing || storeFault(error)) throw error
    if (error instanceof RunStopped) return 'The slot was not put back: you let go of the display while it was away.'
    if (!(error instanceof RunFailed)) logFault(`Run ${context.run.id} was put back`, error)
    return `The display could not be put back: ${error instanceof RunFailed ? error.message : 'see the server’s log.'}`
  })
  await context.save({
    state,
    endedAt: context.now(),
    message: `${sentence} ${left}`,
    restoring: false,
    asks: null,
    ...further,
  })
}

/** Puts back what a proved run had overwritten, as `by` asked; the run stays proved. */
export async function takeBack(context: RunContext, by: string): Promise<void> {
  const { endedAt } = context.run
  await endRun(context, 'done', `Taken back by ${by}.`, { endedAt, takenBackAt: context.now(), takenBackBy: by })
  await follow(context.run, context.services.takenBack)
}
