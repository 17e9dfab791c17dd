/** Does something in a moment, once for all who asked until then; nothing any more once it is closed. */
export class Gathered {
  private timer: NodeJS.Timeout | null = null
  private closed = false

  /** `waitMs`: wall time that asking is gathered for. */
  constructor(
    private readonly work: () => unknown,
    private readonly waitMs: () => number,
  ) {}

  soon(): void {
    if (this.timer || this.closed) return
    this.timer = setTimeout(() => {
      this.timer = null
      this.work()
    }, this.waitMs()).unref()
  }

  close(): void {
    this.closed = true
    if (this.timer) clearTimeout(this.timer)
  }
}
