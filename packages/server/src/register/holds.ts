import { Refusal } from '../http/problem'

/** What is held: a display, instruments, by their numbers. */
export interface Held {
  readonly displayId?: number
  readonly instrumentIds?: readonly number[]
}

/**
 * Displays and instruments that somebody is about to use, or uses for something that is no run: a correction, a reading of
 * a room's light, the moment in which a run is started. A run is stored under a hold, and whatever else wants the same
 * takes its hold first and looks for runs then; so of two at once one sees the other.
 */
export class Holds {
  private readonly keys = new Set<string>()

  /** `runsHold`: whether a run holds any of it. */
  constructor(private readonly runsHold: (held: Held) => Promise<boolean>) {}

  /** Takes all of it; gives what lets it go. Throws Refusal when any of it is held. */
  private take({ displayId, instrumentIds = [] }: Held): () => void {
    const keys = [
      ...(displayId === undefined ? [] : [`display ${displayId}`]),
      ...instrumentIds.map((i) => `instrument ${i}`),
    ]
    const busy = keys.find((key) => this.keys.has(key))
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

  /** Does something under a hold. */
  async during<T>(held: Held, work: () => Promise<T>): Promise<T> {
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
}
