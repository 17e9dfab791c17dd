import { channel } from 'node:diagnostics_channel'
import type { DataSource } from 'typeorm'
import type { RunReading } from '@bichroma/contract'
import { patiently } from '../../data/patiently'
import { stepEntity, type StepRow } from '../entities'
import type { DisplayLink } from './displayLink'
import { RunFailed } from './runErrors'
import type { RunLog } from './runLog'
import type { Send } from './send'
import type { StageSheet } from './stageSheet'
import type { Waits } from './waits'

/** Tells whoever measures how long a reading took from its arrival until it was on the disk: `{ ms }`. */
const readingStored = channel('bichroma:reading-stored')

/** What steps are taken with. */
interface StepParts {
  readonly data: DataSource
  readonly log: RunLog
  readonly now: () => number
  readonly waits: Waits
  readonly link: DisplayLink
  readonly sheet: StageSheet
}

/**
 * The steps of one run: each is stored before it is taken and its result after. A run that is taken up again replays the
 * stored results until the first step without one.
 */
export class Steps {
  private seq = 0
  private stored: StepRow[] = []
  private taken: RunReading | null = null

  constructor(
    private readonly runId: number,
    private readonly parts: StepParts,
  ) {}

  /** Reads what is stored; gives the latest instant that it tells of, UTC ms, or 0. */
  async load(): Promise<number> {
    this.stored = await this.parts.data
      .getRepository(stepEntity)
      .find({ where: { runId: this.runId }, order: { seq: 'ASC' } })
    if (this.stored.some((s) => s.result)) this.parts.link.putBackFirst()
    return this.stored.reduce((latest, { askedAt, doneAt }) => Math.max(latest, askedAt, doneAt ?? 0), 0)
  }

  /** The next step's result is stored already: the run is being taken up again. */
  get replaying(): boolean {
    return Boolean(this.stored[this.seq]?.result)
  }

  /** Leaves the reading that the step at hand took, to be stored with it. */
  keep(reading: RunReading): void {
    this.taken = reading
  }

  /** One step: on replay only its result. Waits for couriers and hands unless it is not to be patient. */
  async take<T>(key: string, act: (send: Send) => Promise<T>, patient = true): Promise<T> {
    const { log, now, waits, link, sheet } = this.parts
    waits.checkStop()
    const seq = this.seq++
    const stored = this.stored[seq]
    if (stored && stored.key !== key)
      throw new RunFailed(
        'The stored steps of this run do not fit this version of Bichroma. Stop it and start a new one.',
      )
    if (stored?.result) {
      const { value, tookMs } = stored.result.value as { value: T; tookMs: number }
      sheet.account(tookMs)
      return value
    }
    if (!stored) await patiently(() => log.asked(this.runId, seq, key, now()))
    link.countAnew()
    this.taken = null
    const value = patient ? await link.attempt(act) : await act(link.send)
    const { tookMs } = link
    await patiently(() => log.taken(this.runId, seq, { value: { value, tookMs } }, now(), this.taken))
    if (this.taken) readingStored.publish({ ms: performance.now() - link.answeredAt })
    sheet.account(tookMs)
    return value
  }
}
