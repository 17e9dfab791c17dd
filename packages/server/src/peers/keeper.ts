import type { DataSource } from 'typeorm'
import { furthestOf, verdictOf, type SetStanding } from '@bichroma/core/peers'
import { atomically, changesMade } from '../data/atomically'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import type { Threads } from '../http/threads'
import { askedOf, gatherSet } from './gatherSet'
import { peerSetEntity } from './entities'
import { peerStanding } from './peerStanding'

interface KeeperServices {
  readonly data: DataSource
  readonly threads: Threads
  readonly now: () => number
  /** The standing of a set was worked out. */
  readonly changed: () => void
}

/** What ages by itself, such as the light until a due line, is looked at again after so long. */
const freshMs = 86_400_000
/** Wall time between two looks at what has aged, ms. */
const lookMs = 3_600_000

/** Keeps the standing of each set up to date with what it follows from; the store counts what has changed. */
export class PeerKeeper {
  private readonly working = new WorkedOff('What peer sets come to is worked out', () => this.work())
  private timer: NodeJS.Timeout | null = null

  constructor(private readonly services: KeeperServices) {}

  start(): void {
    this.soon()
    this.timer = setInterval(() => this.soon(), lookMs).unref()
  }

  /** Something has changed that sets may follow from. */
  soon(): void {
    this.working.inAMoment()
  }

  /** One set at once, whatever else is due; what fails is written down and tried again. */
  async bring(id: number): Promise<void> {
    try {
      await this.workOut(id)
    } catch (error) {
      if (this.working.closed) return
      logFault(`What peer set ${id} comes to is worked out`, error)
      this.working.later()
    }
  }

  async close(): Promise<void> {
    if (this.timer) clearInterval(this.timer)
    await this.working.close()
  }

  /** All that is due, one set after another. */
  private async work(): Promise<void> {
    const { data, now, changed } = this.services
    const due = await data.query<{ id: number }[]>(
      'SELECT id FROM peer_set WHERE due > 0 UNION SELECT id FROM peer_set WHERE worked_out_at < ? ORDER BY id',
      [now() - freshMs],
    )
    for (const { id } of due) {
      if (this.working.closed) return
      // One that fails stands in no other's way.
      await this.bring(id)
    }
    if (due.length) changed()
  }

  private async workOut(id: number): Promise<void> {
    const { data, threads, now } = this.services
    const row = await data.getRepository(peerSetEntity).findOneBy({ id })
    if (!row) return
    const at = now()
    const standing = await threads.run(peerStanding, await gatherSet(data, id, at), askedOf(row, at))
    const settled = await patiently(() =>
      atomically(data, (take) => {
        // What has changed meanwhile stays due.
        take(
          data
            .createQueryBuilder()
            .update(peerSetEntity)
            .set({ ...toldOf(standing, row.referenceId), workedOutAt: at, due: 0 } as never)
            .where({ id, due: row.due }),
        )
        return changesMade(data) > 0
      }),
    )
    if (!settled) this.soon()
  }
}

/** What lists tell of a standing, beside it. */
const toldOf = (standing: SetStanding, reference: number | null) => ({
  standing,
  verdict: verdictOf(standing),
  judgedAt: standing.alike?.to ?? null,
  furthest: standing.alike && furthestOf(standing.alike, reference),
  moved: standing.moved,
  luminance: standing.ground?.luminance ?? null,
})
