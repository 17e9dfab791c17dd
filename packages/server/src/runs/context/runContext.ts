import type { LightSeen } from '@bichroma/core/peers'
import type { Ask, Stage } from '@bichroma/core/runs'
import { patiently } from '../../data/patiently'
import type { DisplayRow, InstrumentRow, SlotRow } from '../../register/entities'
import { runEntity, type RunRow } from '../entities'
import { DisplayLink, type Wanted } from './displayLink'
import { Readings } from './readings'
import type { RunServices } from './runServices'
import { ShownRun } from './shownRun'
import { StageSheet } from './stageSheet'
import { Steps } from './steps'
import { Waits } from './waits'

/** What the display and the register held before the run touched them. */
export interface Former {
  activeSlot: number
  backlight: number
  label: string | null
  hash: string | null
  row: Omit<SlotRow, 'id'>
}

/**
 * One run as it goes. Its procedure is ordinary code; every step it takes goes through {@link steps}, so that taking the
 * run up again replays what is stored, puts the display back where the run wants it, and goes on from there.
 */
export class RunContext {
  readonly waits: Waits
  readonly link: DisplayLink
  readonly sheet: StageSheet
  readonly steps: Steps
  readonly shown: ShownRun
  readonly readings: Readings
  /** What the display held before the run, once Ready has looked. */
  former: Former | null = null
  /** What Baseline, and Level after it, saw of the raw light. */
  light: LightSeen | null = null
  /** The panel is not of the kind that it is registered as. */
  panelContradicted = false
  /** Conditions that somebody has looked at, and who and when. */
  readonly confirmed = new Map<string, { by: string; at: number }>()
  private latestAt: number

  constructor(
    readonly services: RunServices,
    readonly run: RunRow,
    readonly display: DisplayRow,
    readonly instrument: InstrumentRow,
    readonly workstation: { id: number; name: string },
  ) {
    const { data, hub, log, publish, changed, gaugeMs } = services
    const now = () => this.now()
    this.latestAt = run.startedAt
    const setState = async (change: Pick<RunRow, 'state' | 'message' | 'asks'>) => {
      await this.save(change)
      this.shown.publish()
      changed(run.id)
    }
    const waits = (this.waits = new Waits(run, setState, gaugeMs))
    const link = (this.link = new DisplayLink(hub, workstation, display.serial, waits))
    const sheet = (this.sheet = new StageSheet(data, run, now, () => this.shown.publish()))
    this.shown = new ShownRun(run, sheet, publish)
    this.steps = new Steps(run.id, { data, log, now, waits, link, sheet })
    this.readings = new Readings(run, instrument, now, link, this.steps, this.shown)
  }

  /** UTC, ms since 1970; never before what the run has told already, though the server's clock be set back meanwhile. */
  now(): number {
    this.latestAt = Math.max(this.latestAt, this.services.now())
    return this.latestAt
  }

  /** Reads what is stored of the run, so that the procedure replays it. */
  async load(): Promise<void> {
    this.latestAt = Math.max(this.latestAt, await this.steps.load())
    await this.sheet.load()
  }

  /** Takes note that somebody has looked at conditions; a run that waits for no more than them goes on by resume. */
  confirm(ids: readonly string[], by: string): void {
    for (const id of ids) this.confirmed.set(id, { by, at: this.now() })
  }

  /** A courier that has just gone is given a moment to come back, before the run judges without it. */
  async courierSoon(): Promise<void> {
    if (!this.steps.replaying) await this.link.courierSoon(this.services.graceMs)
  }

  /** Lets hands work at the display for a moment; what they did before the server died need not be waited for again. */
  async letHandsWork(asks: Ask, sentence: string): Promise<void> {
    this.waits.checkStop()
    if (!this.steps.replaying) await this.waits.letHandsWork(asks, sentence)
  }

  /** The same, and whether they pressed “Go on” meanwhile, which a replay knows. */
  async handsPressed(key: string, asks: Ask, sentence: string): Promise<boolean> {
    return this.steps.take(key, () => this.waits.letHandsWork(asks, sentence))
  }

  /** Waits for something that only hands can do; the sentence says what. Once they said so, a replay goes past it. */
  async askHands(key: string, asks: Ask, sentence: string): Promise<void> {
    await this.steps.take(key, async () => {
      await this.waits.until(asks, sentence)
      return null
    })
  }

  /** Sets the display and remembers what is wanted of it. */
  async want(key: string, change: Wanted): Promise<void> {
    Object.assign(this.link.wanted, change)
    await this.steps.take(key, async () => {
      await this.link.apply(change)
      return null
    })
  }

  /** Begins a stage: stored, then told. */
  async beginStage(stage: Stage): Promise<void> {
    this.waits.checkStop()
    this.shown.beginStage()
    await this.sheet.begin(stage)
    this.shown.publish()
  }

  /** From here on a request to stop no longer counts: the display is being put back. Stored before it is begun. */
  async beginRestoring(prefix: string): Promise<void> {
    this.waits.forgetStop(prefix)
    await this.save({ restoring: true })
  }

  /** Changes stored fields of the run. */
  async save(change: Partial<RunRow>): Promise<void> {
    Object.assign(this.run, change)
    await patiently(() => this.services.data.getRepository(runEntity).update({ id: this.run.id }, change as never))
  }
}
