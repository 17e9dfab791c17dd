import { runKinds } from '@bichroma/core/runs'
import type { RunSummary } from '@bichroma/contract'

/** What a run is called in lists. */
export const runLabel = ({ imported, kind }: Pick<RunSummary, 'imported' | 'kind'>): string =>
  imported ? 'Imported' : runKinds[kind].label

/** Where what a run left is looked at: in Review, or on its sheet where nothing was judged. */
export const runPath = ({
  id,
  state,
  kind,
  imported,
}: Pick<RunSummary, 'id' | 'state' | 'kind' | 'imported'>): string =>
  imported || (state === 'done' && kind !== 'uniformity') ? `/review/${id}` : `/runs/${id}`
