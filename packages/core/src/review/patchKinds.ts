import type { Triple } from '../color/matrix3'
import { naturalPatches } from '../runs/patches'

/** Kinds of patches, by which a table of them is narrowed. */
export const patchKinds = ['grey', 'primary', 'secondary', 'mixed', 'natural', 'other'] as const
export type PatchKind = (typeof patchKinds)[number]

/** Displays round signals to their bits, 8 at the least: so far may the same patch lie apart on two of them. */
const rounding = 0.5 / 255 + 1e-9

/** Whether two signals (0–1) are the same patch, on displays that round signals differently. */
export const sameSignal = (a: Triple, b: Triple): boolean => a.every((v, k) => Math.abs(v - b[k]) <= 2 * rounding)

/** The kind of a patch by its signal (0–1): greys with black and white, full hues, hues mixed with grey or dimmed, natural colours. */
export function kindOfPatch(rgb: Triple): PatchKind {
  const [low, middle, high] = [...rgb].sort((a, b) => a - b)
  if (low === high) return 'grey'
  if (naturalPatches.some((p) => sameSignal(p.rgb, rgb))) return 'natural'
  const twoLow = middle === low
  if (!twoLow && middle !== high) return 'other'
  if (low === 0 && high === 1) return twoLow ? 'primary' : 'secondary'
  return 'mixed'
}
