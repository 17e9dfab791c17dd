import {
  checkPlans,
  complaintOf,
  FormatError,
  mostOwnPatches,
  ownCheckPatches,
  provePatchesOf,
  readPatches,
  type Patch,
} from '@bichroma/core'
import type { RunPatches, StartRun } from '@bichroma/contract'
import { Refusal } from '../http/problem'
import type { RunRow } from './entities'

/** The patches that a run is asked to prove by. Throws Refusal for a kind that has its own, or a file that holds none. */
export function patchesOf({ kind, patches }: StartRun): RunPatches | null {
  if (!patches) return null
  if (kind !== 'check')
    throw new Refusal('invalid-input', 'Only a check run chooses its patches; leave “patches” out.', 'patches')
  if (patches.kind === 'plan') return patches
  let own: readonly Patch[]
  try {
    own = readPatches(patches.text)
  } catch (error) {
    if (!(error instanceof FormatError)) throw error
    throw new Refusal('invalid-input', complaintOf(patches.fileName, error), 'patches')
  }
  if (own.length > mostOwnPatches)
    throw new Refusal(
      'invalid-input',
      `${patches.fileName} holds ${own.length} patches; a check takes ${mostOwnPatches} at most.`,
      'patches',
    )
  return { kind: 'own', fileName: patches.fileName, patches: ownCheckPatches(own) }
}

/** What a run proves by: the patches chosen for it, else those of its kind. */
export function provePatchesFor({ kind, patches }: Pick<RunRow, 'kind' | 'patches'>): readonly Patch[] {
  if (!patches) return provePatchesOf(kind)
  return patches.kind === 'plan' ? checkPlans[patches.name].patches : patches.patches
}
