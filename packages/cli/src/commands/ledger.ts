import { createHash } from 'node:crypto'
import Database from 'better-sqlite3'
import { ChainCheck, type ChainedEntry } from '@bichroma/core/ledger'
import { BadInput, mustExist } from '../io'
import type { Answer } from '../output'

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')

/** Looks through the ledger of a store or a backup. Exit code 3 when an entry was changed, taken out or put in between. */
export function verifyLedger(path: string): Answer {
  mustExist(path)
  const check = new ChainCheck(sha256)
  let given: number | undefined
  let store: Database.Database | null = null
  try {
    store = new Database(path, { readonly: true, fileMustExist: true })
    const rows = store.prepare(
      `SELECT id, at, account_id AS accountId, by, act, thing, thing_id AS thingId, name, told, previous, hash
       FROM ledger ORDER BY id`,
    )
    for (const row of rows.iterate()) check.take(row as ChainedEntry)
    given = store.prepare(`SELECT seq FROM sqlite_sequence WHERE name = 'ledger'`).pluck().get() as number | undefined
  } catch (error) {
    throw new BadInput(`${path}: this is no store of Bichroma with a ledger (${(error as Error).message}).`)
  } finally {
    store?.close()
  }
  const proof = check.end(given)
  return {
    json: proof,
    text: proof.faults.length
      ? [
          `${proof.entries} entries; these do not hold:`,
          { head: ['entry', 'what'], rows: proof.faults.map((f) => [String(f.id), f.what]) },
        ]
      : [`All ${proof.entries} entries follow one another, and none was changed.`, `Head ${proof.head ?? 'none'}`],
    exitCode: proof.faults.length ? 3 : 0,
  }
}
