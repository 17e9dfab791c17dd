import type { PlacementState } from '@bichroma/core/rollout'

interface Told {
  readonly state: PlacementState
  /** What the courier said, or why it was withdrawn. */
  readonly message: string | null
  readonly foundPath: string | null
  /** Where ours was written. */
  readonly placedPath: string | null
  readonly by: string | null
  readonly waitsFor: string | null
  readonly slot: number | null
  readonly shownSlot: number
  readonly leftAlone: boolean
  readonly courierOnline: boolean
}

/** Why a placement is where it is, in one sentence; null where nothing needs to be said. */
export function placementSentence(told: Told): string | null {
  const { state, message, foundPath, placedPath, by, waitsFor, slot, shownSlot, leftAlone, courierOnline } = told
  const alone = leftAlone
    ? by
      ? ` ${by} keeps replacing it, so it is left alone: see to that program, then place it again.`
      : ' Something keeps replacing it, so it is left alone: see to that, then place it again.'
    : ''
  switch (state) {
    case 'withdrawn':
      return message
    case 'queued':
      return message ?? (courierOnline ? null : 'It waits for the courier of the workstation.')
    case 'placed':
      return 'The courier wrote it; it has not been read back yet.'
    case 'waiting':
      return waitsFor === 'restart'
        ? 'Bound, and in force once the workstation has been restarted.'
        : 'Bound, and in force once the person at the workstation has signed out and in again.'
    case 'overridden':
      if (foundPath === placedPath) return `${foundPath} holds something else than was placed.${alone}`
      return `The system binds another profile: ${foundPath}${by ? `, put there by ${by}` : ''}.${alone}`
    case 'missing':
      return (
        (foundPath === null
          ? 'The system binds no profile to this display.'
          : `The system binds ${foundPath}, but there is no such file.`) + alone
      )
    case 'out of step':
      return `The profile in force describes slot ${slot}, and slot ${shownSlot} is on show.`
    case 'in force':
      return null
  }
}
