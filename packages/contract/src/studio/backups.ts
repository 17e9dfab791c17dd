/** What a backup holds, counted when it was looked through. */
export interface BackupProof {
  readonly displays: number
  readonly runs: number
  readonly readings: number
  /** Tables, profiles and reports, each found to be what its hash says. */
  readonly contents: number
  readonly entries: number
  /** Why it is none; empty for one that counts. */
  readonly faults: readonly string[]
}

/** One backup in its folder. */
export interface Backup {
  readonly name: string
  readonly bytes: number
  /** ms since 1970. */
  readonly madeAt: number
}

/** How the studio's backups stand. */
export interface Backups {
  readonly folder: string
  /** Hours between two; 0 for none. */
  readonly everyHours: number
  readonly keep: number
  /** Newest first. */
  readonly backups: readonly Backup[]
  /** Why the last try came to nothing; null when it came to something. */
  readonly fault: string | null
}
