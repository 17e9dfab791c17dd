import Database from 'better-sqlite3'
import type { BackupProof } from '@bichroma/contract'
import { nodeHash } from '../data/nodeHash'
import { proveLedger } from '../ledger/ledger'

/**
 * Looks a copy of the store through: that it is whole, that each of its contents is what its hash says, and that no entry
 * of its ledger was changed. Takes seconds for a large one, so it is done in a thread. The file is only read.
 */
export async function proveBackup(file: string): Promise<BackupProof> {
  const faults: string[] = []
  const none = { displays: 0, runs: 0, readings: 0, contents: 0, entries: 0 }
  let store: Database.Database
  try {
    store = new Database(file, { readonly: true, fileMustExist: true })
  } catch (error) {
    return { ...none, faults: [`It cannot be opened: ${(error as Error).message}.`] }
  }
  try {
    const found = store.pragma('integrity_check(3)') as { integrity_check: string }[]
    if (found[0]?.integrity_check !== 'ok')
      faults.push(`It is damaged: ${found.map((f) => f.integrity_check).join('; ')}.`)
    const count = (table: string) => store.prepare(`SELECT COUNT(*) FROM ${table}`).pluck().get() as number
    let contents = 0
    for (const row of store.prepare('SELECT hash, bytes FROM content').iterate()) {
      const { hash, bytes } = row as { hash: string; bytes: Buffer }
      contents++
      if (nodeHash(bytes) !== hash) faults.push(`The content ${hash.slice(0, 12)}… is not what its hash says.`)
    }
    const ledger = await proveLedger(store)
    for (const { id, what } of ledger.faults) faults.push(`Entry ${id} of the ledger: ${what}.`)
    return {
      displays: count('display'),
      runs: count('run'),
      readings: count('reading'),
      contents,
      entries: ledger.entries,
      faults: faults.slice(0, 20),
    }
  } catch (error) {
    return { ...none, faults: [...faults, `It is no store of Bichroma: ${(error as Error).message}.`] }
  } finally {
    store.close()
  }
}
