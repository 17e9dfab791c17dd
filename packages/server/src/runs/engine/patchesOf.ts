import { checkPlans, provePatchesOf, type Patch } from '@bichroma/core/runs'
import type { RunPatches, StartRun } from '@bichroma/contract'
import { Refusal } from '../../http/problem'
import type { Threads } from '../../http/threads'
import type { RunRow } from '../entities'
import { readOwnPatches } from '../readOwnPatches'

/** The patches that a run is asked to prove by. Throws Refusal for a kind that has its own, or a file that holds none. */
export async function patchesOf({ kind, patches }: StartRun, threads: Threads): Promise<RunPatches | null> {
  if (!patches) return null
  if (kind !== 'check')
    throw new Refusal('invalid-input', 'Only a check run chooses its patches; leave “patches” out.', 'patches')
  if (patches.kind === 'plan') return patches
  const own = await threads.run(readOwnPatches, patches.fileName, patches.text)
  if ('complaint' in own) throw new Refusal('invalid-input', own.complaint, 'patches')
  return { kind: 'own', fileName: patches.fileName, patches: own }
}

/** What a run proves by: the patches chosen for it, else those of its kind. */
export function provePatchesFor({ kind, patches }: Pick<RunRow, 'kind' | 'patches'>): readonly Patch[] {
  if (!patches) return provePatchesOf(kind)
  return patches.kind === 'plan' ? checkPlans[patches.name].patches : patches.patches
}
