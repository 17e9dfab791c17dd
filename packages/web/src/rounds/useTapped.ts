import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import { ApiProblem, ask } from '../api/client'

/** What somebody tapped on a tour, and has not reached the server yet. */
export interface Tap {
  readonly visitId: number
  readonly does: 'begin' | 'block'
  readonly why?: string
}

interface Tapped {
  readonly waiting: readonly Tap[]
  /** What the server refused of what was tapped, the newest last. */
  readonly refused: readonly { readonly visitId: number; readonly sentence: string }[]
  readonly tap: (tap: Tap) => void
  /** Sends what waits, in the order in which it was tapped; what cannot be sent waits on. Whether all has gone. */
  readonly send: (send?: (tap: Tap) => Promise<unknown>) => Promise<boolean>
  readonly read: () => void
}

const toServer = ({ visitId, does, why }: Tap) =>
  ask('POST', `/visits/${visitId}/${does}`, does === 'block' ? { why } : {})

let sending: Promise<boolean> | null = null

/** Kept in the browser, so that a dropped connection, or a phone that goes to sleep, loses nothing. */
export const useTapped = create<Tapped>()(
  persist(
    (set, get) => ({
      waiting: [],
      refused: [],
      tap: (tap) => set(({ waiting }) => ({ waiting: [...waiting.filter((t) => t.visitId !== tap.visitId), tap] })),
      send: (send = toServer) => {
        sending ??= sendAll(get, set, send).finally(() => {
          sending = null
        })
        return sending
      },
      read: () => set({ refused: [] }),
    }),
    { name: 'bichroma-tour', partialize: ({ waiting }) => ({ waiting }) },
  ),
)

async function sendAll(
  get: () => Tapped,
  set: (change: Partial<Tapped>) => void,
  send: (tap: Tap) => Promise<unknown>,
): Promise<boolean> {
  for (;;) {
    const [tap] = get().waiting
    if (!tap) return true
    try {
      await send(tap)
    } catch (error) {
      const status = error instanceof ApiProblem ? error.problem.status : 0
      // Nobody answers, or whoever was signed in is not: it is tried again.
      if (status === 0 || status === 401 || status === 429 || status >= 500) return false
      // It may have got there before its answer was lost: then its visit says so.
      set({ refused: [...get().refused, { visitId: tap.visitId, sentence: (error as Error).message }].slice(-5) })
    }
    set({ waiting: get().waiting.filter((t) => t !== tap) })
  }
}
