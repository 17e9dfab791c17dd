import { create } from 'zustand'

/** Recovery codes that somebody has not yet said they have kept: what shows them stays, whatever else changes meanwhile. */
export const useUnread = create<{
  readonly codes: readonly string[] | null
  /** They came before anything else was let in. */
  readonly first: boolean
  readonly show: (codes: readonly string[], first: boolean) => void
  readonly kept: () => void
}>((set) => ({
  codes: null,
  first: false,
  show: (codes, first) => set({ codes, first }),
  kept: () => set({ codes: null, first: false }),
}))
