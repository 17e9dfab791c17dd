/** How a placement stands. */
export const placementStates = ['queued', 'placed', 'in force', 'overridden', 'missing', 'withdrawn'] as const
export type PlacementState = (typeof placementStates)[number]

/** What a system binds to a display. */
interface Bound {
  readonly path: string
  /** SHA-256 of the file; null when there is none. */
  readonly hash: string | null
  /** What has to happen before it holds. */
  readonly waitsFor: 'sign-out' | 'restart' | null
}

/** What a system's binding of a display says of a placement. */
export function judgeBinding(
  placement: { readonly profileHash: string },
  bound: Bound | undefined,
): { state: PlacementState; message: string | null } {
  if (!bound) return { state: 'missing', message: 'The system binds no profile to this display. Place it again.' }
  if (bound.hash === null)
    return {
      state: 'missing',
      message: `The system binds ${bound.path}, but there is no such file. Place the profile again.`,
    }
  if (bound.hash !== placement.profileHash)
    return {
      state: 'overridden',
      message: `The system binds another profile: ${bound.path}. Somebody or an update put it there; place ours again.`,
    }
  if (bound.waitsFor)
    return {
      state: 'placed',
      message: `Bound, and in force once ${bound.waitsFor === 'sign-out' ? 'the person at the workstation has signed out and in again' : 'the workstation has been restarted'}. Then verify it.`,
    }
  return { state: 'in force', message: null }
}
