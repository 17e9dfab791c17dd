import { Refusal } from '../http/problem'

/** What is held: a display, instruments, by their numbers. */
export interface Held {
  readonly displayId?: number
  readonly instrumentIds?: readonly number[]
}

/** Wall time for which what is over in a moment is waited for, ms. */
const patienceMs = 5000

/**
 * Displays and instruments that somebody is about to use, or uses for something that is no run: a correction, a reading of
 * a room's light, the moment in which a run is started. A run is stored under a hold, and whatever else wants the same
 * takes its hold first and looks for runs then; so of two at once one sees the other.
 */
export class Holds {
  private readonly keys = new Set<string>()
  /** Uses that are over in a moment, which others wait for. */
  private readonly brief = new Map<string, Promise<unknown>>()

  /** `runsHold`: whether a run holds any of it. */
  constructor(private readonly runsHold: (held: Held) => Promise<boolean>) {}

  /** Takes all of it; gives what lets it go. Throws Refusal when any of it is held. */
  private take(held: Held): () => void {
    const keys = keysOf(held)
    const busy = keys.find((key) => this.keys.has(key) || this.brief.has(key))
    if (busy)
      throw new Refusal(
        'conflict',
        `${busy.startsWith('display') ? 'The display' : 'The instrument'} is being used for something else at this moment. Wait for it, and try again.`,
      )
    for (const key of keys) this.keys.add(key)
    return () => {
      for (const key of keys) this.keys.delete(key)
    }
  }

  /** Does something under a hold, once what is over in a moment is over. */
  async during<T>(held: Held, work: () => Promise<T>): Promise<T> {
    await this.afterBrief(keysOf(held))
    const release = this.take(held)
    try {
      return await work()
    } finally {
      release()
    }
  }

  /** Does something under a hold that no run may have. Throws Refusal with the sentence for one that has. */
  besideRuns<T>(held: Held, inRun: { sentence: string; field?: string }, work: () => Promise<T>): Promise<T> {
    return this.during(held, async () => {
      if (await this.runsHold(held)) throw new Refusal('conflict', inRun.sentence, inRun.field)
      return work()
    })
  }

  /**
   * Does something that is over in a moment, for which others wait instead of being refused; null when a run or anything
   * else has any of it.
   */
  async briefly<T>(held: Held, work: () => Promise<T>): Promise<T | null> {
    const keys = keysOf(held)
    if (keys.some((key) => this.keys.has(key) || this.brief.has(key))) return null
    const done = this.unlessInRun(held, work)
    const settled = done.then(
      () => {},
      () => {},
    )
    for (const key of keys) this.brief.set(key, settled)
    try {
      return await done
    } finally {
      for (const key of keys) this.brief.delete(key)
    }
  }

  /** Lets what is over in a moment be over; what takes longer than that is in the way like anything else. */
  private async afterBrief(keys: readonly string[]): Promise<void> {
    const until = performance.now() + patienceMs
    for (const key of keys)
      while (this.brief.has(key) && performance.now() < until) {
        let timer: NodeJS.Timeout | undefined
        const late = new Promise((resolve) => (timer = setTimeout(resolve, until - performance.now())))
        await Promise.race([this.brief.get(key), late])
        clearTimeout(timer)
      }
  }

  private async unlessInRun<T>(held: Held, work: () => Promise<T>): Promise<T | null> {
    return (await this.runsHold(held)) ? null : work()
  }
}

const keysOf = ({ displayId, instrumentIds = [] }: Held): string[] => [
  ...(displayId === undefined ? [] : [`display ${displayId}`]),
  ...instrumentIds.map((i) => `instrument ${i}`),
]
