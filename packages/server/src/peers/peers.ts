import type { DataSource } from 'typeorm'
import type { FleetDrift, StartRun } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import type { Api } from '../http/api'
import type { Threads } from '../http/threads'
import type { Ledger } from '../ledger/ledger'
import type { Holds } from '../register/holds'
import { PeerKeeper } from './keeper'
import { PeerLooks } from './looks'
import { PeerMatches } from './matches'
import { OffsetKeeper } from './offsetKeeper'
import { offsetRoutes } from './offsets'
import { Rings } from './rings'
import { peerRoutes } from './routes'

interface PeerServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly holds: Holds
  readonly threads: Threads
  readonly ledger: Ledger
  readonly now: () => number
  readonly startRun: (input: StartRun, who: { id: number; name: string }) => Promise<number>
  readonly stopRun: (id: number, who: { id: number; name: string }) => Promise<void>
  /** Something of peer sets changed. */
  readonly changed: () => void
  readonly aimsChanged: () => void
  readonly fleetDrift: (now: number) => Promise<FleetDrift>
  /** Trends of a slot are to be worked out anew. */
  readonly refreshDrift: (displayId: number, slot: number) => Promise<void>
  /** Runs came to something else. */
  readonly judgedAnew: () => void
}

/** All of peer sets: their standing, their aims, their runs. */
export class Peers {
  private readonly keeper: PeerKeeper
  private readonly looks: PeerLooks
  private readonly matches: PeerMatches
  private readonly rings: Rings
  private readonly offsets: OffsetKeeper

  constructor(private readonly services: PeerServices) {
    this.keeper = new PeerKeeper(services)
    this.looks = new PeerLooks({ ...services, keeper: this.keeper })
    this.matches = new PeerMatches({ ...services, keeper: this.keeper })
    this.rings = new Rings(services)
    this.offsets = new OffsetKeeper(services)
  }

  routes(api: Api): void {
    const { keeper, looks, matches } = this
    peerRoutes(api, { ...this.services, keeper, looks, matches })
    matches.routes(api)
    this.rings.routes(api)
    offsetRoutes(api, { ...this.services, keeper: this.offsets })
  }

  /** A run stands otherwise; what fails is written down, and undoes nothing. */
  runChanged(): void {
    this.keeper.soon()
    void this.rings.soon()
    void this.looks.soon()
    void this.offsets.soon()
  }

  /** What members are, or how they drift, has changed. */
  soon(): void {
    this.keeper.soon()
  }

  async start(): Promise<void> {
    await this.looks.takeStock()
    void this.rings.soon()
    void this.offsets.soon()
    this.keeper.start()
  }

  async close(): Promise<void> {
    await this.offsets.close()
    await this.rings.close()
    await this.looks.close()
    await this.keeper.close()
  }
}
