import Database from 'better-sqlite3'

/** How a disk fails, as SQLite tells it. */
const diskFaults = {
  full: ['SQLITE_FULL', 'database or disk is full'],
  busy: ['SQLITE_BUSY', 'database is locked'],
  io: ['SQLITE_IOERR_WRITE', 'disk I/O error'],
} as const
export type DiskFault = keyof typeof diskFaults

/** A disk that fails when it is told to. */
export class FaultyDisk {
  /** Writes since it was armed. */
  writes = 0
  /** Statements that failed. */
  failed: string[] = []
  /** Told of each write before it is made. */
  before: (sql: string) => void = () => {}
  private plan: { fault: DiskFault; from: number; wants: (sql: string) => boolean } | null = null

  /** Fails with the `from`th write from now on that is wanted, and with each after it, until it is mended. */
  arm(fault: DiskFault, from: number, wants: (sql: string) => boolean = () => true): void {
    this.plan = { fault, from, wants }
    this.writes = 0
    this.failed = []
  }

  mend(): void {
    this.plan = null
  }

  private write(sql: string): void {
    this.before(sql)
    if (this.plan && !this.plan.wants(sql)) return
    this.writes++
    if (!this.plan || this.writes < this.plan.from) return
    this.failed.push(sql)
    const [code, message] = diskFaults[this.plan.fault]
    throw new Database.SqliteError(message, code)
  }

  /** better-sqlite3 on this disk, to be handed to the store. */
  get driver(): unknown {
    const write = (sql: string) => this.write(sql)
    const faulty = (statement: Database.Statement, sql: string): Database.Statement =>
      new Proxy(statement, {
        get: (target, name) => {
          const value: unknown = Reflect.get(target, name, target)
          if (typeof value !== 'function') return value
          return (...args: unknown[]) => {
            // What is undone needs no room; without it nothing could be begun again.
            if (name === 'run' && !target.readonly && !/^\s*ROLLBACK/i.test(sql)) write(sql)
            const result: unknown = (value as (...a: unknown[]) => unknown).apply(target, args)
            return result === target ? faulty(target, sql) : result
          }
        },
      })
    return class extends Database {
      override prepare(sql: string): never {
        return faulty(super.prepare(sql), sql) as never
      }
    }
  }
}
