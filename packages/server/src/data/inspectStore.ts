import { existsSync, statSync } from 'node:fs'
import Database from 'better-sqlite3'
import { StoreRefusal, storeFault } from './storeFault'

/** Stores of up to this size are read through before they are used; larger ones would take too long at every start. */
const readThroughBytes = 256 * 2 ** 20

/**
 * Looks at a store's file before anything is changed in it. Throws {@link StoreRefusal} for one that is damaged, that may
 * not be written, or that a newer version has used. `known`: names of the migrations of this version; gives those that it
 * lacks yet, none for a store that is to be made.
 */
export function inspectStore(file: string, known: readonly string[]): readonly string[] {
  if (!existsSync(file)) return []
  let store: Database.Database | null = null
  try {
    store = new Database(file, { fileMustExist: true, timeout: 1000 })
    const tables = store.prepare(`SELECT name FROM sqlite_master WHERE type = 'table'`).pluck().all()
    if (statSync(file).size <= readThroughBytes) {
      const found = store.pragma('quick_check(1)', { simple: true })
      if (found !== 'ok') throw new StoreRefusal(damaged(file, String(found)))
    }
    const used = tables.includes('migrations')
      ? (store.prepare('SELECT name FROM migrations').pluck().all() as string[])
      : []
    const newer = used.filter((name) => !known.includes(name))
    if (newer.length)
      throw new StoreRefusal(
        `The store ${file} was last used by a newer version of Bichroma (it holds ${newer.join(', ')}). Start that version, or put a copy back that this one made.`,
      )
    // A folder that may not be written shows only when a write begins; nothing is changed by beginning.
    store.exec('BEGIN IMMEDIATE; ROLLBACK')
    return used.length ? known.filter((name) => !used.includes(name)) : []
  } catch (error) {
    if (error instanceof StoreRefusal) throw error
    const fault = storeFault(error)
    if (fault?.kind === 'damaged') throw new StoreRefusal(damaged(file, (error as Error).message))
    if (fault) throw new StoreRefusal(`The store ${file} cannot be used: ${fault.sentence}`)
    throw error
  } finally {
    store?.close()
  }
}

const damaged = (file: string, why: string) =>
  `The store ${file} is damaged (${why}). Nothing was changed in it. Put a copy of it back; docs/robustness.md says how.`
