import { In, Not, type DataSource } from 'typeorm'
import { heldStates, puttingBack, stageLabels, whyNotShapable } from '@bichroma/core'
import type { RunLive, StartRun } from '@bichroma/contract'
import { aimEntity, limitsEntity } from '../aims/entities'
import { CourierGone, DeviceRefusal } from '../couriers/hub'
import { insertRow } from '../data/insertRow'
import { Refusal } from '../http/problem'
import { chooseCorrection } from '../register/corrections'
import { displayEntity, instrumentEntity, slotEntity, workstationEntity, type DisplayRow } from '../register/entities'
import { readingEntity, runEntity, type RunRow } from './entities'
import { procedure } from './procedure'
import { restore } from './restore'
import { RunContext, RunFailed, RunStopped, ServerClosing, type RunServices } from './runContext'

/** Sentences of the store's own guards, for two people pressing at once. */
const guardSentences: readonly (readonly [string, string])[] = [
  ['run.display_id', 'This display is in a run already. Wait for it, or stop it first.'],
  ['run.instrument_id', 'This instrument is in a run already. Wait for it, or choose another.'],
]

/** Why a run failed, for people; what nobody foresaw goes to the log. */
function sentenceOf(error: unknown, workstation: string): string {
  if (error instanceof RunFailed) return error.message
  if (error instanceof DeviceRefusal) return error.sentence
  if (error instanceof CourierGone)
    return `The courier on ${workstation} went away. Start it again and start the run anew.`
  console.error(error)
  return 'A fault of Bichroma ended this run; the server’s log holds the details.'
}

/** Starts, stops, resumes runs, and takes stock of them after a restart. */
export class RunEngine {
  private readonly active = new Map<number, { context: RunContext; ended: Promise<void> }>()

  constructor(
    private readonly services: RunServices,
    private readonly nameOfAccount: (id: number) => Promise<string>,
  ) {}

  private get data(): DataSource {
    return this.services.data
  }

  private get runs() {
    return this.data.getRepository(runEntity)
  }

  /** After a restart: whatever was going on is interrupted, and says so. */
  async takeStock(): Promise<void> {
    for (const run of await this.runs.findBy({ state: In(['running', 'waiting']) })) {
      const readings = await this.data.getRepository(readingEntity).countBy({ runId: run.id })
      await this.runs.update(
        { id: run.id },
        {
          state: 'interrupted',
          message: run.message?.startsWith(puttingBack)
            ? `${puttingBack} was cut short when the server stopped. Stop the run once more to finish it.`
            : `The server stopped during ${stageLabels[run.stage]}. ${readings === 1 ? 'The one reading is' : `All ${readings} readings are`} kept. Resume the run, or stop it to put the slot back.`,
        },
      )
    }
  }

  /** Starts a run; the promise resolves once it is stored. Throws Refusal with what stands in the way. */
  async start(input: StartRun, accountId: number): Promise<number> {
    const display = await this.data.getRepository(displayEntity).findOneBy({ id: input.displayId })
    if (!display) throw new Refusal('not-found', 'This display is not in the register.', 'displayId')
    const slot = await this.data.getRepository(slotEntity).findOneBy({ displayId: display.id, number: input.slot })
    if (!slot)
      throw new Refusal(
        'invalid-input',
        `${display.name} has ${display.slots} slots; there is no slot ${input.slot}.`,
        'slot',
      )
    const busy = await this.runs.findOneBy({ displayId: display.id, state: In([...heldStates]) })
    if (busy)
      throw new Refusal('conflict', `${display.name} is in a run already. Wait for it, or stop it first.`, 'displayId')

    const wanted = await this.purpose(input, slot, display)
    const instrument = await this.pickInstrument(input, display.workstationId)
    const limits = await this.data.getRepository(limitsEntity).findOneByOrFail({ id: display.limitsId })
    const row: Omit<RunRow, 'id'> = {
      displayId: display.id,
      slot: input.slot,
      kind: input.kind,
      sampling: input.sampling ?? 'usual',
      correction: await chooseCorrection(this.data, display, instrument, this.services.hub),
      ...wanted,
      limits: limits.limits,
      instrumentId: instrument.id,
      accountId,
      state: 'running',
      stage: 'ready',
      message: null,
      startedAt: this.services.now(),
      endedAt: null,
      overwrote: input.kind === 'full' ? slot.label : null,
      baseline: null,
      metrics: null,
      judgement: null,
      summary: null,
      profileHash: null,
      profileName: null,
      reportHash: null,
    }
    const id = await insertRow(this.data.manager, runEntity, row).catch((error: Error) => {
      const guard = guardSentences.find(([column]) => error.message.includes(column))
      throw guard ? new Refusal('conflict', guard[1]) : error
    })
    await this.launch({ ...row, id })
    return id
  }

  /** The label and aim of a run: the aim chosen for a full run, the slot's own for a check run. */
  private async purpose(
    input: StartRun,
    slot: { label: string | null; unsure: boolean; aim: RunRow['aim'] | null; resolvedAim: RunRow['resolvedAim'] },
    display: DisplayRow,
  ) {
    if (input.kind === 'check') {
      if (slot.unsure)
        throw new Refusal(
          'conflict',
          `Nobody knows what slot ${input.slot} holds: a write was cut short. Start a full run into it.`,
          'slot',
        )
      if (!slot.label || !slot.aim || !slot.resolvedAim)
        throw new Refusal(
          'conflict',
          `Slot ${input.slot} holds no calibration that could be checked. Start a full run into it.`,
          'slot',
        )
      return { label: slot.label, aim: slot.aim, resolvedAim: slot.resolvedAim }
    }
    if (input.aimId === undefined)
      throw new Refusal('invalid-input', '“aimId” is missing; a full run needs an aim.', 'aimId')
    const aim = await this.data.getRepository(aimEntity).findOneBy({ id: input.aimId })
    if (!aim) throw new Refusal('not-found', 'This aim is not there any more. Choose another.', 'aimId')
    const facts = this.services.hub.helloOf(display.workstationId)?.displays.find((d) => d.serial === display.serial)
    const unshapable = whyNotShapable(aim.aim, facts?.gamutTargets ?? 'any')
    if (unshapable) throw new Refusal('conflict', unshapable, 'aimId')
    if ((input.overwrites ?? '') !== (slot.label ?? ''))
      throw new Refusal(
        'conflict',
        `Slot ${input.slot} now holds ${slot.label ? `“${slot.label}”` : 'nothing'}, not what you were told. Look at it again before you overwrite it.`,
        'overwrites',
      )
    return { label: aim.name, aim: aim.aim, resolvedAim: null }
  }

  private async pickInstrument(input: StartRun, workstationId: number) {
    const repository = this.data.getRepository(instrumentEntity)
    const held = (await this.runs.findBy({ state: In([...heldStates]) })).map((r) => r.instrumentId)
    if (input.instrumentId !== undefined) {
      const chosen = await repository.findOneBy({ id: input.instrumentId })
      if (!chosen) throw new Refusal('not-found', 'This instrument is not in the register.', 'instrumentId')
      if (held.includes(chosen.id))
        throw new Refusal(
          'conflict',
          `${chosen.model} ${chosen.serial} is in a run already. Wait for it, or choose another.`,
          'instrumentId',
        )
      return chosen
    }
    const here = this.services.hub.helloOf(workstationId)?.instruments.map((i) => i.serial) ?? []
    const plugged = here.length ? await repository.findBy({ serial: In(here) }) : []
    const free = plugged.find((i) => !held.includes(i.id))
    if (free) return free
    if (plugged.length)
      throw new Refusal(
        'conflict',
        `${plugged[0].model} ${plugged[0].serial} is in a run already. Wait for it, or plug in another.`,
        'instrumentId',
      )
    // Nothing is plugged in there: Ready will say so, with any instrument that is free to be carried.
    const any = await repository.findOne({ where: held.length ? { id: Not(In(held)) } : {}, order: { id: 'ASC' } })
    if (!any)
      throw new Refusal(
        'conflict',
        'No instrument is free. Plug one into a workstation, or wait for a run to end.',
        'instrumentId',
      )
    return any
  }

  private async contextOf(run: RunRow): Promise<RunContext> {
    const display = await this.data.getRepository(displayEntity).findOneByOrFail({ id: run.displayId })
    const workstation = await this.data.getRepository(workstationEntity).findOneByOrFail({ id: display.workstationId })
    const instrument = await this.data.getRepository(instrumentEntity).findOneByOrFail({ id: run.instrumentId })
    const context = new RunContext(this.services, run, display, instrument, workstation)
    await context.load()
    return context
  }

  private async launch(run: RunRow, work: (context: RunContext) => Promise<void> = (c) => this.go(c)): Promise<void> {
    const context = await this.contextOf(run)
    const ended = work(context)
      .catch((error: unknown) => {
        if (!(error instanceof ServerClosing)) console.error(error)
      })
      .finally(() => {
        this.active.delete(run.id)
        context.publish()
        this.services.changed()
      })
    this.active.set(run.id, { context, ended })
    this.services.changed()
  }

  private async go(context: RunContext): Promise<void> {
    try {
      await procedure(context, await this.nameOfAccount(context.run.accountId))
      await context.save({ state: 'done', endedAt: this.services.now(), message: null })
    } catch (error) {
      if (error instanceof ServerClosing) throw error
      if (error instanceof RunStopped) return this.end(context, 'stopped', 'Stopped.')
      await this.end(context, 'failed', sentenceOf(error, context.workstation.name))
    }
  }

  private async end(context: RunContext, state: 'failed' | 'stopped', sentence: string): Promise<void> {
    // The stage that broke keeps the time that it took.
    await context.note({})
    context.beginRestoring(`${puttingBack}. `)
    const left = await restore(context).catch((error: unknown) => {
      if (error instanceof ServerClosing) throw error
      if (error instanceof RunStopped) return 'The slot was not put back: you let go of the display while it was away.'
      return `The display could not be put back: ${error instanceof RunFailed ? error.message : 'see the server’s log.'}`
    })
    await context.save({ state, endedAt: this.services.now(), message: `${sentence} ${left}` })
  }

  private async find(id: number): Promise<RunRow> {
    const run = await this.runs.findOneBy({ id })
    if (!run) throw new Refusal('not-found', `There is no run ${id}.`)
    return run
  }

  /** Stops a run and puts the slot back. `letGo`: do not wait for a display that is away. */
  async stop(id: number, letGo: boolean): Promise<void> {
    const run = await this.find(id)
    if (!heldStates.includes(run.state)) throw new Refusal('conflict', 'This run has ended already.')
    const active = this.active.get(id)
    if (active) {
      if (run.message?.startsWith(puttingBack) && !letGo)
        throw new Refusal('conflict', 'The run is stopping: it waits for the display, to put its slot back.')
      active.context.stop('stop')
      return
    }
    if (letGo) {
      await this.runs.update(
        { id },
        {
          state: 'stopped',
          endedAt: this.services.now(),
          message: 'Stopped. The slot was not put back: you let go of the display.',
        },
      )
      this.services.changed()
      return
    }
    await this.runs.update({ id }, { state: 'running' })
    await this.launch({ ...run, state: 'running' }, (context) => this.end(context, 'stopped', 'Stopped.'))
  }

  /** Goes on with a run that waits for hands or was interrupted. */
  async resume(id: number): Promise<void> {
    const run = await this.find(id)
    const active = this.active.get(id)
    if (active?.context.waiting) return active.context.goOn()
    if (run.message?.startsWith(puttingBack))
      throw new Refusal('conflict', 'This run was being stopped. Stop it once more to finish putting the display back.')
    if (run.state !== 'interrupted' || active) throw new Refusal('conflict', 'This run does not wait for anything.')
    await this.runs.update({ id }, { state: 'running', message: null })
    await this.launch({ ...run, state: 'running', message: null })
  }

  /** The live part of a run that is going on, or null. */
  live(id: number): RunLive | null {
    return this.active.get(id)?.context.live() ?? null
  }

  /** Resolves when a run has come to its end in this process. */
  async ended(id: number): Promise<void> {
    await this.active.get(id)?.ended
  }

  /** Lets go of every run as it stands; the store keeps them as they are. */
  async close(): Promise<void> {
    const all = [...this.active.values()]
    for (const { context } of all) context.stop('closing')
    await Promise.all(all.map(({ ended }) => ended))
  }
}
