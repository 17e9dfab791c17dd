import { chmodSync } from 'node:fs'
import Database from 'better-sqlite3'
import type { BackupProof } from '@bichroma/contract'
import { storeFault } from '../data/storeFault'
import { proveBackup } from './proveBackup'

/** Pages that are copied at a time, some megabytes: it can be broken off in between. */
const pagesAtOnce = 2000

/**
 * Copies a store that is in use into one file, as it stands at one instant, and looks the copy through. It reads by a
 * connection of its own, in a thread: what is written meanwhile waits neither for the copy nor until the disk has it.
 */
export async function makeBackup({
  from,
  to,
}: {
  readonly from: string
  readonly to: string
}): Promise<BackupProof | { readonly failed: string }> {
  try {
    const store = new Database(from, { readonly: true, fileMustExist: true })
    try {
      // One instant is held on to: without it the copy would begin anew with every write of the server's.
      store.exec('BEGIN')
      store.pragma('schema_version')
      await store.backup(to, { progress: () => pagesAtOnce })
    } finally {
      store.close()
    }
    // One file that is all of it, without a log beside it.
    const copy = new Database(to)
    copy.pragma('journal_mode = DELETE')
    copy.close()
    chmodSync(to, 0o600)
  } catch (error) {
    return { failed: storeFault(error)?.sentence ?? `${(error as Error).message}.` }
  }
  return proveBackup(to)
}
