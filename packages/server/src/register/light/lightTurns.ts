import type { LightStanding } from '@bichroma/core/aims'

const isHeld = (standing: LightStanding | undefined) => standing === 'out too long'

/** When rooms' light goes out of what is wanted for too long, or comes back, and who waits for that. */
export class LightTurns {
  /** How light stood when it was last compared, by room. */
  private stood: ReadonlyMap<number, LightStanding> = new Map()
  private readonly waiting = new Set<() => void>()
  private closed = false

  /** Takes how light stands in every room that is watched; true, and whoever waits looks again, when it turned in any. */
  compare(stands: ReadonlyMap<number, LightStanding>): boolean {
    const rooms = [...new Set([...this.stood.keys(), ...stands.keys()])]
    const turned = rooms.some((room) => isHeld(this.stood.get(room)) !== isHeld(stands.get(room)))
    this.stood = stands
    if (turned) this.wakeAll()
    return turned
  }

  /** Resolves once `isOut` is so no more, it is asked to stop, or all is closed; looks when light has turned anywhere. */
  async backIn(isOut: () => Promise<boolean>, signal: AbortSignal): Promise<void> {
    while (!signal.aborted && !this.closed && (await isOut())) {
      await new Promise<void>((resolve) => {
        const wake = () => {
          this.waiting.delete(wake)
          signal.removeEventListener('abort', wake)
          resolve()
        }
        this.waiting.add(wake)
        signal.addEventListener('abort', wake, { once: true })
      })
    }
  }

  close(): void {
    this.closed = true
    this.wakeAll()
  }

  private wakeAll(): void {
    for (const wake of [...this.waiting]) wake()
  }
}
