import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { DataSource } from 'typeorm'
import { openStore } from '../app/store'

/** A new store for one test, in which things stand without what they refer to. */
export class LooseStore {
  private constructor(
    private readonly folder: string,
    readonly data: DataSource,
  ) {}

  static async open(): Promise<LooseStore> {
    const folder = mkdtempSync(join(tmpdir(), 'bichroma-loose-'))
    const data = await openStore(folder, { durable: false })
    await data.query('PRAGMA foreign_keys = OFF')
    return new LooseStore(folder, data)
  }

  /** Adds “Reed” and its number, at a workstation. */
  async display(id: number, workstation: number, { model = 'Q27', kept = 'in use' } = {}): Promise<void> {
    await this.data.query(
      `INSERT INTO display (id, name, maker, model, serial, firmware, panel_kind, workstation_id, limits_id, check_every_days, slots, active_slot, kept)
       VALUES (?, ?, 'Quillon', ?, ?, '1', 'white-led', ?, 1, 28, 3, 1, ?)`,
      [id, `Reed ${id}`, model, `R-${id}`, workstation, kept],
    )
  }

  async close(): Promise<void> {
    await this.data.destroy()
    rmSync(this.folder, { recursive: true, force: true })
  }
}
