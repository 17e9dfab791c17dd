import { In, MoreThan, Not, type DataSource } from 'typeorm'
import { heldStates, puttingBack, runKindNames, runKinds, stageLabels, type RunState } from '@bichroma/core/runs'
import type { RunLive, StartRun } from '@bichroma/contract'
import { insertion } from '../../data/atomically'
import { storeFault } from '../../data/storeFault'
import { logFault } from '../../data/log'
import { Refusal } from '../../http/problem'
import { displayEntity, instrumentEntity, slotEntity, workstationEntity } from '../../register/entities'
import { readingEntity, runEntity, runName, type RunRow } from '../entities'
import { isHeld } from '../heldByRuns'
import { procedure } from './procedure'
import { RunQueue } from './queue'
import { RunContext } from '../context/runContext'
import type { RunServices } from '../context/runServices'
import { RunStopped, ServerClosing } from '../context/runErrors'
import { UnstoredRuns } from './unstoredRuns'
import { endRun, finishRun, follow, sentenceOf, takeBack } from './endings'
import { asItReads } from './asItReads'
import { newRun } from './newRun'

/** Sentences of the store's own guards, for two people pressing at once. */
const guardSentences: readonly (readonly [string, string])[] = [
  ['run.display_id', 'This display is in a run already. Wait for it, or stop it first.'],
  ['run.instrument_id', 'This instrument is in a run already. Wait for it, or choose another.'],
]

const refuseHeld = (error: Error): never => {
  const guard = guardSentences.find(([column]) => error.message.includes(column))
  throw guard ? new Refusal('conflict', guard[1]) : error
}

/** Who asks for it. */
type Starter = { readonly id: number; readonly name: string }

/** Starts, stops, resumes runs, and takes stock of them after a restart. */
export class RunEngine {
  private readonly active = new Map<number, { context: RunContext; ended: Promise<void> }>()
  private readonly queue: RunQueue
  private readonly unstored: UnstoredRuns

  constructor(private readonly services: RunServices) {
    this.unstored = new UnstoredRuns(services.data, services.changed)
    this.queue = new RunQueue(services, (run) => this.beginQueued(run), services.changed)
  }

  /** Something changed that a queued run may have waited for. */
  lookAtQueue(): void {
    void this.queue.look()
  }

  private get data(): DataSource {
    return this.services.data
  }

  private get runs() {
    return this.data.getRepository(runEntity)
  }

  /** After a restart: whatever was going on is interrupted, and says so. */
  async takeStock(): Promise<void> {
    for (const run of await this.runs.findBy({ state: isHeld() })) {
      if (run.state === 'interrupted') continue
      const readings = await this.data.getRepository(readingEntity).countBy({ runId: run.id })
      await this.runs.update(
        { id: run.id },
        {
          state: 'interrupted',
          asks: null,
          message: run.restoring
            ? `${puttingBack} was cut short when the server stopped. Stop the run once more to finish it.`
            : `The server stopped during ${stageLabels[run.stage]}. ${readings === 1 ? 'The one reading is' : `All ${readings} readings are`} kept. Resume the run, or stop it to put the slot back.`,
        },
      )
    }
  }

  /** A stored run as it stands: one whose end could not be stored yet stands otherwise than its row says. */
  asItStands<T extends Pick<RunRow, 'id' | 'state' | 'message'>>(run: T): T {
    return this.unstored.asItStands(run)
  }

  /** A run broke off for want of the store, or of anything else that nobody foresaw: it says so, and can be taken up again. */
  private async interrupt(run: RunRow, error: unknown): Promise<void> {
    logFault(`Run ${run.id}, ${run.stage}`, error)
    const why = storeFault(error)?.sentence ?? 'A fault of Bichroma broke it off; the server’s log holds the details.'
    await this.unstored.keep(run, {
      state: 'interrupted',
      message: run.restoring
        ? `${puttingBack} was cut short. ${why} Then stop the run once more to finish it.`
        : `The run was interrupted during ${stageLabels[run.stage]}. ${why} What was read is kept. Then resume the run, or stop it to put the slot back.`,
    })
  }

  /**
   * Starts a run, or puts it into the queue; the promise resolves once it is stored. Throws Refusal with what stands in
   * the way.
   */
  async start(input: StartRun, account: Starter): Promise<number> {
    const row = await newRun(this.services, input, account.id)
    const { begins, instrumentId, displayId } = row
    const name = await this.nameOf(row)
    const insert = async () =>
      this.services.ledger.change(
        account,
        (take) => take(insertion(this.data.manager, runEntity, row)),
        (id) => ({
          act: 'started',
          thing: 'run',
          id,
          name,
          ...(runKinds[row.kind].writes && {
            changes: [{ field: `slot ${row.slot}`, ...(row.overwrote && { from: row.overwrote }), to: row.label }],
          }),
          evidence: { display: displayId, begins },
        }),
      )
    const holding = { displayId, instrumentIds: [instrumentId] }
    const id = await (begins === 'now' ? this.services.holds.during(holding, insert) : insert()).catch(refuseHeld)
    if (begins === 'now') await this.launch({ ...row, id })
    else {
      this.services.changed(id)
      void this.queue.look()
    }
    return id
  }

  /** Begins a run whose turn has come, with the instrument that is there and its correction. */
  private async beginQueued(run: RunRow): Promise<void> {
    const { data } = this.services
    try {
      const display = await data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
      const instrument = await data.getRepository(instrumentEntity).findOneByOrFail({ id: run.instrumentId })
      const reads = await asItReads(this.services, display, instrument, run.kind)
      await this.runs.update({ id: run.id }, reads as never)
      await this.launch({ ...run, ...reads })
    } catch (error) {
      await this.interrupt(run, error)
    }
  }

  private async contextOf(run: RunRow): Promise<RunContext> {
    const display = await this.data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
    const workstation = await this.data.getRepository(workstationEntity).findOneByOrFail({ id: display.workstationId })
    const instrument = await this.data.getRepository(instrumentEntity).findOneByOrFail({ id: run.instrumentId })
    const context = new RunContext(this.services, run, display, instrument, workstation)
    await context.load()
    return context
  }

  /** Takes a stored run up: from here on it ends in a state that says what happened, whatever happens. */
  private async launch(run: RunRow, work: (context: RunContext) => Promise<void> = (c) => this.go(c)): Promise<void> {
    let context: RunContext
    try {
      context = await this.contextOf(run)
    } catch (error) {
      await this.interrupt(run, error)
      this.services.changed(run.id)
      return
    }
    const ended = work(context)
      .catch((error: unknown) => (error instanceof ServerClosing ? undefined : this.interrupt(context.run, error)))
      .finally(() => {
        this.active.delete(run.id)
        context.shown.publish()
        this.services.changed(run.id)
        void this.queue.look()
      })
    this.active.set(run.id, { context, ended })
    this.services.changed(run.id)
  }

  private async go(context: RunContext): Promise<void> {
    try {
      await finishRun(context, await procedure(context))
    } catch (error) {
      // A run that cannot be stored cannot be ended either: it is interrupted, and taken up again.
      if (error instanceof ServerClosing || storeFault(error)) throw error
      if (error instanceof RunStopped) return endRun(context, 'stopped', 'Stopped.')
      return endRun(context, 'failed', sentenceOf(error, context.run, context.workstation.name))
    }
    await follow(context.run, this.services.judged)
  }

  private async nameOf(run: Pick<RunRow, 'kind' | 'slot' | 'label' | 'displayId'>): Promise<string> {
    const { name } = await this.data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
    return runName(run, name)
  }

  private async find(id: number): Promise<RunRow> {
    const run = await this.runs.findOneBy({ id })
    if (!run || run.state === 'importing') throw new Refusal('not-found', `There is no run ${id}.`)
    return this.asItStands(run)
  }

  /** Stops a run and puts the slot back. `letGo`: do not wait for a display that is away. */
  async stop(id: number, letGo: boolean, account: Starter): Promise<void> {
    const run = await this.find(id)
    const name = await this.nameOf(run)
    const note = () =>
      this.services.ledger.note(account, {
        act: 'stopped',
        thing: 'run',
        id,
        name,
        evidence: { display: run.displayId, state: run.state },
        ...(letGo && { why: 'let go of the display' }),
      })
    if (run.state === 'queued') {
      const change = {
        state: 'stopped',
        endedAt: Math.max(run.startedAt, this.services.now()),
        message: 'Taken out of the queue.',
      } as const
      const { affected } = await this.runs.update({ id, state: 'queued' }, change)
      // Its turn may have come in this very moment; then it is stopped as one that runs.
      if (affected === 0) return this.stop(id, letGo, account)
      note()
      return this.services.changed(id)
    }
    if (!heldStates.includes(run.state as RunState)) throw new Refusal('conflict', 'This run has ended already.')
    const active = this.active.get(id)
    if (active) {
      if (active.context.run.restoring && !letGo)
        throw new Refusal('conflict', 'The run is stopping: it waits for the display, to put its slot back.')
      note()
      active.context.waits.stop('stop')
      return
    }
    // A proved run whose tables were being taken back stays proved.
    const by = run.restoring ? run.takenBackBy : null
    note()
    if (letGo) {
      const change = {
        state: by === null ? ('stopped' as const) : ('done' as const),
        endedAt: by === null ? Math.max(run.startedAt, this.services.now()) : run.endedAt,
        message: by === null ? 'Stopped. The slot was not put back: you let go of the display.' : null,
        restoring: false,
        takenBackBy: null,
      }
      await this.unstored.takeUp(run, change)
      // Half of what was to be put back may be in the slot.
      if (run.restoring)
        await this.data
          .getRepository(slotEntity)
          .update({ displayId: run.displayId, number: run.slot }, { unsure: true })
      this.services.changed(id)
      return
    }
    await this.unstored.takeUp(run, { state: 'running', message: run.message })
    await this.launch(run, (context) => (by === null ? endRun(context, 'stopped', 'Stopped.') : takeBack(context, by)))
  }

  /** Goes on with a run that waits for hands or was interrupted; `confirm`: conditions that the account has looked at. */
  async resume(id: number, confirm: readonly string[], account: Starter): Promise<void> {
    const run = await this.find(id)
    const name = await this.nameOf(run)
    const note = () =>
      this.services.ledger.note(account, {
        act: confirm.length ? 'confirmed' : 'resumed',
        thing: 'run',
        id,
        name,
        evidence: {
          display: run.displayId,
          stage: run.stage,
          ...(confirm.length && { conditions: confirm.join(', ') }),
        },
      })
    const active = this.active.get(id)
    if (active && confirm.length) active.context.confirm(confirm, account.name)
    if (active?.context.waits.waiting) {
      note()
      return active.context.waits.goOn()
    }
    if (run.restoring)
      throw new Refusal('conflict', 'This run was being stopped. Stop it once more to finish putting the display back.')
    if (run.state !== 'interrupted' || active) throw new Refusal('conflict', 'This run does not wait for anything.')
    note()
    await this.unstored.takeUp(run, { state: 'running', message: null })
    await this.launch(run)
  }

  /**
   * Puts back what a slot held before a finished run wrote it; the run keeps its judgement and says so. Throws Refusal
   * when a later run wrote the slot, or the display is busy.
   */
  async putBack(id: number, account: Starter): Promise<void> {
    const run = await this.find(id)
    const { writes } = runKinds[run.kind]
    if (run.state !== 'done' || !writes)
      throw new Refusal(
        'conflict',
        'Only what a full run or a refresh that reached its end has overwritten can be put back.',
      )
    if (run.takenBackAt !== null)
      throw new Refusal('conflict', 'What this run had overwritten has been put back already.')
    const kinds = runKindNames.filter((kind) => runKinds[kind].writes)
    const since = {
      displayId: run.displayId,
      slot: run.slot,
      kind: In(kinds),
      id: MoreThan(id),
      state: Not('queued' as const),
    }
    if (await this.runs.existsBy(since))
      throw new Refusal(
        'conflict',
        `Slot ${run.slot} has been written since this run. Only the newest can be taken back.`,
      )
    const by = account.name
    const name = await this.nameOf(run)
    const begun = { state: 'running' as const, message: `${puttingBack}.`, restoring: true, takenBackBy: by }
    const holding = { displayId: run.displayId, instrumentIds: [run.instrumentId] }
    const begin = async () =>
      this.services.ledger.change(
        account,
        (take) => take(this.data.createQueryBuilder().update(runEntity).set(begun).where({ id })),
        () => ({
          act: 'put back',
          thing: 'run',
          id,
          name,
          changes: [{ field: `slot ${run.slot}`, from: run.label, ...(run.overwrote && { to: run.overwrote }) }],
          evidence: { display: run.displayId },
        }),
      )
    await this.services.holds.during(holding, begin).catch(refuseHeld)
    await this.launch({ ...run, ...begun }, (context) => takeBack(context, by))
  }

  /** The live part of a run that is going on, or null. */
  live(id: number): RunLive | null {
    return this.active.get(id)?.context.shown.live() ?? null
  }

  /** Resolves when a run has come to its end in this process. */
  async ended(id: number): Promise<void> {
    await this.active.get(id)?.ended
  }

  /** Lets go of every run as it stands; the store keeps them as they are. */
  async close(): Promise<void> {
    this.unstored.close()
    await this.queue.close()
    const all = [...this.active.values()]
    for (const { context } of all) context.waits.stop('closing')
    await Promise.all(all.map(({ ended }) => ended))
  }
}
