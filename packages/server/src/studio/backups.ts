import { existsSync, mkdirSync, readdirSync, renameSync, statSync } from 'node:fs'
import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import type { DataSource } from 'typeorm'
import type { Backup, Backups } from '@bichroma/contract'
import { logFault } from '../data/log'
import { storeFault } from '../data/storeFault'
import type { Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Threads } from '../http/threads'
import type { Ledger, Who } from '../ledger/ledger'
import { makeBackup } from './makeBackup'

/** Where backups go, how often (hours; 0 for never), and how many are kept. */
export interface BackupPolicy {
  readonly folder: string
  readonly everyHours: number
  readonly keep: number
}

const hour = 3_600_000

/** What a backup's file is called: by the instant (UTC) that it is of. */
const nameAt = (at: number) => `bichroma-${new Date(at).toISOString().slice(0, 19).replaceAll(':', '')}.sqlite`
const isBackup = (name: string) => /^bichroma-\d{4}-\d{2}-\d{2}T\d{6}\.sqlite$/.test(name)
/** Whether a file is what a server left that was killed in the middle of one, long ago. */
const isLeft = (folder: string, name: string) =>
  /^bichroma-\d{4}-\d{2}-\d{2}T\d{6}\.sqlite\.part(-journal)?$/.test(name) &&
  (statSync(join(folder, name), { throwIfNoEntry: false })?.mtimeMs ?? Infinity) < Date.now() - 24 * hour

/** How often it is looked whether a backup is due, ms. */
const lookMs = 300_000
/** And after the start, once couriers have had their moment, ms. */
const firstLookMs = 1000

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
      for (const left of readdirSync(folder).filter((other) => isLeft(folder, other)))
        await rm(join(folder, left), { force: true })
      const from = this.data.options.database as string
      const made = await this.threads.run(makeBackup, { from, to: part })
      if ('failed' in made) throw new Refusal('unavailable', `No backup could be made in ${folder}: ${made.failed}`)
      const { faults, ...evidence } = made
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
      // Large files take the system its time, and nobody waits for that.
      for (const old of this.list().slice(keep)) await rm(join(folder, old.name), { force: true })
      this.fault = null
      return { name, bytes: size, madeAt: Math.round(mtimeMs) }
    } catch (error) {
      // Where its folder is none, nothing was left in it.
      for (const left of [part, `${part}-journal`]) await rm(left, { force: true }).catch(() => {})
      const why =
        error instanceof Refusal
          ? error.sentence
          : `No backup could be made in ${folder}: ${storeFault(error)?.sentence ?? `${(error as Error).message}.`}`
      this.fault = why
      throw new Refusal('unavailable', why)
    }
  }

  /** Makes none by itself any more, and waits for one that is being made. */
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
