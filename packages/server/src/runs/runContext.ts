import type { DataSource } from 'typeorm'
import type { Triple, XYZ } from '@bichroma/core/color'
import { runProgress, type RunState, type Stage } from '@bichroma/core/runs'
import { quantizeSignal } from '@bichroma/core/tables'
import type { CourierDisplay, RunLive, RunReading } from '@bichroma/contract'
import { CourierGone, DeviceRefusal, type CourierHub } from '../couriers/hub'
import type { ContentStore } from '../data/contents'
import { patiently } from '../data/patiently'
import type { DisplayRow, InstrumentRow, SlotRow } from '../register/entities'
import type { Holds } from '../register/holds'
import type { Threads } from '../http/threads'
import { runEntity, stepEntity, type RunRow, type StepRow } from './entities'
import { CoverClosed, lookAtPatch } from './lookAtPatch'
import type { RunLog } from './runLog'
import type { Solver } from './solver'
import { RunFailed, RunStopped, ServerClosing } from './runErrors'
import type { Send } from './send'
import { StageSheet } from './stageSheet'

/** What the run wants of the display, so that it can be put there again after a break. */
export interface Wanted {
  slot?: number
  pipeline?: 'slot' | 'bypass'
  backlight?: number
}

/** What the display and the register held before the run touched them. */
export interface Former {
  activeSlot: number
  backlight: number
  label: string | null
  hash: string | null
  row: Omit<SlotRow, 'id'>
}

/** What every run is given. */
export interface RunServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly contents: ContentStore
  readonly solver: Solver
  readonly threads: Threads
  readonly log: RunLog
  readonly now: () => number
  readonly publish: (live: RunLive) => void
  readonly changed: (runId: number) => void
  /** Displays and instruments in use for something that is no run. */
  readonly holds: Holds
  /** A run was proved, or what it had written was taken back: whoever follows validations sees to it. */
  readonly judged: (run: RunRow) => Promise<void>
  readonly takenBack: (run: RunRow) => Promise<void>
  /** Wall time for which a run that starts waits for a courier that has just gone, ms. */
  readonly graceMs: number
  /** Wall time between two looks at what hands do at a display, ms. */
  readonly gaugeMs: number
}

/** Faults that a pair of hands can mend, so that the run waits instead of failing. */
const mendable = new Set(['data-link', 'no-instrument', 'no-display', 'content', 'device'])

const longestLog = 400

/**
 * One run as it goes. Its procedure is ordinary code; every step it takes goes through {@link step}, which stores the
 * step before taking it and its result after. Taking the run up again replays the procedure over the stored results
 * until the first step without one, puts the display back where the run wants it, and goes on from there.
 */
export class RunContext {
  private seq = 0
  private replay: StepRow[] = []
  private readings = 0
  private inStage = 0
  private tookAll: number[] = []
  private readonly sheet: StageSheet
  private patch: RunLive['patch'] = null
  /** The reading that the step at hand took, to be stored with it, and the newest that the sheet has not been told of. */
  private taken: RunReading | null = null
  private latest: RunReading | null = null
  private wake: (() => void) | null = null
  private reassert = false
  private prefix = ''
  private reason: 'stop' | 'closing' | null = null
  readonly wanted: Wanted = {}
  /** What the display held before the run, once Ready has looked. */
  former: Former | null = null
  /** Readings that the stages are expected to take and seconds that the tables are on their way, once Ready knows the display. */
  planned: Parameters<typeof runProgress>[4]
  loadSeconds = 0
  private loading: RunLive['loading'] = null
  private extraWaitMs = 0
  /** Readings that were taken again: the light did not hold still, or what was read could not be. */
  repeated = 0
  /** How long the display's light takes to follow a patch, ms; Ready measures it. */
  delayMs = 0

  constructor(
    readonly services: RunServices,
    readonly run: RunRow,
    readonly display: DisplayRow,
    readonly instrument: InstrumentRow,
    readonly workstation: { id: number; name: string },
  ) {
    this.sheet = new StageSheet(services.data, run, () => this.now())
    this.latestAt = run.startedAt
  }

  private latestAt: number

  /** UTC, ms since 1970; never before what the run has told already, though the server's clock be set back meanwhile. */
  now(): number {
    this.latestAt = Math.max(this.latestAt, this.services.now())
    return this.latestAt
  }

  /** Reads the stored steps, so that the procedure replays them. */
  async load(): Promise<void> {
    this.replay = await this.services.data
      .getRepository(stepEntity)
      .find({ where: { runId: this.run.id }, order: { seq: 'ASC' } })
    await this.sheet.load()
    this.reassert = this.replay.some((s) => s.result)
    for (const { askedAt, doneAt } of this.replay) this.latestAt = Math.max(this.latestAt, askedAt, doneAt ?? 0)
  }

  get facts(): CourierDisplay {
    const found = this.services.hub.displayOf(this.workstation.id, this.display.serial)
    if (!found) throw new CourierGone()
    return found
  }

  /** The next step's result is stored already: the run is being taken up again. */
  get replaying(): boolean {
    return Boolean(this.replay[this.seq]?.result)
  }

  // — stopping and waiting —

  stop(reason: 'stop' | 'closing'): void {
    if (this.reason === null || reason === 'closing') this.reason = reason
    this.wake?.()
  }

  /** A person says that what was missing is mended. */
  goOn(): void {
    this.wake?.()
  }

  get waiting(): boolean {
    return this.wake !== null
  }

  private checkStop() {
    if (this.reason === 'closing') throw new ServerClosing()
    if (this.reason === 'stop') throw new RunStopped()
  }

  /** From here on a request to stop no longer counts: the display is being put back. Stored before it is begun. */
  async beginRestoring(prefix: string): Promise<void> {
    this.prefix = prefix
    if (this.reason === 'stop') this.reason = null
    await this.save({ restoring: true })
  }

  /** A courier that has just gone is given a moment to come back, before the run judges without it. */
  async courierSoon(): Promise<void> {
    const { hub, graceMs } = this.services
    if (this.replaying || !hub.expected(this.workstation.id)) return
    const giveUp = new AbortController()
    const timer = setTimeout(() => giveUp.abort(), graceMs)
    const woken = new Promise<void>((resolve) => (this.wake = resolve))
    await Promise.race([woken, hub.arrival(this.workstation.id, giveUp.signal)])
    clearTimeout(timer)
    giveUp.abort()
    this.wake = null
    this.checkStop()
  }

  private async wait(sentence: string, until?: (signal: AbortSignal) => Promise<void>): Promise<void> {
    const giveUp = new AbortController()
    const woken = new Promise<void>((resolve) => (this.wake = resolve))
    await this.setState('waiting', this.prefix + sentence)
    await Promise.race([woken, ...(until ? [until(giveUp.signal)] : [])])
    giveUp.abort()
    this.wake = null
    this.checkStop()
    await this.setState('running', this.prefix || null)
  }

  /** Conditions that somebody has looked at, and who and when. */
  readonly confirmed = new Map<string, { by: string; at: number }>()

  /** Takes note that somebody has looked at conditions; a run that waits for no more than them goes on by resume. */
  async confirm(ids: readonly string[], by: string): Promise<void> {
    for (const id of ids) this.confirmed.set(id, { by, at: this.now() })
  }

  /** Lets hands work at the display for a moment while the sentence says at what; pressing “Go on” cuts it short. */
  async letHandsWork(sentence: string): Promise<void> {
    this.checkStop()
    // What hands did before the server died need not be waited for again.
    if (this.replaying) return
    const woken = new Promise<void>((resolve) => (this.wake = resolve))
    if (this.run.state !== 'waiting' || this.run.message !== sentence) await this.setState('waiting', sentence)
    let timer: NodeJS.Timeout | undefined
    const passed = new Promise<void>((resolve) => (timer = setTimeout(resolve, this.services.gaugeMs)))
    await Promise.race([woken, passed])
    clearTimeout(timer)
    this.wake = null
    this.checkStop()
  }

  /** The hands are done. */
  async handsDone(): Promise<void> {
    if (this.run.state === 'waiting') await this.setState('running', null)
  }

  /** Something else was shown meanwhile: the display is put to what the run wants before it is spoken to again. */
  putBackFirst(): void {
    this.reassert = true
  }

  /** Waits until somebody presses “Go on”; the sentence says what they are to do before. */
  waitForHands(sentence: string): Promise<void> {
    return this.wait(sentence)
  }

  /** Waits for something that only hands can do; the sentence says what. Once they said so, a replay goes past it. */
  async askHands(key: string, sentence: string): Promise<void> {
    await this.step(key, async () => {
      await this.wait(sentence)
      return null
    })
  }

  private async setState(state: RunState, message: string | null) {
    await this.save({ state, message })
    this.publish()
    this.services.changed(this.run.id)
  }

  // — talking to the devices —

  private tookMs = 0

  private readonly send: Send = async (name, args, onProgress) => {
    const full = { serial: this.display.serial, ...args } as never
    const { value, tookMs } = await this.services.hub.send(this.workstation.id, name, full, onProgress)
    this.tookMs += tookMs
    return value as never
  }

  /** Does something with the devices; when it fails for want of a courier or of hands, waits and does it again. */
  async attempt<T>(act: (send: Send) => Promise<T>): Promise<T> {
    for (;;) {
      this.checkStop()
      try {
        if (this.reassert) {
          await this.apply(this.wanted)
          this.reassert = false
        }
        return await act(this.send)
      } catch (error) {
        // Whoever asked the run to stop, or the server to close, does not want it to wait for anybody.
        this.checkStop()
        if (error instanceof CourierGone)
          await this.wait(
            `The courier on ${this.workstation.name} is away. Start it again; the run goes on by itself.`,
            (signal) => this.services.hub.arrival(this.workstation.id, signal),
          )
        else if (error instanceof CoverClosed)
          await this.wait('The instrument’s cover is closed. Open it, hang it flat on the centre, and press “Go on”.')
        else if (error instanceof DeviceRefusal && mendable.has(error.kind))
          await this.wait(`${error.sentence} Then press “Go on”.`)
        else if (error instanceof DeviceRefusal) throw new RunFailed(error.sentence)
        else throw error
        this.reassert = true
      }
    }
  }

  private async apply({ slot, pipeline, backlight }: Wanted) {
    if (slot !== undefined) await this.send('display.activateSlot', { slot })
    if (pipeline !== undefined || backlight !== undefined)
      await this.send('display.setControls', { pipeline, backlight })
  }

  /** One step: stored before it is taken, its result after; on replay only the result. Patient unless told otherwise. */
  async step<T>(key: string, act: (send: Send) => Promise<T>, patient = true): Promise<T> {
    this.checkStop()
    const seq = this.seq++
    const stored = this.replay[seq]
    if (stored && stored.key !== key)
      throw new RunFailed(
        'The stored steps of this run do not fit this version of Bichroma. Stop it and start a new one.',
      )
    if (stored?.result) {
      const { value, tookMs } = stored.result.value as { value: T; tookMs: number }
      this.sheet.account(tookMs)
      return value
    }
    const { log } = this.services
    if (!stored) await patiently(() => log.asked(this.run.id, seq, key, this.now()))
    this.tookMs = 0
    this.taken = null
    const value = patient ? await this.attempt(act) : await act(this.send)
    const tookMs = this.tookMs
    await patiently(() => log.taken(this.run.id, seq, { value: { value, tookMs } }, this.now(), this.taken))
    this.latest = this.taken
    this.sheet.account(tookMs)
    return value
  }

  /** Sets the display and remembers what is wanted of it. */
  async want(key: string, change: Wanted): Promise<void> {
    Object.assign(this.wanted, change)
    await this.step(key, async () => {
      await this.apply(change)
      return null
    })
  }

  /**
   * Shows a patch (0–1, rounded to the display's signal) and reads it: XYZ in cd/m². The reading is in the store before
   * anybody hears of it. `deltaEOf` says how far it is from the aim, where that has a meaning; `area` is the share of the
   * screen that the patch fills.
   */
  async read(
    name: string,
    rgb: Triple,
    deltaEOf?: (xyz: XYZ) => number,
    area?: number,
  ): Promise<{ rgb: Triple; xyz: XYZ; tookMs: number }> {
    const seq = this.readings++
    const stage = this.run.stage
    const replayed = this.replaying
    const { value, tookMs, shown, looks } = await this.step(`read ${name}`, async (send) => {
      const bits = this.facts.signalBits
      const shown = quantizeSignal(rgb, bits)
      const before = this.tookMs
      this.patch = { name, rgb: shown }
      this.publish()
      const { instrument, delayMs } = this
      const { xyz, looks } = await lookAtPatch(send, shown, {
        instrument,
        correction: this.run.correction,
        waitMs: delayMs,
        area,
      })
      const took = this.tookMs - before
      this.taken = this.record(seq, stage, name, shown, xyz, took, deltaEOf)
      return { value: xyz, tookMs: took, shown, looks }
    })
    // What is waited for on purpose says nothing of the pace of readings.
    this.tookAll.push(Math.max(0, tookMs - this.extraWaitMs))
    this.inStage++
    // Steps of an older version do not tell.
    this.repeated += (looks ?? 1) - 1
    if (!replayed) this.publish()
    return { rgb: shown, xyz: value, tookMs }
  }

  /** Reads a patch after a wait of its own (ms): XYZ in cd/m² and how long it took at real pace. */
  async lookAfter(name: string, rgb: Triple, waitMs: number): Promise<{ xyz: XYZ; tookMs: number }> {
    const delayMs = this.delayMs
    this.delayMs = waitMs
    this.extraWaitMs = Math.max(0, waitMs - delayMs)
    try {
      const { xyz, tookMs } = await this.read(name, rgb)
      return { xyz, tookMs }
    } finally {
      this.delayMs = delayMs
      this.extraWaitMs = 0
    }
  }

  private record(
    seq: number,
    stage: Stage,
    name: string,
    rgb: Triple,
    xyz: XYZ,
    tookMs: number,
    deltaEOf?: (xyz: XYZ) => number,
  ): RunReading {
    return { seq, stage, name, rgb, xyz, tookMs, at: this.now(), deltaE: deltaEOf ? deltaEOf(xyz) : null }
  }

  // — the run sheet —

  /** Begins a stage: stored, then told. */
  async beginStage(stage: Stage): Promise<void> {
    this.checkStop()
    this.inStage = 0
    await this.sheet.begin(stage)
    this.publish()
  }

  /** Puts evidence on the current stage, in place of what stood there. */
  async note(change: Parameters<StageSheet['note']>[0]): Promise<void> {
    await this.sheet.note(change)
    this.publish()
  }

  /** Adds a sentence to the evidence of the current stage, for good. */
  async remark(sentence: string): Promise<void> {
    await this.sheet.remark(sentence)
    this.publish()
  }

  /** Tells how much of the tables is on the display, 0–1; null once they are. */
  showLoading(done: number | null): void {
    this.loading = done === null ? null : { done, secondsLeft: (1 - done) * this.loadSeconds }
    this.publish()
  }

  /** Changes stored fields of the run. */
  async save(change: Partial<RunRow>): Promise<void> {
    Object.assign(this.run, change)
    await patiently(() => this.services.data.getRepository(runEntity).update({ id: this.run.id }, change as never))
  }

  /** Durations of the readings so far and of everything so far, at real pace, ms. */
  get durations(): readonly number[] {
    return this.tookAll
  }
  get elapsedMs(): number {
    return this.sheet.stages.reduce((sum, s) => sum + s.tookMs, 0)
  }

  live(): RunLive {
    const { id, state, stage, message, restoring } = this.run
    return {
      id,
      state: state as RunState,
      restoring,
      stage,
      stages: this.sheet.stages,
      progress:
        state === 'done'
          ? { done: 1, secondsLeft: 0, basis: this.tookAll.length }
          : runProgress(
              this.run.kind,
              stage,
              this.inStage,
              this.tookAll.slice(-longestLog),
              this.planned,
              this.loadSeconds || undefined,
              this.loading?.done,
            ),
      patch: this.patch,
      message,
      latest: this.latest,
      loading: this.loading,
    }
  }

  publish(): void {
    this.services.publish(this.live())
    this.latest = null
  }
}
