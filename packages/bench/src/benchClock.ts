/** The bench's time: how long operations take at real pace, waited for at `pace` times that speed. */
export class BenchClock {
  private readonly wallStart = Date.now()
  private spent = 0

  /** `pace`: 1 is real time, 10 ten times faster, Infinity does not wait at all. `start`: ms since 1970. */
  constructor(
    private readonly pace: number,
    private start = Date.now(),
  ) {}

  /** Time on the bench, ms since 1970. */
  now(): number {
    const idle = Number.isFinite(this.pace) ? (Date.now() - this.wallStart) * this.pace : 0
    return this.start + Math.max(this.spent, idle)
  }

  /** Lets an operation of `ms` (real pace) pass. */
  async pass(ms: number): Promise<void> {
    if (Number.isFinite(this.pace)) {
      await new Promise((resolve) => setTimeout(resolve, ms / this.pace))
      return
    }
    this.spent += ms
  }

  /** Jumps to a later instant, ms since 1970; for making history. */
  jumpTo(at: number): void {
    this.start = at
    this.spent = 0
  }
}
