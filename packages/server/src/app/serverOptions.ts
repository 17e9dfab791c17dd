import type { SessionSpan } from '../access/sessionStore'
import type { Threads } from '../http/threads'
import type { MailOptions } from '../rounds/mailer'
import type { Solver } from '../runs/solver'
import type { BackupPolicy } from '../studio/backups'
import type { TlsFiles } from './tls'

/** How a server is started. */
export interface ServerOptions {
  /** Folder of everything that is kept. */
  readonly dataDir: string
  /** 0 for any free port. */
  readonly port?: number
  readonly host?: string
  /** Folder of the built web application, if it is to be served. */
  readonly webDir?: string
  /** UTC, ms since 1970. */
  readonly now?: () => number
  readonly solver?: Solver
  readonly threads?: Threads
  /** For what takes minutes, so that nobody's report waits for it. */
  readonly slowThreads?: Threads
  /** In place of better-sqlite3, for tests of disks that fail. */
  readonly storeDriver?: unknown
  /** False leaves it to the system when commits reach the disk; true unless given. See StoreOptions. */
  readonly durable?: boolean
  /** How long sessions last. */
  readonly sessions?: SessionSpan
  /** Where backups go and how often; none by themselves unless given. */
  readonly backups?: Partial<BackupPolicy>
  /** Private key and certificate, where the server ends TLS itself. */
  readonly tls?: TlsFiles
  /** What opens /metrics; off unless given. */
  readonly metricsToken?: string
  /** Proxies in front, by address, that are believed about who asks. */
  readonly proxy?: readonly string[]
  /** Where mail is sent and in whose name; none is sent unless given. */
  readonly mail?: MailOptions
  /** Wall time for which a run that starts waits for a courier that has just gone, ms; 10 s unless given. */
  readonly graceMs?: number
  /** Wall time between two looks at what hands do at a display, ms; 700 unless given. */
  readonly gaugeMs?: number
}
