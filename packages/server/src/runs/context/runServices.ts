import type { DataSource } from 'typeorm'
import type { RunLive } from '@bichroma/contract'
import type { CourierHub } from '../../couriers/hub'
import type { ContentStore } from '../../data/contents'
import type { Threads } from '../../http/threads'
import type { Ledger } from '../../ledger/ledger'
import type { Holds } from '../../register/holds'
import type { RunRow } from '../entities'
import type { RoomLights } from '../roomLight'
import type { Solver } from '../solver'
import type { RunLog } from './runLog'

/** What every run is given. */
export interface RunServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly contents: ContentStore
  readonly solver: Solver
  readonly threads: Threads
  readonly log: RunLog
  readonly ledger: Ledger
  readonly now: () => number
  readonly publish: (live: RunLive) => void
  readonly changed: (runId: number) => void
  /** Displays and instruments in use for something that is no run. */
  readonly holds: Holds
  /** How the light of rooms is that something watches. */
  readonly lights: RoomLights
  /** A run was proved, or what it had written was taken back: whoever follows validations sees to it. */
  readonly judged: (run: RunRow) => Promise<void>
  readonly takenBack: (run: RunRow) => Promise<void>
  /** Wall time for which a run that starts waits for a courier that has just gone, ms. */
  readonly graceMs: number
  /** Wall time between two looks at what hands do at a display, ms. */
  readonly gaugeMs: number
}
