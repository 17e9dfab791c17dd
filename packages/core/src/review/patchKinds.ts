import type { Triple } from '../color/matrix3'
import { naturalPatches } from '../runs/patches'

/** Kinds of patches, by which a table of them is narrowed. */
export const patchKinds = ['grey', 'primary', 'secondary', 'mixed', 'natural', 'other'] as const
export type PatchKind = (typeof patchKinds)[number]

const natural = new Set(naturalPatches.map((p) => p.rgb.join(' ')))

/** The kind of a patch by its signal (0–1): greys with black and white, full hues, hues mixed with grey or dimmed, natural colours. */
export function kindOfPatch(rgb: Triple): PatchKind {
  const [low, middle, high] = [...rgb].sort((a, b) => a - b)
  if (low === high) return 'grey'
  if (natural.has(rgb.join(' '))) return 'natural'
  const twoLow = middle === low
  if (!twoLow && middle !== high) return 'other'
  if (low === 0 && high === 1) return twoLow ? 'primary' : 'secondary'
  return 'mixed'
}
