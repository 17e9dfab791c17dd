/** How much of something each of many may do in a while: a window that begins anew once it has passed. */
export class Allowance<K> {
  private readonly used = new Map<K, { amount: number; until: number }>()
  private sweepAt = 0

  constructor(
    private readonly most: number,
    private readonly windowMs: number,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** Whether an amount could be taken now; nothing is. */
  holds(who: K, amount = 1): boolean {
    const known = this.used.get(who)
    return !known || known.until <= this.now() || known.amount + amount <= this.most
  }

  /** Takes an amount; false, and nothing taken, when the rest of the window does not hold it. */
  take(who: K, amount = 1): boolean {
    const at = this.now()
    const known = this.used.get(who)
    const window = known && known.until > at ? known : { amount: 0, until: at + this.windowMs }
    if (at >= this.sweepAt) this.sweep(at)
    this.used.set(who, window)
    if (window.amount + amount > this.most) return false
    window.amount += amount
    return true
  }

  /** Windows that have passed are of no use; looked for once in a window. */
  private sweep(at: number) {
    this.sweepAt = at + this.windowMs
    for (const [who, { until }] of this.used) if (until <= at) this.used.delete(who)
  }
}
