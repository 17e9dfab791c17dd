import { createHash } from 'node:crypto'
import type Database from 'better-sqlite3'
import type { DataSource } from 'typeorm'
import { ChainCheck, type ChainedEntry, chainStart, entryHash } from '@bichroma/core/ledger'
import type { LedgerAct, LedgerChange, LedgerEntry, LedgerProof, LedgerThing } from '@bichroma/contract'
import { atomically, written, type Statement, type Take } from '../data/atomically'

/** Who did it: an account, or what Bichroma itself is called where nobody asked for it. */
export type Who = { readonly id: number; readonly name: string } | 'Bichroma'

/** What is to be told of a change. */
export interface Telling {
  readonly act: LedgerAct
  readonly thing: LedgerThing
  readonly id: number | null
  readonly name: string
  readonly changes?: readonly LedgerChange[]
  readonly why?: string
  readonly evidence?: Readonly<Record<string, string | number | null>>
}

type Row = ChainedEntry & Pick<LedgerEntry, 'act' | 'thing'>

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')

const columns = `id, at, account_id AS accountId, by, act, thing, thing_id AS thingId, name, told, previous, hash`

/** An entry as it is told. */
export function entryOf({ told, previous: _previous, ...row }: Row): LedgerEntry {
  const { changes = [], why = null, evidence = {} } = JSON.parse(told) as Partial<LedgerEntry>
  return { ...row, changes, why, evidence }
}

/** Entries that are looked through at a time, so that others are answered in between. */
const proofBlock = 2000

/** Who did what: each entry is written with the change that it tells of, or neither is. */
export class Ledger {
  constructor(
    private readonly data: DataSource,
    private readonly now: () => number,
  ) {}

  private get store() {
    return (this.data.driver as unknown as { databaseConnection: Database.Database }).databaseConnection
  }

  /** The statement that adds an entry; it has to be taken in the change's own transaction. */
  entry(who: Who, { act, thing, id, name, ...rest }: Telling): Statement {
    const told = JSON.stringify({
      ...(rest.changes?.length && { changes: rest.changes }),
      ...(rest.why && { why: rest.why }),
      ...(rest.evidence && { evidence: rest.evidence }),
    })
    const contents = {
      at: this.now(),
      accountId: who === 'Bichroma' ? null : who.id,
      by: who === 'Bichroma' ? who : who.name,
      act,
      thing,
      thingId: id,
      name,
      told,
    }
    const last = this.store.prepare('SELECT hash FROM ledger ORDER BY id DESC LIMIT 1').pluck().get()
    const entry = { ...contents, previous: (last as string | undefined) ?? chainStart }
    const { at, accountId, by, thingId, previous } = entry
    return written(
      `INSERT INTO ledger (at, account_id, by, act, thing, thing_id, name, told, previous, hash) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [at, accountId, by, act, thing, thingId, name, told, previous, entryHash(sha256, entry)],
    )
  }

  /** Carries out a change and its entry as one. `tell` says what became of what `work` gave. */
  change<T>(who: Who, work: (take: Take) => T, tell: (result: T) => Telling): T {
    return atomically(this.data, (take) => {
      const result = work(take)
      take(this.entry(who, tell(result)))
      return result
    })
  }

  /** Writes down what changes nothing else in the store: who signed in, what was asked of a run. */
  note(who: Who, telling: Telling): void {
    this.change(
      who,
      () => null,
      () => telling,
    )
  }

  /** Looks through all of it for entries that were changed, taken out, or put in between. */
  async prove(): Promise<LedgerProof> {
    return proveLedger(this.store)
  }
}

/** See {@link Ledger.prove}; on a store of its own. */
export async function proveLedger(store: Database.Database): Promise<LedgerProof> {
  const check = new ChainCheck(sha256)
  const block = store.prepare(`SELECT ${columns} FROM ledger WHERE id > ? ORDER BY id LIMIT ${proofBlock}`)
  for (let last = 0; ;) {
    const rows = block.all(last) as Row[]
    for (const row of rows) check.take(row)
    if (rows.length < proofBlock) break
    last = rows[rows.length - 1].id
    await new Promise((resolve) => setImmediate(resolve))
  }
  // The store's own count of numbers given out: it tells of entries that were cut off at the end.
  const given = store.prepare(`SELECT seq FROM sqlite_sequence WHERE name = 'ledger'`).pluck().get()
  return check.end(given as number | undefined)
}

/** Fields that differ between two states of a thing, by name; those of either that the other lacks too. */
export function changesBetween(
  from: Readonly<Record<string, unknown>>,
  to: Readonly<Record<string, unknown>>,
): LedgerChange[] {
  return Object.keys(to)
    .filter((field) => to[field] !== undefined && JSON.stringify(from[field] ?? null) !== JSON.stringify(to[field]))
    .map((field) => ({
      field,
      ...(from[field] !== null && from[field] !== undefined && { from: from[field] }),
      ...(to[field] !== null && { to: to[field] }),
    }))
}

export { columns as ledgerColumns }
export type { Row as LedgerRow }
