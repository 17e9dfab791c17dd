import type { DataSource } from 'typeorm'
import type { CourierHub } from '../couriers/hub'
import { atomically, written } from '../data/atomically'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'
import { WorkedOff } from '../data/workedOff'
import { lightAtDesk } from './lightAtDesk'
import type { OpenLinks } from './links'

interface DeskServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly links: OpenLinks
  readonly now: () => number
}

/** For so long what was said still lies ahead, ms. */
const reachMs = 10 * 86_400_000
/** Wall time that changes are gathered for before desks are told, ms. */
const gatherMs = 300

/**
 * Tells every desk whose courier is there where its page is, and what is said to whoever works there: all of it each time,
 * and only when it is another than before. What was answered, made or dropped is said no more.
 */
export class Desks {
  private readonly told = new Map<number, string>()
  private readonly telling = new WorkedOff('Desks are told', () => this.tellThem(), { gatherMs })

  constructor(private readonly services: DeskServices) {}

  /** A courier has come: it may have forgotten. */
  attend(workstationId: number): void {
    this.told.delete(workstationId)
    this.soon()
  }

  soon(): void {
    this.telling.inAMoment()
  }

  /** Tells all who are there, now. */
  tellAll = (): Promise<void> => this.telling.soon()

  close = (): Promise<void> => this.telling.close()

  private async tellThem(): Promise<void> {
    for (const id of this.services.hub.online()) {
      if (this.telling.closed) return
      await this.tell(id).catch((error: unknown) => {
        if (!this.telling.closed) logFault(`The desk of workstation ${id} is told`, error)
      })
    }
  }

  private async tell(workstationId: number): Promise<void> {
    const { data, hub, links, now } = this.services
    const [newest] = await data.query<{ id: number; text: string; state: string }[]>(
      `SELECT reminder.id AS id, text, state FROM reminder WHERE to_kind = 'desk' AND to_id = ? AND date >= ? AND state <> 'failed'
         AND EXISTS (SELECT 1 FROM json_each(reminder.visits) AS one JOIN visit ON visit.id = one.value
           WHERE visit.state = 'planned' AND visit.answer IS NULL AND visit.at > ?)
       ORDER BY reminder.id DESC LIMIT 1`,
      [workstationId, new Date(now() - reachMs).toISOString().slice(0, 10), now()],
    )
    const args = {
      page: `/desk/${await links.desk(workstationId)}`,
      messages: [...(newest ? [{ id: newest.id, text: newest.text }] : []), ...(await this.ofLight(workstationId))],
    }
    const key = JSON.stringify(args)
    if (this.told.get(workstationId) !== key) {
      const done = await hub.send(workstationId, 'host.tellDesk', args).then(
        () => true,
        () => false,
      )
      // One that went away, or was busy, is told at the next look.
      if (!done) return
      this.told.set(workstationId, key)
    }
    if (newest?.state === 'due')
      await patiently(() =>
        atomically(data, (take) =>
          take(
            written(`UPDATE reminder SET state = 'sent', sent_at = ? WHERE id = ? AND state = 'due'`, [
              now(),
              newest.id,
            ]),
          ),
        ),
      )
  }

  /** What a desk is told of its room's light, for as long as it is out of what is wanted. */
  private async ofLight(workstationId: number): Promise<{ id: number; text: string }[]> {
    const { data, now } = this.services
    const told = await lightAtDesk(data, workstationId, now())
    return told?.pushed ? [{ id: told.toldAt, text: told.text }] : []
  }
}
