import type { DataSource } from 'typeorm'
import { atomically, written } from '../data/atomically'
import { logFault } from '../data/log'
import { patiently } from '../data/patiently'

/** Wall time that comings and goings are gathered for, ms. */
const gatherMs = 500

/** When couriers were last seen, written together: hundreds may come in one second, and each commit waits for the disk. */
export class SeenTimes {
  private seen = new Map<number, number>()
  private timer: NodeJS.Timeout | null = null

  constructor(private readonly data: DataSource) {}

  /** A workstation's courier came, or went. */
  note(workstationId: number, at: number): void {
    this.seen.set(workstationId, at)
    this.timer ??= setTimeout(() => {
      this.timer = null
      void this.write()
    }, gatherMs).unref()
  }

  /** Writes what was gathered; what cannot be written is left out, for it is told anew with the next coming. */
  async write(): Promise<void> {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    const seen = [...this.seen]
    this.seen = new Map()
    if (!seen.length) return
    await patiently(() =>
      atomically(this.data, (take) => {
        for (const [id, at] of seen) take(written('UPDATE workstation SET courier_seen_at = ? WHERE id = ?', [at, id]))
      }),
    ).catch((error: unknown) => logFault('When couriers were seen was written', error))
  }
}
