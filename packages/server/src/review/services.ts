import type { DataSource } from 'typeorm'
import type { ContentStore } from '../data/contents'
import type { DriftKeeper } from '../drift/keeper'
import type { Ledger } from '../ledger/ledger'
import type { Threads } from '../http/threads'

/** What review works with. */
export interface ReviewServices {
  readonly data: DataSource
  readonly contents: ContentStore
  readonly threads: Threads
  readonly drift: DriftKeeper
  readonly ledger: Ledger
  readonly now: () => number
  readonly changed: (runId: number) => void
}
