import { Gathered } from './gathered'
import { logFault } from './log'

/** Wall time until what failed is tried again, and for which asking in a moment is gathered, unless said otherwise, ms. */
const usual = { againMs: 30_000, gatherMs: 50 }

/**
 * Work that is asked for whenever something changes, and done one after another. What fails is written down and tried
 * again, and once it is closed nothing is begun any more.
 */
export class WorkedOff {
  private working: Promise<void> = Promise.resolve()
  private readonly again: Gathered
  private readonly gathered: Gathered
  /** Whoever works looks at it in between, and leaves off. */
  closed = false

  /** `does`: what is written down of what fails, as a sentence. */
  constructor(
    private readonly does: string,
    private readonly work: () => Promise<void>,
    { againMs = usual.againMs, gatherMs = usual.gatherMs }: { againMs?: number; gatherMs?: number } = {},
  ) {
    const gathering = (ms: number) =>
      new Gathered(
        () => void this.soon(),
        () => ms,
      )
    this.again = gathering(againMs)
    this.gathered = gathering(gatherMs)
  }

  /** Does it once more; ends when it was done, or has failed. */
  soon(): Promise<void> {
    this.working = this.working
      .then(() => (this.closed ? undefined : this.work()))
      .catch((error: unknown) => {
        if (this.closed) return
        logFault(this.does, error)
        this.again.soon()
      })
    return this.working
  }

  /** Does it in a moment, once for all who asked until then. */
  inAMoment(): void {
    this.gathered.soon()
  }

  /** Tries again after a while, though nothing has failed. */
  later(): void {
    this.again.soon()
  }

  async close(): Promise<void> {
    this.closed = true
    this.again.close()
    this.gathered.close()
    await this.working
  }
}
