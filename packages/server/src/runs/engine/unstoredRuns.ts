import type { DataSource } from 'typeorm'
import { storeFault } from '../../data/storeFault'
import { logFault } from '../../data/log'
import { runEntity, type RunRow } from '../entities'

/** Wall time between two tries to store how a run stands, ms. */
const againMs = 500

type Standing = Pick<RunRow, 'state' | 'message'>

/** How runs stand that broke off when the store could not be written: told at once, and stored as soon as it can be. */
export class UnstoredRuns {
  private readonly standings = new Map<number, Standing>()
  private again: NodeJS.Timeout | null = null

  constructor(
    private readonly data: DataSource,
    private readonly changed: (runId: number) => void,
  ) {}

  private get runs() {
    return this.data.getRepository(runEntity)
  }

  asItStands<T extends Standing & Pick<RunRow, 'id'>>(run: T): T {
    const standing = this.standings.get(run.id)
    return standing ? { ...run, ...standing } : run
  }

  /** Takes note of how a run stands, and stores it now or later. */
  async keep(run: RunRow, standing: Standing): Promise<void> {
    Object.assign(run, standing)
    this.standings.set(run.id, standing)
    await this.store()
  }

  /** Changes a run that is taken up again; when that cannot be stored, it stands as it stood, and the fault is thrown. */
  async takeUp(run: RunRow, change: Partial<RunRow> & Standing): Promise<void> {
    const before = this.standings.get(run.id)
    this.standings.delete(run.id)
    try {
      await this.runs.update({ id: run.id }, change as never)
    } catch (error) {
      if (before) this.standings.set(run.id, before)
      throw error
    }
    Object.assign(run, change)
  }

  private async store(): Promise<void> {
    for (const [id, standing] of [...this.standings]) {
      if (this.standings.get(id) !== standing) continue
      try {
        await this.runs.update({ id }, standing)
        if (this.standings.get(id) === standing) this.standings.delete(id)
        this.changed(id)
      } catch (error) {
        if (!storeFault(error)) logFault(`Run ${id} could not be stored`, error)
      }
    }
    if (!this.standings.size || this.again) return
    this.again = setTimeout(() => {
      this.again = null
      this.store().catch((error: unknown) => logFault('Runs could not be stored', error))
    }, againMs)
  }

  close(): void {
    if (this.again) clearTimeout(this.again)
    this.standings.clear()
  }
}
