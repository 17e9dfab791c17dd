import type { Ask } from '@bichroma/core/runs'
import type { RunRow } from '../entities'
import { RunStopped, ServerClosing } from './runErrors'

type Arrival = (signal: AbortSignal) => Promise<void>

/** Where a run waits: for hands, for a courier, or to be told to stop. */
export class Waits {
  private wake: (() => void) | null = null
  private reason: 'stop' | 'closing' | null = null
  private prefix = ''

  /** `gaugeMs`: wall time between two looks at what hands do. */
  constructor(
    private readonly run: Pick<RunRow, 'state' | 'message'>,
    private readonly setState: (
      change: Pick<RunRow, 'message' | 'asks'> & { state: 'running' | 'waiting' },
    ) => Promise<void>,
    private readonly gaugeMs: number,
  ) {}

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

  /** Throws when the run is to stop, or the server to close. */
  checkStop(): void {
    if (this.reason === 'closing') throw new ServerClosing()
    if (this.reason === 'stop') throw new RunStopped()
  }

  /** From here on a request to stop no longer counts; `prefix` stands before whatever is waited for. */
  forgetStop(prefix: string): void {
    this.prefix = prefix
    if (this.reason === 'stop') this.reason = null
  }

  /** Waits until somebody presses “Go on”, or what is awaited has come; the sentence says what is missing. */
  async until(asks: Ask, sentence: string, arrival?: Arrival): Promise<void> {
    const woken = this.woken()
    await this.setState({ state: 'waiting', message: this.prefix + sentence, asks })
    await this.first(woken, arrival)
    await this.setState({ state: 'running', message: this.prefix || null, asks: null })
  }

  /** Gives what may come soon so much time (ms), without a word about it. */
  async briefly(arrival: Arrival, mostMs: number): Promise<void> {
    await this.first(this.woken(), arrival, mostMs)
  }

  /** Lets hands work for a moment while the sentence says at what; gives whether somebody cut it short by “Go on”. */
  async letHandsWork(asks: Ask, sentence: string): Promise<boolean> {
    this.checkStop()
    const woken = this.woken()
    if (this.run.state !== 'waiting' || this.run.message !== sentence)
      await this.setState({ state: 'waiting', message: sentence, asks })
    return (await this.first(woken, undefined, this.gaugeMs)) === 'woken'
  }

  /** The hands are done. */
  async handsDone(): Promise<void> {
    if (this.run.state === 'waiting') await this.setState({ state: 'running', message: null, asks: null })
  }

  private woken(): Promise<'woken'> {
    return new Promise((resolve) => (this.wake = () => resolve('woken')))
  }

  private async first(woken: Promise<'woken'>, arrival?: Arrival, mostMs?: number): Promise<'woken' | void> {
    const giveUp = new AbortController()
    let timer: NodeJS.Timeout | undefined
    const passed = new Promise<void>((resolve) => {
      if (mostMs !== undefined) timer = setTimeout(resolve, mostMs)
    })
    const by = await Promise.race([woken, passed, ...(arrival ? [arrival(giveUp.signal)] : [])])
    clearTimeout(timer)
    giveUp.abort()
    this.wake = null
    this.checkStop()
    return by
  }
}
