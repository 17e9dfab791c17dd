import { chmodSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import type { Backup, Backups } from '@bichroma/contract'
import { logFault } from '../data/log'
import { storeFault } from '../data/storeFault'
import type { Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import type { Ledger, Who } from '../ledger/ledger'
import { proveBackup } from './proveBackup'

/** Where backups go, how often (hours; 0 for never), and how many are kept. */
export interface BackupPolicy {
  readonly folder: string
  readonly everyHours: number
  readonly keep: number
}

/** What a backup's file is called: by the instant (UTC) that it is of. */
const nameAt = (at: number) => `bichroma-${new Date(at).toISOString().slice(0, 19).replaceAll(':', '')}.sqlite`
const isBackup = (name: string) => /^bichroma-\d{4}-\d{2}-\d{2}T\d{6}\.sqlite$/.test(name)

/** How often it is looked whether a backup is due, ms. */
const lookMs = 300_000
/** And after the start, once couriers have had their moment, ms. */
const firstLookMs = 1000
const hour = 3_600_000

/** Copies of the store, made while it is used; one counts only once it was opened and looked through. */
export class BackupKeeper {
  private making: Promise<Backup> | null = null
  private fault: string | null = null
  private readonly timers: readonly NodeJS.Timeout[]

  constructor(
    private readonly data: DataSource,
    private readonly threads: Threads,
    private readonly ledger: Ledger,
    private readonly now: () => number,
    private readonly policy: BackupPolicy,
  ) {
    const look = () => this.makeIfDue()
    this.timers =
      policy.everyHours > 0 ? [setTimeout(look, firstLookMs).unref(), setInterval(look, lookMs).unref()] : []
  }

  /** What lies in the folder, newest first. */
  list(): Backup[] {
    const { folder } = this.policy
    if (!existsSync(folder)) return []
    return readdirSync(folder)
      .filter(isBackup)
      .sort()
      .reverse()
      .map((name) => {
        const { size, mtimeMs } = statSync(join(folder, name))
        return { name, bytes: size, madeAt: Math.round(mtimeMs) }
      })
  }

  state(): Backups {
    const { folder, everyHours, keep } = this.policy
    return { folder, everyHours, keep, backups: this.list(), fault: this.fault }
  }

  private makeIfDue(): void {
    const newest = this.list().at(0)
    if (newest && newest.madeAt + this.policy.everyHours * hour > Date.now()) return
    this.make('Bichroma').catch((error: unknown) => logFault('A backup', error))
  }

  /** Makes one; a second asked for meanwhile is the same. Throws Refusal when it came to nothing. */
  make(who: Who): Promise<Backup> {
    this.making ??= this.makeOne(who).finally(() => (this.making = null))
    return this.making
  }

  private async makeOne(who: Who): Promise<Backup> {
    const { folder, keep } = this.policy
    const name = nameAt(this.now())
    const part = join(folder, `${name}.part`)
    try {
      mkdirSync(folder, { recursive: true, mode: 0o700 })
      const { databaseConnection: store } = this.data.driver as unknown as { databaseConnection: Database.Database }
      await store.backup(part)
      // One file that is all of it, without a log beside it.
      const copy = new Database(part)
      copy.pragma('journal_mode = DELETE')
      copy.close()
      chmodSync(part, 0o600)
      const { faults, ...evidence } = await this.threads.run(proveBackup, part)
      if (faults.length) throw new Refusal('unavailable', `The backup does not hold and was thrown away. ${faults[0]}`)
      renameSync(part, join(folder, name))
      const { size, mtimeMs } = statSync(join(folder, name))
      this.ledger.note(who, {
        act: 'made',
        thing: 'backup',
        id: null,
        name,
        evidence: { bytes: size, ...evidence },
      })
      for (const old of this.list().slice(keep)) rmSync(join(folder, old.name), { force: true })
      this.fault = null
      return { name, bytes: size, madeAt: Math.round(mtimeMs) }
    } catch (error) {
      for (const left of [part, `${part}-journal`])
        try {
          rmSync(left, { force: true })
        } catch {
          // Its folder is none; then nothing was left in it.
        }
      const why =
        error instanceof Refusal
          ? error.sentence
          : `No backup could be made in ${folder}: ${storeFault(error)?.sentence ?? `${(error as Error).message}.`}`
      this.fault = why
      throw new Refusal('unavailable', why)
    }
  }

  /** Lets a backup that is being made come to its end. */
  async close(): Promise<void> {
    for (const timer of this.timers) clearTimeout(timer)
    await this.making?.catch(() => null)
  }
}

export function backupRoutes(api: Api, backups: BackupKeeper): void {
  api.on('GET /backups', () => backups.state())
  api.on('POST /backups', async (request, response) => {
    const made = await backups.make(request.account)
    response.status(201)
    return made
  })
}
