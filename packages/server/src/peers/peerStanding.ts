import type { Metrics } from '@bichroma/core/aims'
import { standingOf, type MemberKnown, type SetAsked, type SetStanding } from '@bichroma/core/peers'

/** A member, its figures still as the store holds them: they are read where they are reckoned with. */
export interface MemberGathered extends Omit<MemberKnown, 'judged'> {
  readonly judged: (Omit<NonNullable<MemberKnown['judged']>, 'patches'> & { readonly metrics: string }) | null
}

/** Patches of a run that two displays are held against each other by, at most: imported runs have thousands. */
const mostPatches = 600

/** What a set comes to; for a thread. */
export function peerStanding(members: readonly MemberGathered[], asked: SetAsked): SetStanding {
  return standingOf(
    members.map(({ judged, ...member }): MemberKnown => {
      if (!judged) return { ...member, judged: null }
      const { metrics, ...rest } = judged
      const { patches } = JSON.parse(metrics) as Metrics
      const every = Math.ceil(patches.length / mostPatches)
      const isCorner = (rgb: readonly number[]) => rgb.every((v) => v === 0 || v === 1)
      return {
        ...member,
        judged: {
          ...rest,
          patches: patches
            .filter((p, i) => i % every === 0 || isCorner(p.rgb))
            .map(({ name, rgb, xyz }) => ({ name, rgb, xyz })),
        },
      }
    }),
    asked,
  )
}
