import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { hostname } from 'node:os'
import { join, resolve } from 'node:path'
import Database from 'better-sqlite3'
import { StoreRefusal, storeFault } from './storeFault'

/** Who owns a data folder. */
interface Owner {
  readonly process: number
  readonly host: string
  /** Its address, once it listens. */
  readonly url: string | null
  readonly since: string
}

/** The hold of a server on its data folder. */
export interface FolderLock {
  /** Says where the owner listens, for whoever comes second. */
  tell(url: string): void
  release(): void
}

const ownerWords = (owner: Owner | null) =>
  owner
    ? `process ${owner.process} on ${owner.host}${owner.url ? `, at ${owner.url}` : ''}, since ${owner.since.slice(0, 16).replace('T', ' ')} UTC`
    : 'it has not said which'

function ownerOf(path: string): Owner | null {
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as Owner
  } catch {
    return null
  }
}

/**
 * Takes a data folder (made when absent) for this server alone. The lock is the system's, on a file that SQLite locks for
 * us: it goes with the process, however that ends. Throws {@link StoreRefusal} that names who has the folder, or what is
 * wrong with it.
 */
export function ownFolder(folder: string, now: () => number): FolderLock {
  const place = resolve(folder)
  const told = join(place, 'owner.json')
  let lock: Database.Database | null = null
  try {
    mkdirSync(place, { recursive: true, mode: 0o700 })
    lock = new Database(join(place, 'owner.lock'), { timeout: 0 })
    lock.exec('BEGIN EXCLUSIVE')
  } catch (error) {
    lock?.close()
    const fault = storeFault(error)
    if (fault?.kind === 'busy')
      throw new StoreRefusal(
        `The folder ${place} belongs to another Bichroma that is running (${ownerWords(ownerOf(told))}). Stop that one first, or choose another folder with --data.`,
      )
    throw new StoreRefusal(
      `The folder ${place} cannot be used: ${fault?.sentence ?? (error as Error).message} See that this account may write into it.`,
    )
  }
  const held = lock
  const tell = (url: string | null) => {
    const owner: Owner = {
      process: process.pid,
      host: hostname(),
      url,
      since: new Date(now()).toISOString(),
    }
    try {
      writeFileSync(`${told}.new`, JSON.stringify(owner))
      renameSync(`${told}.new`, told)
    } catch {
      // A full disk: the lock holds all the same, and only the sentence to a second server is shorter.
    }
  }
  tell(null)
  return { tell, release: () => held.close() }
}
