import { copyFileSync, existsSync, mkdirSync, renameSync, rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import Database from 'better-sqlite3'
import { ownFolder } from '../data/folderLock'
import { inspectStore } from '../data/inspectStore'
import { StoreRefusal } from '../data/storeFault'
import { proveBackup } from '../studio/proveBackup'
import { readCommandLine } from './commandLine'
import { migrationNames } from './store'

const usage = 'Say which backup: npm run -s restore -- FILE --data DIR'

/**
 * Puts a backup in the place of a folder's store: `restore FILE --data DIR`. The backup is looked through first; a store
 * that is there is kept beside it. No server may be on the folder.
 */
async function main() {
  const {
    data,
    words: [file],
  } = readCommandLine(usage, 1)
  if (!file) throw new StoreRefusal(usage)
  if (!existsSync(file)) throw new StoreRefusal(`There is no file ${resolve(file)}.`)
  const proof = await proveBackup(file)
  if (proof.faults.length)
    throw new StoreRefusal(`${resolve(file)} cannot be restored. Nothing was changed. ${proof.faults.join(' ')}`)
  mkdirSync(data, { recursive: true, mode: 0o700 })
  const lock = ownFolder(data, Date.now)
  try {
    const place = join(resolve(data), 'bichroma.sqlite')
    const fresh = `${place}.restored`
    try {
      copyFileSync(file, fresh)
      inspectStore(fresh, migrationNames)
    } catch (error) {
      rmSync(fresh, { force: true })
      throw error
    }
    let kept = ''
    if (existsSync(place)) {
      kept = `${place}.before-${new Date().toISOString().slice(0, 19).replaceAll(':', '')}`
      putLogIn(place)
      for (const ending of ['', '-wal', '-shm'])
        if (existsSync(`${place}${ending}`)) renameSync(`${place}${ending}`, `${kept}${ending}`)
    }
    // No log of another store may stand beside it.
    for (const beside of [fresh, place])
      for (const ending of ['-wal', '-shm']) rmSync(`${beside}${ending}`, { force: true })
    renameSync(fresh, place)
    process.stdout.write(
      `Restored: ${proof.displays} displays, ${proof.runs} runs with ${proof.readings} readings, ${proof.contents} profiles, tables and reports, ${proof.entries} entries of the ledger.\n${kept ? `The store that was there is kept as ${kept}.\n` : ''}`,
    )
  } finally {
    lock.release()
  }
}

/** Puts what was written last into a store's own file, so that it is whole wherever it is moved; one that is damaged stays as it is. */
function putLogIn(place: string): void {
  try {
    const store = new Database(place)
    store.pragma('wal_checkpoint(TRUNCATE)')
    store.close()
  } catch {
    // It is kept with its log beside it.
  }
}

main().catch((error: Error) => {
  console.error(error instanceof StoreRefusal ? error.sentence : (error.stack ?? error.message))
  process.exit(1)
})
