/**
 * The bench's time: how long operations take at real pace, waited for at `pace` times that speed. Where nothing waits, or
 * only operations count, each workstation has a lane of its own, so that what one does takes no time of another's and the
 * same script gives the same readings whatever else goes on, however slow the machine.
 */
export class BenchClock {
  private readonly wallStart = Date.now()
  private readonly lanes: BenchClock[] = []
  private spent = 0

  /**
   * `pace`: 1 is real time, 10 ten times faster, Infinity does not wait at all. `start`: ms since 1970. `counted`: time
   * passes by operations alone, as it does where nothing waits.
   */
  constructor(
    private readonly pace: number,
    private start = Date.now(),
    private readonly counted = !Number.isFinite(pace),
  ) {}

  /** Time on the bench, ms since 1970: where operations count, that of the lane which is furthest. */
  now(): number {
    if (!this.counted) return this.start + (Date.now() - this.wallStart) * this.pace
    return this.start + this.lanes.reduce((most, lane) => Math.max(most, lane.spent), this.spent)
  }

  /** What a clock on the wall shows: the bench's own time where nothing waits, else the time outside. */
  wall(): number {
    return Number.isFinite(this.pace) ? Date.now() : this.now()
  }

  /** Time of one workstation's own. */
  lane(): BenchClock {
    const lane = new BenchClock(this.pace, this.start, this.counted)
    this.lanes.push(lane)
    return lane
  }

  /** Lets an operation of `ms` (real pace) pass. */
  async pass(ms: number): Promise<void> {
    if (Number.isFinite(this.pace)) await new Promise((resolve) => setTimeout(resolve, ms / this.pace))
    if (this.counted) this.spent += ms
  }

  /** Jumps to a later instant, ms since 1970; for making history. */
  jumpTo(at: number): void {
    this.start = at
    this.spent = 0
    for (const lane of this.lanes) lane.jumpTo(at)
  }
}
