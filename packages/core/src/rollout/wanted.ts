import type { Rules } from './policy'

/** The newest profile that was filed for a slot. */
export interface FiledProfile {
  readonly slot: number
  readonly runId: number
  /** SHA-256 of its bytes. */
  readonly hash: string
}

/** What is known of a display when a policy is asked what belongs in force on it. */
export interface KnownOfDisplay {
  readonly shownSlot: number
  /** The slot whose profile was agreed to last; null when none was. */
  readonly agreedSlot: number | null
  /** At most one a slot. */
  readonly filed: readonly FiledProfile[]
}

/**
 * What a policy asks for. `none`: no profile of ours belongs in force. `no profile`: one of this slot does, and none was
 * filed yet. `profile`: this one.
 */
export type Wanted =
  | { readonly kind: 'none' }
  | { readonly kind: 'no profile'; readonly slot: number }
  | ({ readonly kind: 'profile' } & FiledProfile)

/** What belongs in force on a display by its policy. */
export function wantedOf({ profile, whenSwitched }: Rules, { shownSlot, agreedSlot, filed }: KnownOfDisplay): Wanted {
  if (profile === 'none') return { kind: 'none' }
  const meant = whenSwitched === 'switch back' ? (agreedSlot ?? shownSlot) : shownSlot
  const slot = profile === 'shown' ? meant : profile
  const found = filed.find((f) => f.slot === slot)
  return found ? { kind: 'profile', ...found } : { kind: 'no profile', slot }
}

/** The slot that a display should show; null where its policy leaves that to people. */
export function slotWanted({ profile, whenSwitched }: Rules, agreedSlot: number | null): number | null {
  if (whenSwitched !== 'switch back') return null
  return typeof profile === 'number' ? profile : agreedSlot
}
